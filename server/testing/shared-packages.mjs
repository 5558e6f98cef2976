// Packages are the same in every test file: a worker loads each once, by the environment beside this, and not anew for each file.
import { createHash } from 'node:crypto';

export default {
  // What starts the database has no environment yet, and takes the package as it is.
  process: (source, file) => ({
    code: `if (typeof sharedPackage === 'function') module.exports = sharedPackage(${JSON.stringify(file)});
else (function () {${source}
}).call(exports);`,
  }),
  getCacheKey: (source, file) =>
    createHash('sha256').update(`shared\0${file}\0`).update(source).digest('hex'),
};
