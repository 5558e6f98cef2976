import { TestBed } from '@angular/core/testing';
import { provideHttpClient } from '@angular/common/http';
import { provideHttpClientTesting } from '@angular/common/http/testing';
import { provideRouter } from '@angular/router';
import { Component, inject, input, output, provideZonelessChangeDetection } from '@angular/core';
import { ChangeStream } from './change-stream';

/** The stream as a browser has it; the test says what comes. */
class Stream extends EventTarget {
  static readonly CLOSED = 2;
  static last: Stream;
  readonly readyState = 0;
  constructor() {
    super();
    Stream.last = this;
  }
  close(): void {
    // Nothing to close.
  }
}

const settled = () => new Promise((resolve) => setTimeout(resolve, 200));
const tell = (name: 'change' | 'others' | 'resync', data: object) =>
  Stream.last.dispatchEvent(new MessageEvent(name, { data: JSON.stringify(data) }));

let stream: ChangeStream;
let heard: string[];
beforeEach(() => {
  Object.assign(globalThis, { EventSource: Stream });
  TestBed.configureTestingModule({
    providers: [
      provideZonelessChangeDetection(),
      provideHttpClient(),
      provideHttpClientTesting(),
      provideRouter([]),
    ],
  });
  stream = TestBed.inject(ChangeStream);
  stream.open();
  heard = [];
  stream.of('contact', 'deal').subscribe(() => heard.push('any'));
  stream.mine('contact', 'deal').subscribe(() => heard.push('mine'));
  TestBed.runInInjectionContext(() =>
    stream.about(() => ['one', null], 'contact', 'deal').subscribe(() => heard.push('one')),
  );
});
afterAll(() => Reflect.deleteProperty(globalThis, 'EventSource'));

test.each([
  ['what concerns me', 'change', { topic: 'contact', ids: ['two'] }, ['any', 'mine']],
  ['what is on screen', 'change', { topic: 'deal', ids: ['two', 'one'] }, ['any', 'mine', 'one']],
  ['others’, of another', 'others', { contact: ['two'], journal: ['one'] }, ['any']],
  ['others’, of what is on screen', 'others', { contact: ['two'], deal: ['one'] }, ['any', 'one']],
  ['others’, too many to name', 'others', { contact: null }, ['any', 'one']],
  ['another topic', 'change', { topic: 'task', ids: ['one'] }, []],
  ['that all is to be read again', 'resync', {}, ['any', 'mine', 'one']],
] as const)('%s is heard by whom it is for', async (_, name, data, expected) => {
  tell(name, data);
  await settled();
  expect(heard.sort()).toEqual([...expected].sort());
});

test('figures follow one’s own changes at once, and those of others together every half minute', async () => {
  jest.useFakeTimers();
  const counted: number[] = [];
  const begun = Date.now();
  stream.counted('contact').subscribe(() => counted.push(Math.round((Date.now() - begun) / 1000)));
  for (let second = 0; second < 70; second += 5) {
    tell('others', { contact: [String(second)] });
    if (second === 40) tell('change', { topic: 'contact', ids: ['mine'] });
    jest.advanceTimersByTime(5000);
  }
  jest.useRealTimers();
  expect(counted).toEqual([30, 40, 60]);
});

test('many changes that come at once are heard once', async () => {
  for (let n = 0; n < 20; n += 1) tell('change', { topic: 'contact', ids: [String(n)] });
  await settled();
  expect(heard.sort()).toEqual(['any', 'mine']);
});

@Component({ selector: 'kettle-late', template: '' })
class LatePart {
  readonly record = input.required<string>();
  readonly heard = output();
  constructor() {
    inject(ChangeStream)
      .about(() => [this.record()], 'contact')
      .subscribe(() => this.heard.emit());
  }
}

test('a part that was made and not drawn yet misses no change, and is not asked for inputs it does not have', async () => {
  const made = TestBed.createComponent(LatePart);
  const words: string[] = [];
  made.componentInstance.heard.subscribe(() => words.push('late'));
  const failed = jest.fn();
  window.addEventListener('error', failed);
  tell('change', { topic: 'contact', ids: ['seven'] });
  window.removeEventListener('error', failed);
  expect(failed).not.toHaveBeenCalled();
  made.componentRef.setInput('record', 'seven');
  await made.whenStable();
  await settled();
  expect(words).toEqual(['late']);
});
