// A package, or a source of ours, that is loaded once for a worker; what ships only as ES modules is made into what Jest loads.
import swc from '@swc/jest';
import { onceForWorker, sourceOnce } from '../../scripts/load-once.mjs';

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
      process(text, file, about) {
        const compiled = isCompiled.test(file) ? compiler.process(text, file, about).code : text;
        const code = file.endsWith('.ts') ? sourceOnce(compiled, text) : `${compiled}${atOnce(file)}`;
        return { code: onceForWorker(code, file) };
      },
      getCacheKey: (text, file, about) => `6${compiler.getCacheKey(text, file, about)}`,
    };
  },
};
