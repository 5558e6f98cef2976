import { DestroyRef, inject, Injectable } from '@angular/core';
import { tinykeys } from 'tinykeys';
import { whenDrawn } from './when-drawn';

export interface KeyBinding {
  /** As the key library writes it: `w`, `g r`, `Enter`, `?`. */
  readonly keys: string;
  readonly words: string;
  readonly act: () => void;
  /** Whether it means anything just now; while not, the frame's for the same keys acts. Left out, it always does. */
  readonly applies?: (() => boolean) | undefined;
}

/**
 * The keyboard map: bindings live as long as the part that made them, and never fire while somebody types. Of two for the
 * same keys the one that was made last acts, a page's over the frame's, among those that mean anything just now.
 */
@Injectable({ providedIn: 'root' })
export class Keys {
  private readonly bound = new Set<KeyBinding>();
  /** Whether the hand is at the mouse: what gets the focus then was pressed, and does not wait for Enter. */
  private isPointing = false;
  private pressedBefore: EventTarget | null = null;
  private pressedAt = -restMillis;
  /** The key before the one that is pressed now, while both may be one sequence. */
  private before = '';
  private last = { key: '', at: -sequenceMillis };

  constructor() {
    const listen = (kind: 'pointerdown' | 'keydown' | 'focusin', hear: (event: Event) => void) =>
      window.addEventListener(kind, hear, { capture: true });
    listen('pointerdown', () => (this.isPointing = true));
    listen('keydown', (event) => {
      const [now, { key }] = [performance.now(), event as KeyboardEvent];
      this.before = now - this.last.at < sequenceMillis ? this.last.key : '';
      this.last = { key, at: now };
      this.pressedAt = now;
      if ((event as KeyboardEvent).key === 'Tab') this.isPointing = false;
    });
    listen('focusin', ({ target }) => (this.pressedBefore = this.isPointing ? target : null));
  }

  /** Binds keys for the life of the caller; call it where injection works. What is pressed before the caller was drawn is done right after. */
  bind(...own: KeyBinding[]): void {
    const drawn = whenDrawn();
    const bindings = own.map(({ applies, ...binding }): KeyBinding => ({
      ...binding,
      act: () => drawn(binding.act),
      applies: applies && (() => drawn.is() && applies()),
    }));
    const stop = tinykeys(
      window,
      Object.fromEntries(
        bindings.map((binding) => [
          binding.keys,
          (event: KeyboardEvent) => {
            if (isTyping(event, this.pressedBefore) || !this.isInnermost(binding)) return;
            if (!binding.keys.includes(' ') && this.endsSequence(event.key)) return;
            event.preventDefault();
            binding.act();
          },
        ]),
      ),
    );
    for (const binding of bindings) this.bound.add(binding);
    inject(DestroyRef).onDestroy(() => {
      stop();
      for (const binding of bindings) this.bound.delete(binding);
    });
  }

  /**
   * Collects what is typed until it is taken: a quick hand loses nothing to a dialog that is still opening, and
   * wakes no other key. An Enter that ends it, with Ctrl or without, is pressed again where the text was put.
   */
  collect(): { readonly take: () => string } {
    let typed = '';
    let ending: KeyboardEventInit | null = null;
    const collect = (event: KeyboardEvent) => {
      const { key, ctrlKey, metaKey, altKey } = event;
      if (key === 'Enter' && !altKey) ending = { key, ctrlKey, metaKey };
      else if (ctrlKey || metaKey || altKey) return;
      else if (key === 'Backspace' && ending === null) typed = typed.slice(0, -1);
      else if (key === 'Backspace') ending = null;
      else if (key.length === 1) {
        typed += ending === null ? key : `\n${key}`;
        ending = null;
      } else return;
      event.preventDefault();
      event.stopImmediatePropagation();
    };
    window.addEventListener('keydown', collect, { capture: true });
    return {
      take: () => {
        window.removeEventListener('keydown', collect, { capture: true });
        const end = ending;
        if (end !== null) setTimeout(() => pressAgain(end));
        ending = null;
        return typed;
      },
    };
  }

