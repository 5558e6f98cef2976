// Test files of one worker share one page or one context, and packages are the same in all of them: each is loaded once for a worker.

/**
 * The code of a package or of a folder of pure functions, run for the first test file that asks for it; the others are
 * given what it gave.
 * @param {string} code CommonJS, as the transformer left it
 * @param {string} file its path
 */
export const onceForWorker = (
  code,
  file,
) => `const packages = (globalThis.packagesOfTests ??= new Map()), known = packages.get(${JSON.stringify(file)});
if (known !== undefined) module.exports = known;
else { (function () {${code}
}).call(exports); packages.set(${JSON.stringify(file)}, module.exports); }`;
