/** The two-sided 95 % point of the normal distribution, to the last digit of a double. */
export const z95 = 1.959963984540054;

export interface Interval {
  readonly low: number;
  readonly high: number;
}

/** A share of cases with what it may be in truth: `part` of `whole`, both whole numbers, 0 <= part <= whole. */
export interface Share extends Interval {
  readonly part: number;
  readonly whole: number;
  /** `part / whole`; 0 when there are no cases. */
  readonly rate: number;
}

/**
 * Wilson's score interval at 95 %; with no cases at all it is 0 to 1.
 * Example: 81 of 263 gives 0.2553 to 0.3662; 0 of 20 gives 0 to 0.1611.
 * @throws RangeError when `part` is not within 0 and `whole`
 * @see Wilson 1927; Newcombe, Statistics in Medicine 17 (1998), 857-872, method 3
 */
export function shareOf(part: number, whole: number): Share {
  if (!(part >= 0 && part <= whole)) throw new RangeError(`${part} of ${whole} is not a share`);
  if (whole === 0) return { part, whole, rate: 0, low: 0, high: 1 };
  const rate = part / whole;
  const square = z95 * z95;
  const middle = (2 * part + square) / (2 * (whole + square));
  const reach = (z95 * Math.sqrt(square + (4 * part * (whole - part)) / whole)) / (2 * (whole + square));
  return {
    part,
    whole,
    rate,
    // At the ends the exact bound is the end itself; the formula only comes near it.
    low: part === 0 ? 0 : Math.max(0, middle - reach),
    high: part === whole ? 1 : Math.min(1, middle + reach),
  };
}

/**
 * The difference `first - second` of two independent shares with Newcombe's hybrid score interval at 95 %.
 * Example: 56 of 70 less 48 of 80 is 0.2, from 0.0524 to 0.3339.
 * @see Newcombe, Statistics in Medicine 17 (1998), 873-890, method 10
 */
export function differenceOf(first: Share, second: Share): Interval & { readonly difference: number } {
  const difference = first.rate - second.rate;
  return {
    difference,
    low: difference - Math.hypot(first.rate - first.low, second.high - second.rate),
    high: difference + Math.hypot(first.high - first.rate, second.rate - second.low),
  };
}