  /** Once the hands rest for a moment, or after some seconds: what covers the page unasked does not take half a word. */
  async rest(): Promise<void> {
    const latest = performance.now() + restAtMostMillis;
    for (;;) {
      const now = performance.now();
      const until = Math.min(this.pressedAt + restMillis, latest);
      if (now >= until) return;
      await new Promise((resolve) => setTimeout(resolve, until - now));
    }
  }

  /** What works just now, for the list behind `?`. */
  list(): KeyBinding[] {
    return [...this.bound].filter((binding) => this.isInnermost(binding));
  }

  /** Whether a key is the second of two that mean something together: it is not pressed for itself then. */
  private endsSequence(key: string): boolean {
    const pressedKeys = `${this.before} ${key}`.toLowerCase();
    return [...this.bound].some(({ keys }) => keys === pressedKeys);
  }

  private isInnermost(binding: KeyBinding): boolean {
    const meant = [...this.bound].filter(
      ({ keys, applies }) => keys === binding.keys && (applies?.() ?? true),
    );
    return meant.at(-1) === binding;
  }
}

const restMillis = 700;
/** Within it two keys are pressed one after the other; the key library's own. */
const sequenceMillis = 1000;
const restAtMostMillis = 5000;

const pressAgain = (init: KeyboardEventInit) =>
  document.activeElement?.dispatchEvent(
    new KeyboardEvent('keydown', { ...init, bubbles: true, cancelable: true }),
  );

const typedInto =
  'input:not([type=checkbox], [type=radio], [type=button], [type=submit], [type=file]), textarea, select';
/** What has its own answer to Enter and the space bar once somebody came to it by the keyboard. */
const pressed = 'a[href], button:not(.kit-pick), input, summary, [role=checkbox], [role=radio], [role=tab]';

/** Only what takes text swallows keys, a list that is chosen from by typing among it; a button has Enter and space. */
function isTyping(event: KeyboardEvent, pressedBefore: EventTarget | null): boolean {
  const target = event.target;
  // What closed a dialog or a list was meant for it, though it is gone by now.
  if (event.defaultPrevented) return true;
  if (!(target instanceof HTMLElement)) return false;
  if (document.querySelector('.cdk-overlay-backdrop') !== null) return true;
  if (
    target.isContentEditable ||
    target.matches(typedInto) ||
    target.closest('[role=combobox], [role=listbox]')
  )
    return true;
  const isPress = event.key === 'Enter' || event.key === ' ';
  return isPress && target.closest(pressed) !== null && target !== pressedBefore;
}

const keyNames: Readonly<Record<string, string>> = {
  ArrowUp: '↑',
  ArrowDown: '↓',
  ArrowLeft: '←',
  ArrowRight: '→',
  Escape: 'Esc',
  Delete: 'Del',
  ' ': 'Space',
};

/**
 * Keys as they stand on the keyboard, one text for each that is pressed after the other.
 * @example sayKeys('$mod+z') // ['Ctrl Z']; sayKeys('g r') // ['G', 'R']; sayKeys('Shift+?') // ['?']
 */
export function sayKeys(keys: string, isMac = /Mac|iP(hone|ad)/.test(navigator.platform)): string[] {
  const nameOf = (key: string) =>
    key === '$mod' ? (isMac ? '⌘' : 'Ctrl') : (keyNames[key] ?? (key.length === 1 ? key.toUpperCase() : key));
  return keys.split(' ').map((pressed) => {
    const parts = pressed.split('+');
    const isSign = parts[0] === 'Shift' && /^[^a-z]$/i.test(parts.at(-1) ?? '');
    return (isSign ? parts.slice(1) : parts).map(nameOf).join(' ');
  });
}
