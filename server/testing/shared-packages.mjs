// A package, or our own pure functions, that is loaded once for a worker; what ships only as ES modules is made into what Jest loads.
import swc from '@swc/jest';
import { onceForWorker } from '../../scripts/load-once.mjs';

export default {
  createTransformer({ esm, ...options }) {
    const compiler = swc.createTransformer(options);
    const isCompiled = new RegExp(`\\.ts$|/node_modules/(${esm})/`);
    return {
      process(source, file, about) {
        const code = isCompiled.test(file) ? compiler.process(source, file, about).code : source;
        return { code: onceForWorker(code, file) };
      },
      getCacheKey: (source, file, about) => `2${compiler.getCacheKey(source, file, about)}`,
    };
  },
};
