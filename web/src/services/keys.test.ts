import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { Keys } from './keys';

const press = (key: string, over: KeyboardEventInit = {}) => {
  const event = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...over });
  window.dispatchEvent(event);
  return event;
};

let keys: Keys;
beforeEach(() => {
  TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
  keys = TestBed.inject(Keys);
});

test('what is typed while a dialog opens is collected, and wakes no other key', () => {
  const acts: string[] = [];
  TestBed.runInInjectionContext(() => keys.bind({ keys: 's', words: 'Skip', act: () => acts.push('s') }));
  const { take } = keys.collect();
  for (const key of 'spoks') press(key);
  press('Backspace');
  press('e');
  expect(press('z', { ctrlKey: true }).defaultPrevented).toBe(false);
  expect(take()).toBe('spoke');
  expect(acts).toEqual([]);
  press('s');
  expect(acts).toEqual(['s']);
});

test('of two bindings for the same key the one made last acts', () => {
  const acts: string[] = [];
  TestBed.runInInjectionContext(() => {
    keys.bind({ keys: 'w', words: 'Walk', act: () => acts.push('frame') });
    keys.bind({ keys: 'w', words: 'Walk', act: () => acts.push('page') });
  });
  press('w');
  expect(acts).toEqual(['page']);
  expect(keys.list()).toHaveLength(1);
});
