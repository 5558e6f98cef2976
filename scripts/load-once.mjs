// Test files of one worker share one page or one context; packages and our sources are the same in all of them: each is loaded once for a worker.

/**
 * The code of a package or of a source, run for the first test file that asks for it; the others are
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

/**
 * The code of a source of ours, to be loaded once. Whatever it asks for it is given once, and what it would ask for later it asks for at
 * once: the loader it has is that of the test file that came first, which may be over by then.
 * @param {string} code CommonJS, as the transformer left it
 * @param {string} text the source as it was written
 */
export function sourceOnce(code, text) {
  const later = [...text.matchAll(/\bimport\(\s*'([^']+)'\s*\)/g)].map(([, name]) => `require('${name}');`);
  return `const given = new Map();
const give = (name) => given.has(name) ? given.get(name) : given.set(name, require(name)).get(name);
((require) => {'use strict'; ${code}
${later.join('\n')}
})(give);`;
}
