import type { Instant } from '@kettle/contract';
import { addMinutes, minutesBetween } from '../time';
import type { DayGap } from '.';

/**
 * The time that is free for all: of each person their gaps, in order and apart from each other.
 * @example 9 to 12 of one and 10 to 11, 11:30 to 13 of another have 10 to 11 and 11:30 to 12 in common
 */
export function commonGaps(people: readonly (readonly DayGap[])[]): DayGap[] {
  const [first, ...others] = people;
  if (first === undefined) return [];
  return others.reduce<DayGap[]>((common, gaps) => meet(common, gaps), [...first]);
}

function meet(one: readonly DayGap[], other: readonly DayGap[]): DayGap[] {
  const common: DayGap[] = [];
  let [i, j] = [0, 0];
  while (i < one.length && j < other.length) {
    const [a, b] = [one[i]!, other[j]!];
    const from = a.from > b.from ? a.from : b.from;
    const to = a.to < b.to ? a.to : b.to;
    const minutes = from < to ? minutesBetween(from, to) : 0;
    if (minutes >= 1) common.push({ from, to, minutes });
    if (a.to < b.to) i += 1;
    else j += 1;
  }
  return common;
}

export interface Wanted {
  readonly minutes: number;
  /** The ways there and back are free too. */
  readonly travelMinutes: number;
  readonly travelAfterMinutes: number;
  readonly most: number;
}

const quarter = 15;

/** Beginnings at a quarter of an hour, the earliest of each gap that holds it with its ways. */
export function beginningsIn(gaps: readonly DayGap[], wanted: Wanted): Instant[] {
  const { minutes, travelMinutes, travelAfterMinutes, most } = wanted;
  return gaps
    .flatMap(({ from, to }) => {
      const earliest = Date.parse(addMinutes(from, travelMinutes));
      const grain = quarter * 60_000;
      const begins = new Date(Math.ceil(earliest / grain) * grain).toISOString();
      return addMinutes(begins, minutes + travelAfterMinutes) <= to ? [begins] : [];
    })
    .slice(0, most);
}
