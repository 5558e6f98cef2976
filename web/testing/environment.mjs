// The environment of the interface's tests: one page for a worker, emptied after each file, so that packages can be loaded once (beside this).
import BaseEnvironment from '@jest/environment-jsdom-abstract';
import * as jsdom from 'jsdom';

/** The page that every file of this worker is given. */
let page;

const addListener = 'addEventListener';
const removeListener = 'removeEventListener';

/** What the test runner hangs on the page for every file, and would hang there for good. */
const runnersOwn = [
  ...['promise', 'now', 'read-file', 'write-file', 'exists-file'].map((name) =>
    Symbol.for(`jest-native-${name}`),
  ),
  'jest-symbol-do-not-touch',
];

/** The page of the worker, made for the first file; the environment takes what is returned as its own. */
function OnePage(...words) {
  if (page === undefined) {
    page = new jsdom.JSDOM(...words);
    const { window } = page;
    const own = { add: window[addListener], remove: window[removeListener] };
    for (const name of runnersOwn) Object.defineProperty(window, name, { configurable: true, value: null });
    const stopTimers = timersOf(window);
    window.close = () => {
      stopTimers();
      emptied(window);
      // The environment wraps both for each file.
      window[addListener] = own.add;
      window[removeListener] = own.remove;
    };
  }
  return page;
}

/** Stops what a file left running: handles are counted up. */
function timersOf(window) {
  const { setTimeout, clearTimeout, requestAnimationFrame, cancelAnimationFrame } = window;
  const stopped = { timer: 0, frame: 0 };
  return () => {
    const timer = setTimeout(() => undefined);
    while (stopped.timer < timer) clearTimeout(++stopped.timer);
    const frame = requestAnimationFrame(() => undefined);
    while (stopped.frame < frame) cancelAnimationFrame(++stopped.frame);
  };
}

/** As the page was before the first file: nothing in it, nothing kept, at its first address. */
function emptied(window) {
  const { document } = window;
  for (const element of [document.documentElement, document.head, document.body]) {
    for (const { name } of [...element.attributes]) element.removeAttribute(name);
  }
  document.head.replaceChildren();
  document.body.replaceChildren();
  window.localStorage.clear();
  window.sessionStorage.clear();
  window.history.replaceState(null, '', 'http://localhost/');
}

export default class extends BaseEnvironment {
  constructor(config, context) {
    super(config, context, { ...jsdom, JSDOM: OnePage });
  }
}
