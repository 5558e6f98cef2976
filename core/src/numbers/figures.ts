import { happenedBy, kaplanMeier, quantileTime, shareOf, type Watched } from '../stats';

/** A figure of a report; of a share what it may be in truth, in 19 of 20 cases. Null where it is not known. */
export interface Figure {
  readonly value: number | null;
  readonly low?: number;
  readonly high?: number;
}

const unknown: Figure = { value: null };

/** A share of whole cases with Wilson's interval. @example shareFigure(0, 0).value is null */
export function shareFigure(part: number, whole: number): Figure {
  if (whole === 0) return unknown;
  const { rate, low, high } = shareOf(part, whole);
  return { value: rate, low, high };
}

/** The days after which half have gone on, by Kaplan-Meier: those still waiting count as far as they have. Null while it is not half. */
export const halfFigure = (cases: readonly Watched[]): Figure => ({
  value: quantileTime(kaplanMeier(cases), 0.5),
});

/** The mean days of those that went on. What still waits is left out: beside the half it shows how far such a mean is off. */
export function meanFigure(cases: readonly Watched[]): Figure {
  let [sum, count] = [0, 0];
  for (const each of cases)
    if (each.happened) {
      sum += each.time * (each.count ?? 1);
      count += each.count ?? 1;
    }
  return count === 0 ? unknown : { value: sum / count };
}

/** The middle of counted values, which may be negative; of two middles their mean. */
export function middleFigure(cases: readonly Watched[]): Figure {
  const ordered = [...cases].sort((one, other) => one.time - other.time);
  const whole = ordered.reduce((sum, { count = 1 }) => sum + count, 0);
  if (whole === 0) return unknown;
  const at = (place: number) => {
    let passed = 0;
    for (const { time, count = 1 } of ordered) {
      passed += count;
      if (passed > place) return time;
    }
    return ordered.at(-1)!.time;
  };
  return { value: (at(Math.floor((whole - 1) / 2)) + at(Math.floor(whole / 2))) / 2 };
}

/** The chance that it has happened within so many days, cases that are younger counted as far as they go. */
export const withinFigure = (cases: readonly Watched[], days: number): Figure =>
  happenedBy(cases, days) ?? unknown;

/**
 * What deals bring in a day: how many are at work, times the share that is won, times what a won one is worth, over the days it takes.
 * Common practice, no source. Null where one of them is not known.
 * @example velocity({ deals: 40, winRate: 0.25, meanMinor: 500_000, days: 50 }) is 100_000
 */
export function velocity({
  deals,
  winRate,
  meanMinor,
  days,
}: {
  readonly deals: number;
  readonly winRate: number | null;
  readonly meanMinor: number | null;
  readonly days: number | null;
}): number | null {
  if (winRate === null || meanMinor === null || days === null || days <= 0) return null;
  return (deals * winRate * meanMinor) / days;
}
