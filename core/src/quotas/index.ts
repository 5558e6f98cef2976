import type { PlainDate } from '@kettle/contract';
import { addMonths } from '../time/index';

/** What was set for a month, by its first day; it holds until another month has one. Null: no quota from then on. */
export interface SetMonth {
  readonly month: PlainDate;
  readonly minor: number | null;
}

/** The last that was set for the month or one before it. @param set in any order */
function setFor(set: readonly SetMonth[], month: PlainDate): SetMonth | null {
  return set.reduce<SetMonth | null>(
    (last, each) => (each.month <= month && (last === null || each.month > last.month) ? each : last),
    null,
  );
}

/**
 * The quota of a month in minor units, null where there is none.
 * @example quotaIn([{ month: '2026-01-01', minor: 900 }], '2026-05-01') is 900
 */
export const quotaIn = (set: readonly SetMonth[], month: PlainDate): number | null =>
  setFor(set, month)?.minor ?? null;

/**
 * What is to be written so that a month has a quota: alone, or from it on until another was set.
 * @example of 900 from January on, 1,200 for December alone: December 1,200 and January 900 again
 */
export function monthsToSet(
  set: readonly SetMonth[],
  { month, minor }: SetMonth,
  holds: 'month' | 'on',
): SetMonth[] {
  const next = addMonths(month, 1);
  const isNextSet = set.some((each) => each.month === next);
  return holds === 'on' || isNextSet
    ? [{ month, minor }]
    : [
        { month, minor },
        { month: next, minor: quotaIn(set, month) },
      ];
}
