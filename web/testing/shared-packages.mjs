// Packages are the same in every test file: a worker loads each once, into the page beside this, and not anew for each file.
import presets from 'jest-preset-angular';
import { onceForWorker } from '../../scripts/load-once.mjs';

export default {
  createTransformer(options) {
    const compiler = presets.default.createTransformer(options);
    return {
      process(source, file, about) {
        const { code } = /\.(mjs|ts)$|\/(uuid|tinykeys)\//.test(file)
          ? compiler.process(source, file, about)
          : { code: source };
        return { code: onceForWorker(code, file) };
      },
      getCacheKey: (source, file, about) => `1${compiler.getCacheKey(source, file, about)}`,
    };
  },
};
