import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { type Part, showPart } from '../../testing/part';
import { beenHere } from '../services/been-here';
import { CurrentUser } from '../services/current-user';
import { Shell } from './shell';

const said = (element: Element) => element.textContent.replace(/\s+/g, ' ').trim();
const press = async (part: Part<Shell>, ...keys: string[]) => {
  for (const key of keys) window.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
  await part.settle();
};

/** The stream of changes as a browser has it; the test says what comes. */
class Stream extends EventTarget {
  static readonly CLOSED = 2;
  static readonly all: Stream[] = [];
  readonly readyState = 0;
  constructor() {
    super();
    Stream.all.push(this);
  }
  close(): void {
    Stream.all.splice(Stream.all.indexOf(this), 1);
  }
}
beforeEach(() => {
  Stream.all.length = 0;
  Object.assign(globalThis, { EventSource: Stream });
});
afterAll(() => Reflect.deleteProperty(globalThis, 'EventSource'));

test('the places are in the bar, four of them at the foot of a phone, with more behind a press', async () => {
  const { root } = await showPart(Shell);
  const names = (selector: string) => [...root.querySelectorAll(`${selector} a`)].map(said);
  expect(names('header nav')).toEqual([
    'Home',
    'Round',
    'People',
    'Deals',
    'Mail',
    'Calendar',
    'Cadences',
    'Renewals',
    'Numbers',
  ]);
  expect(names('.foot')).toEqual(['Round', 'People', 'Deals', 'Mail']);
  expect(said(root.querySelector('.foot button')!)).toBe('More');
});

test('keys go to each place; the day is folded away and stays so', async () => {
  const part = await showPart(Shell);
  await press(part, 'g', 'p');
  expect(TestBed.inject(Router).url).toBe('/people');
  await press(part, '[');
  expect(part.root.querySelector('.body')!.classList.contains('folded')).toBe(true);
  expect(localStorage.getItem('kettle.spine')).toBe('folded');
});

test('it says when what others change is not heard of', async () => {
  const part = await showPart(Shell);
  Stream.all[0]!.dispatchEvent(new Event('open'));
  await part.settle();
  expect(part.root.querySelector('.offline')).toBeNull();
  Stream.all[0]!.dispatchEvent(new Event('error'));
  await part.settle();
  expect(said(part.root.querySelector('.offline')!)).toBe('not connected');
});

test('whoever is signed in is named, by initial and surname where there is little room', async () => {
  const part = await showPart(Shell);
  const who = part.button('Signed in as Imogen Thorne');
  expect(said(who.querySelector('.short')!)).toBe('I. Thorne');
});

test('leaving forgets who was here, so that the door stands first', async () => {
  await showPart(Shell);
  expect(beenHere.is()).toBe(true);
  TestBed.inject(CurrentUser).leave();
  expect(beenHere.is()).toBe(false);
});
