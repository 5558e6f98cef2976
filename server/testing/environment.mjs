// The environment of the server's tests: Node.js, with packages that are loaded once for a worker.
import { createRequire } from 'node:module';
import { TestEnvironment } from 'jest-environment-node';

const require = createRequire(import.meta.url);

export default class extends TestEnvironment {
  async setup() {
    await super.setup();
    this.global.sharedPackage = (file) => require(file);
  }
}
