/** With fewer closed deals than this nothing is learned: a deal closes on the day that is expected. */
export const leastSlips = 20;
/** Of a deal that is later than nearly all were, its day says nothing any more. */
const leastLeft = 5;

export interface Awaited {
  /** Days from today to the expected close; negative for one that is overdue. */
  readonly expectedIn: number;
  /** Days from today to the period's first and last day; the first is negative in a period that runs. */
  readonly firstIn: number;
  readonly lastIn: number;
}

/**
 * The chance that a deal closes inside a period, if it is won: the share of won deals that were as late, or as early, as it would have to be,
 * among those that were not closed sooner than today. Deals that are later than nearly all were are taken as expected today.
 * @param slips days from the expected to the actual close of deals that were won, negative for early ones
 * @example chanceInTime([...]) where half were on the day and half ten days late: one expected in five days closes in the next seven with 0.5
 */
export function chanceInTime(slips: readonly number[], { expectedIn, firstIn, lastIn }: Awaited): number {
  if (lastIn < 0) return 0;
  const begins = Math.max(0, firstIn);
  if (slips.length < leastSlips)
    // What should have closed by now closes in the period that runs.
    return expectedIn <= lastIn && (expectedIn >= begins || firstIn <= 0) ? 1 : 0;
  const left = slips.filter((slip) => slip >= -expectedIn);
  if (left.length < leastLeft)
    return expectedIn < 0 ? chanceInTime(slips, { expectedIn: 0, firstIn, lastIn }) : 0;
  const inside = left.filter((slip) => slip >= begins - expectedIn && slip <= lastIn - expectedIn);
  return inside.length / left.length;
}
