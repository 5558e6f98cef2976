// A package, or our own pure functions, that is loaded once for a worker; what ships only as ES modules is made into what Jest loads.
import swc from '@swc/jest';
import { onceForWorker } from '../../scripts/load-once.mjs';

/**
 * What a package would ask for only when it is first used it asks for at once: the test file that loaded it may be over by then, and what
 * it asks for with it.
 */
const atOnce = (file) =>
  file.endsWith('/iconv-lite/lib/index.js')
    ? `
module.exports.getCodec('utf8');
for (const [name, { type }] of Object.entries(module.exports.encodings)) if (type === '_dbcs') module.exports.getCodec(name);`
    : '';

export default {
  createTransformer({ esm, ...options }) {
    const compiler = swc.createTransformer(options);
    const isCompiled = new RegExp(`\\.ts$|/node_modules/(${esm})/`);
    return {
      process(source, file, about) {
        const code = isCompiled.test(file) ? compiler.process(source, file, about).code : source;
        return { code: onceForWorker(`${code}${atOnce(file)}`, file) };
      },
      getCacheKey: (source, file, about) => `4${compiler.getCacheKey(source, file, about)}`,
    };
  },
};
