import { setupZonelessTestEnv } from 'jest-preset-angular/setup-env/zoneless';
import { checkFakes } from './fakes';

setupZonelessTestEnv();

// The browser of the tests lacks what every real one has.
globalThis.structuredClone ??= (value: unknown) => JSON.parse(JSON.stringify(value)) as never;
Element.prototype.scrollTo ??= () => undefined;
globalThis.ResizeObserver ??= class {
  observe = () => undefined;
  unobserve = () => undefined;
  disconnect = () => undefined;
};
checkFakes();
