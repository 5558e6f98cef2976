/** How often something was timed, and how many minutes that came to. */
export interface Timed {
  readonly count: number;
  readonly sum: number;
}

/** So many timed acts the usual length counts beside those that were timed; common practice, no source. */
const usualWeight = 10;
/** The same for what somebody takes beside what they take with one person. */
const ownWeight = 3;

/**
 * Minutes that acts of a channel take whoever does them: the mean of what was timed, drawn to the usual length as if ten more acts had taken
 * that long.
 * @param usual minutes that the organisation reckons with
 * @see Efron and Morris, "Stein's paradox in statistics", Scientific American 236 (1977): a mean drawn to the common one, from memory
 * @example minutesTaken({ count: 10, sum: 120 }, 6) // 9
 */
export const minutesTaken = (timed: Timed, usual: number): number => drawn(timed, usual, usualWeight);

/**
 * The same with one person, drawn to what the act takes with anybody as if three more had taken that long.
 * @example minutesTakenWith({ count: 3, sum: 60 }, 8) // 14
 */
export const minutesTakenWith = (timed: Timed, withAnybody: number): number =>
  drawn(timed, withAnybody, ownWeight);

/** Whole minutes, one at least. */
function drawn({ count, sum }: Timed, usual: number, weight: number): number {
  return Math.max(1, Math.round((sum + weight * usual) / (count + weight)));
}
