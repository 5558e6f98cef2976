// Packages and our sources are the same in every test file: a worker loads each once, into the page beside this.
import { transformSync } from 'esbuild';
import presets from 'jest-preset-angular';
import { onceForWorker, sourceOnce } from '../../scripts/load-once.mjs';

/** What ships as ES modules, as Jest loads it; nothing in it needs an older language. */
const loadable = (source) =>
  transformSync(source, { format: 'cjs', target: 'es2022', supported: { 'dynamic-import': false } }).code;

export default {
  createTransformer(options) {
    const compiler = presets.default.createTransformer(options);
    const codeOf = (source, file, about) => {
      if (file.endsWith('.ts')) return sourceOnce(compiler.process(source, file, about).code, source);
      return /\.mjs$|\/(uuid|tinykeys)\//.test(file) ? loadable(source) : source;
    };
    return {
      process: (source, file, about) => ({ code: onceForWorker(codeOf(source, file, about), file) }),
      getCacheKey: (source, file, about) => `3${compiler.getCacheKey(source, file, about)}`,
    };
  },
};
