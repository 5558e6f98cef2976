// The environment of the server's tests: Node.js, one context for a worker, so that packages can be loaded once (beside this).
import { LegacyFakeTimers, ModernFakeTimers } from '@jest/fake-timers';
import { TestEnvironment } from 'jest-environment-node';
import { ModuleMocker } from 'jest-mock';

/** What every file of this worker is given: made for the first. */
let shared;

export default class extends TestEnvironment {
  constructor(config, context) {
    super(config, context);
    shared ??= { context: this.context, global: this.global };
    if (this.global === shared.global) return;
    Object.assign(this, shared);
    const global = this.global;
    const { projectConfig } = config;
    const timerConfig = { idToRef: (id) => id, refToId: (ref) => ref };
    this.moduleMocker = new ModuleMocker(global);
    this.fakeTimers = new LegacyFakeTimers({
      config: projectConfig,
      global,
      moduleMocker: this.moduleMocker,
      timerConfig,
    });
    this.fakeTimersModern = new ModernFakeTimers({ config: projectConfig, global });
  }

  /** The context is left as it is: the next file has it. */
  async teardown() {
    this.fakeTimers.dispose();
    this.fakeTimersModern.dispose();
  }
}
