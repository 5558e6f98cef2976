import type { CalendarEntry } from '@kettle/contract';

export interface KeyMove {
  readonly days: number;
  readonly minutes: number;
  /** Minutes by which it gets longer. */
  readonly longer: number;
}

/** An entry and how a key moves it, from where it is by then: two quick presses are two. */
export interface NudgedEntry {
  readonly entry: CalendarEntry;
  readonly by: KeyMove;
}

const still: KeyMove = { days: 0, minutes: 0, longer: 0 };
const quarter = 15;

/**
 * How Alt and an arrow key move an entry: a quarter of an hour, a day; with Shift it gets longer or shorter. Null for every other key.
 * @param rows days from one row to the next, where up and down are days as well
 */
export function movedByKey(
  { key, altKey, shiftKey, ctrlKey, metaKey }: KeyboardEvent,
  rows: number | null = null,
): KeyMove | null {
  if (!altKey || ctrlKey || metaKey) return null;
  const sign = key === 'ArrowUp' || key === 'ArrowLeft' ? -1 : 1;
  switch (key) {
    case 'ArrowUp':
    case 'ArrowDown':
      if (rows !== null) return { ...still, days: sign * rows };
      return shiftKey ? { ...still, longer: sign * quarter } : { ...still, minutes: sign * quarter };
    case 'ArrowLeft':
    case 'ArrowRight':
      return { ...still, days: sign };
    default:
      return null;
  }
}
