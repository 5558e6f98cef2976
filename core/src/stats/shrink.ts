/** Tries and how many of them were answered. */
export interface Tally {
  readonly tried: number;
  readonly answered: number;
}

/** How many tries the wider group's rate is worth beside a narrower group's own; common practice, no source. */
const usualWeight = 12;
const leastWeight = 5;
const mostWeight = 200;

/**
 * The weight of the wider group, in tries, that best explains how the narrower groups differ (beta-binomial, method of
 * moments); the usual weight while there are fewer than two groups to compare. Between 5 and 200.
 * @see Kleinman, J. Am. Stat. Assoc. 68 (1973), 46-54
 */
export function weightOf(groups: readonly Tally[]): number {
  const used = groups.filter(({ tried }) => tried > 0);
  const tried = sum(used, (group) => group.tried);
  if (used.length < 2 || tried === 0) return usualWeight;
  const mean = sum(used, (group) => group.answered) / tried;
  const noise = mean * (1 - mean);
  if (noise === 0) return mostWeight;
  const spread = sum(used, (group) => group.tried * (group.answered / group.tried - mean) ** 2);
  const size = tried - sum(used, (group) => group.tried ** 2) / tried;
  const between = (spread - (used.length - 1) * noise) / size;
  return between <= 0 ? mostWeight : clamp(noise / between - 1);
}

/**
 * An answer rate pulled towards the one of the wider group: with no tries it is that group's, with many its own.
 * `wider` is 0 to 1, `weight` in tries.
 */
export function shrunkRate({ tried, answered }: Tally, wider: number, weight: number): number {
  return (answered + weight * wider) / (tried + weight);
}

/**
 * A person's own answer rate on a channel, drawn towards that of people like them, and that towards everybody's.
 * Weights in tries; see `weightOf`.
 */
export function personRate(
  own: Tally,
  segment: Tally,
  all: Tally,
  weights: { readonly person: number; readonly segment: number },
): number {
  const allRate = all.tried === 0 ? 0 : all.answered / all.tried;
  return shrunkRate(own, shrunkRate(segment, allRate, weights.segment), weights.person);
}

/** Tries and answers of groups together. */
export function totalOf(tallies: readonly Tally[]): Tally {
  return tallies.reduce(
    (sum, tally) => ({ tried: sum.tried + tally.tried, answered: sum.answered + tally.answered }),
    { tried: 0, answered: 0 },
  );
}

const clamp = (weight: number) => Math.min(mostWeight, Math.max(leastWeight, weight));

function sum<Item>(items: readonly Item[], of: (item: Item) => number): number {
  return items.reduce((total, item) => total + of(item), 0);
}
