import { Component, inject, input, provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { Keys, sayKeys } from './keys';

const press = (key: string, over: KeyboardEventInit = {}) => {
  const event = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...over });
  window.dispatchEvent(event);
  return event;
};

/** A part on screen that binds keys as it is made. */
const drawnPart = (make: () => void) => {
  TestBed.runInInjectionContext(make);
  TestBed.tick();
};

let keys: Keys;
beforeEach(() => {
  TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
  keys = TestBed.inject(Keys);
});

test('what is typed while a dialog opens is collected, and wakes no other key', () => {
  const acts: string[] = [];
  drawnPart(() => keys.bind({ keys: 's', words: 'Skip', act: () => acts.push('s') }));
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

test.each([
  ['Enter', {}],
  ['Enter', { ctrlKey: true }],
])('%s that ends what is collected is pressed where it was put: %p', async (key, over) => {
  const field = document.body.appendChild(document.createElement('input'));
  const heard: string[] = [];
  field.addEventListener('keydown', (event) => heard.push(`${field.value} ${event.key} ${event.ctrlKey}`));
  const { take } = keys.collect();
  press('a');
  press('Enter');
  press('b');
  expect(press(key, over).defaultPrevented).toBe(true);
  field.focus();
  field.value = take().replace('\n', '/');
  await new Promise((resolve) => setTimeout(resolve, 5));
  expect(heard).toEqual([`a/b Enter ${String('ctrlKey' in over)}`]);
  field.remove();
});

test('what comes unasked waits until the hands rest, and not for ever', async () => {
  jest.useFakeTimers();
  let isResting = false;
  const waited = () => void keys.rest().then(() => (isResting = true));
  try {
    for (let pressed = 0; pressed < 3; pressed += 1) {
      press('a');
      if (pressed === 0) waited();
      await jest.advanceTimersByTimeAsync(400);
      expect(isResting).toBe(false);
    }
    await jest.advanceTimersByTimeAsync(400);
    expect(isResting).toBe(true);
    isResting = false;
    waited();
    await jest.advanceTimersByTimeAsync(0);
    expect(isResting).toBe(true);
    isResting = false;
    press('a');
    waited();
    for (let pressed = 0; pressed < 13; pressed += 1) {
      await jest.advanceTimersByTimeAsync(400);
      press('a');
    }
    expect(isResting).toBe(true);
  } finally {
    jest.useRealTimers();
  }
});

test('a key that something nearer has answered is not answered twice', () => {
  const acts: string[] = [];
  drawnPart(() => keys.bind({ keys: 'Escape', words: 'Close the dossier', act: () => acts.push('dossier') }));
  const answer = (event: Event) => event.preventDefault();
  document.body.addEventListener('keydown', answer);
  document.body.dispatchEvent(
    new KeyboardEvent('keydown', { key: 'Escape', bubbles: true, cancelable: true }),
  );
  document.body.removeEventListener('keydown', answer);
  expect(acts).toEqual([]);
  press('Escape');
  expect(acts).toEqual(['dossier']);
});

test('a page’s key that means nothing just now leaves it to the frame’s, and the list says which works', () => {
  const acts: string[] = [];
  let isChosen = false;
  drawnPart(() => {
    keys.bind({ keys: 't', words: 'Task for whoever is open', act: () => acts.push('frame') });
    keys.bind({ keys: 't', words: 'Task for the row', act: () => acts.push('row'), applies: () => isChosen });
  });
  press('t');
  isChosen = true;
  press('t');
  expect(acts).toEqual(['frame', 'row']);
  expect(keys.list().map(({ words }) => words)).toEqual(['Task for the row']);
});

test('a key that ends a sequence is not pressed for itself', () => {
  const acts: string[] = [];
  const bind = (sequence: string) => ({ keys: sequence, words: sequence, act: () => acts.push(sequence) });
  drawnPart(() => keys.bind(bind('p'), bind('g p'), bind('x')));
  press('g');
  press('p');
  expect(acts).toEqual(['g p']);
  press('p');
  press('g');
  press('x');
  expect(acts).toEqual(['g p', 'p', 'x']);
});

test('of two bindings for the same key the one made last acts', () => {
  const acts: string[] = [];
  drawnPart(() => {
    keys.bind({ keys: 'w', words: 'Walk', act: () => acts.push('frame') });
    keys.bind({ keys: 'w', words: 'Walk', act: () => acts.push('page') });
  });
  press('w');
  expect(acts).toEqual(['page']);
  expect(keys.list()).toHaveLength(1);
});

describe('where somebody is', () => {
  const heard: string[] = [];
  const at = (html: string) => {
    document.body.innerHTML = html;
    heard.length = 0;
    drawnPart(() =>
      keys.bind(
        { keys: 'c', words: 'Call', act: () => heard.push('c') },
        { keys: 'Enter', words: 'Open', act: () => heard.push('Enter') },
      ),
    );
    const element = document.querySelector<HTMLElement>('[data-here]')!;
    element.focus();
    for (const key of ['c', 'Enter'])
      element.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
    return heard;
  };
  afterEach(() => (document.body.innerHTML = ''));

  test.each([
    '<input data-here>',
    '<input type="search" data-here>',
    '<textarea data-here></textarea>',
    '<div role="combobox" tabindex="0" data-here></div>',
    '<div role="listbox"><div role="option" tabindex="0" data-here></div></div>',
  ])('what takes text swallows them: %s', (html) => {
    expect(at(html)).toEqual([]);
  });

  test.each([
    '<input type="checkbox" data-here>',
    '<input type="radio" data-here>',
    '<button data-here>Undo</button>',
    '<a href="#" data-here>company</a>',
  ])('the page’s keys still work, and Enter is its own: %s', (html) => {
    expect(at(html)).toEqual(['c']);
  });

  test('a button that was pressed with the mouse has had its press: Enter is the page’s', () => {
    window.dispatchEvent(new Event('pointerdown'));
    expect(at('<button data-here>Call</button>')).toEqual(['c', 'Enter']);
    window.dispatchEvent(new KeyboardEvent('keydown', { key: 'Tab' }));
    expect(at('<button data-here>Call</button>')).toEqual(['c']);
  });

  test('on a row Enter is the page’s', () => {
    expect(at('<button class="kit-pick" data-here>Maud</button>')).toEqual(['c', 'Enter']);
    expect(at('<main tabindex="-1" data-here></main>')).toEqual(['c', 'Enter']);
  });
});

test('keys are said as they stand on the keyboard', () => {
  expect(sayKeys('$mod+z', false)).toEqual(['Ctrl Z']);
  expect(sayKeys('$mod+z', true)).toEqual(['⌘ Z']);
  expect(sayKeys('Shift+?')).toEqual(['?']);
  expect(sayKeys('Shift+ArrowDown')).toEqual(['Shift ↓']);
  expect(sayKeys('g r')).toEqual(['G', 'R']);
});

@Component({ selector: 'kettle-late', template: '' })
class LatePart {
  readonly name = input.required<string>();
  readonly done: string[] = [];
  constructor() {
    inject(Keys).bind(
      { keys: 'n', words: 'Note', act: () => this.done.push(`note to ${this.name()}`) },
      { keys: 'd', words: 'Move', act: () => this.done.push('move'), applies: () => this.name() !== '' },
    );
  }
}

test('a key that is pressed before its part was drawn is done once it is, and one that has to be asked first is not', async () => {
  const made = TestBed.createComponent(LatePart);
  press('n');
  press('d');
  expect(made.componentInstance.done).toEqual([]);
  made.componentRef.setInput('name', 'Una');
  await made.whenStable();
  press('d');
  expect(made.componentInstance.done).toEqual(['note to Una', 'move']);
});
