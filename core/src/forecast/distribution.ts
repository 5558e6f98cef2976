/** An open deal as the forecast sees it: what it is worth, in minor units, and the chance that it is won in the period, 0 to 1. */
export interface Chance {
  readonly minor: number;
  readonly chance: number;
}

/** What a period may bring: the chance of each multiple of a step, from nothing to everything; they add up to one. */
export interface Distribution {
  /** Minor units from one value to the next. */
  readonly step: number;
  readonly chances: Float64Array;
  /** Whether every amount is a whole number of steps; else amounts between two are shared by both, which keeps the expected value. */
  readonly isExact: boolean;
}

/** A chance that is left out of a sum; a hundred thousand of them are no billionth. */
const unseen = 1e-18;
/** More steps than this tell nobody more, and take time by the number of deals. */
const mostSteps = 8192;

/**
 * The distribution of the sum of what is won, each deal by itself, by convolution: exact where the amounts have a common measure that
 * divides their sum into at most 8,192 steps. O(deals × steps).
 * @example distributionOf([{ minor: 100, chance: 0.5 }, { minor: 100, chance: 0.5 }]).chances is [0.25, 0.5, 0.25]
 */
export function distributionOf(deals: readonly Chance[]): Distribution {
  const sum = summing(deals);
  for (const deal of sum.open) sum.add(deal);
  return sum.distribution();
}

/** What a deal can be added to: sums up to that of all of some deals, each in whole steps. */
class Sum {
  /** Outside of these every sum is impossible, or next to. */
  private first = 0;
  private last = 0;

  private constructor(
    readonly open: readonly Chance[],
    private readonly step: number,
    private readonly isExact: boolean,
    private readonly chances: Float64Array,
  ) {
    this.chances[0] = this.chances[0]! || 1;
  }

  static of(deals: readonly Chance[]): Sum {
    const open = deals.filter(({ minor, chance }) => minor > 0 && chance > 0);
    const total = open.reduce((sum, { minor }) => sum + minor, 0);
    if (total === 0) return new Sum(open, 1, true, Float64Array.of(1));
    const measure = open.reduce((common, { minor }) => commonMeasure(common, minor), 0);
    const isExact = total / measure <= mostSteps;
    const step = isExact ? measure : total / mostSteps;
    const size = Math.ceil(total / step) + open.length * (isExact ? 0 : 1) + 1;
    return new Sum(open, step, isExact, new Float64Array(size));
  }

  add({ minor, chance }: Chance): void {
    const { step, isExact, chances } = this;
    const steps = isExact ? Math.round(minor / step) : Math.floor(minor / step);
    const above = isExact ? 0 : minor / step - steps;
    const last = this.last + steps + (above > 0 ? 1 : 0);
    const [not, whole, more] = [1 - chance, chance * (1 - above), chance * above];
    // From the top, so that what one deal adds is not added to again; the bounds stand outside the loops, which are what takes the time.
    for (let at = last; at >= Math.max(this.first, steps + 1); at--)
      chances[at] = chances[at]! * not + chances[at - steps]! * whole + chances[at - steps - 1]! * more;
    if (steps >= this.first && steps <= last) chances[steps] = chances[steps]! * not + chances[0]! * whole;
    for (let at = Math.min(steps - 1, last); at >= this.first; at--) chances[at] = chances[at]! * not;
    this.last = last;
    this.trim();
  }

  /** Ends that will never be seen are left out: many deals spread over a part of what all of them come to. */
  private trim(): void {
    const { chances } = this;
    while (this.last > this.first && chances[this.last]! < unseen) {
      chances[this.last] = 0;
      this.last -= 1;
    }
    while (this.first < this.last && chances[this.first]! < unseen) {
      chances[this.first] = 0;
      this.first += 1;
    }
  }

  /** The same sum, to be added to apart. */
  copy(): Sum {
    const copy = new Sum(this.open, this.step, this.isExact, this.chances.slice());
    copy.first = this.first;
    copy.last = this.last;
    return copy;
  }

  distribution(): Distribution {
    const { step, isExact } = this;
    return { step, chances: this.chances.slice(0, this.last + 1), isExact };
  }
}

/** Nothing yet, with room for all of some deals. */
export const summing = (deals: readonly Chance[]): Sum => Sum.of(deals);

/** Expected sum in minor units: of each deal its value times its chance. */
export const expectedOf = (deals: readonly Chance[]): number =>
  Math.round(deals.reduce((sum, { minor, chance }) => sum + minor * chance, 0));

/**
 * The smallest sum that is not exceeded with a given chance.
 * @param share of one: 0.1 for the 10th percentile
 */
export function percentileOf({ step, chances }: Distribution, share: number): number {
  let sum = 0;
  for (const [at, chance] of chances.entries()) {
    sum += chance;
    // What adds up to the share but for the rounding of sums.
    if (sum >= share - 1e-12) return Math.round(at * step);
  }
  return Math.round((chances.length - 1) * step);
}

/** The chance of at least so much, in minor units. */
export function chanceOfAtLeast({ step, chances }: Distribution, minor: number): number {
  const from = Math.max(0, Math.ceil(minor / step - 1e-9));
  let sum = 0;
  for (let at = from; at < chances.length; at++) sum += chances[at]!;
  return Math.min(1, sum);
}

/** Euclid's greatest common divisor of whole numbers; of nothing and one, that one. */
function commonMeasure(one: number, other: number): number {
  return other === 0 ? one : commonMeasure(other, one % other);
}
