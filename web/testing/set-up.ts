import '@angular/localize/init';
import { getTestBed, TestBed } from '@angular/core/testing';
import { setupZonelessTestEnv } from 'jest-preset-angular/setup-env/zoneless';
import { checkFakes } from './fakes';

// The framework is loaded once for a worker: what it sets up as it is loaded is set up here for each file.
getTestBed().resetTestEnvironment();
setupZonelessTestEnv();
beforeEach(() => TestBed.resetTestingModule());
afterEach(() => {
  TestBed.resetTestingModule();
  // The sources are those of the next file too.
  jest.restoreAllMocks();
});

// The browser of the tests lacks what every real one has.
globalThis.structuredClone ??= (value: unknown) => JSON.parse(JSON.stringify(value)) as never;
Element.prototype.scrollTo ??= () => undefined;
globalThis.ResizeObserver ??= class {
  observe = () => undefined;
  unobserve = () => undefined;
  disconnect = () => undefined;
};
checkFakes();
