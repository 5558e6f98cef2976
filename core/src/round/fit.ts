/** Cases of one kind that waited equally long: how many there were, and in how many of them acting brought what was at stake. */
export interface Cases {
  /** In days, 0 or more. */
  readonly waited: number;
  readonly tried: number;
  readonly brought: number;
}

/** A chance and the days of waiting in which it falls to half. */
export interface Falling {
  readonly chance: number;
  readonly halfDays: number;
}

/** So many cases the usual value counts beside those that were seen; common practice, no source. */
export const usualCounts = 30;
/** How far a half-life strays from the usual one: the standard deviation of its logarithm, a factor of 1.65. */
const strays = 0.5;
/** Half-lives that are tried: from a quarter to four times the usual one, each a twelfth of a doubling after the one before. */
const halfLives = Array.from({ length: 49 }, (_, n) => 2 ** ((n - 24) / 12));

/**
 * The chance p and half-life h of p × 2^(-waited / h) that explain the cases best, drawn to the usual ones as if thirty more cases had
 * been as usual: the most probable pair (binomial likelihood, beta prior of the chance, log-normal prior of the half-life).
 * With nothing but cases that did not wait, the chance is (brought + 30 × usual) / (tried + 30).
 * @param isFixed whether the half-life is known, and only the chance asked for
 * @see Gelman et al., Bayesian Data Analysis, 3rd ed. (2013), section 2.4: the beta prior as cases that were added, from memory
 * @example fitFalling([{ waited: 0, tried: 70, brought: 49 }], { chance: 0.4, halfDays: 1 }).chance // 0.61
 */
export function fitFalling(
  cases: readonly Cases[],
  usual: Falling,
  { isFixed = false }: { readonly isFixed?: boolean } = {},
): Falling {
  let best = { ...usual, likely: -Infinity };
  for (const factor of isFixed ? [1] : halfLives) {
    const halfDays = usual.halfDays * factor;
    const seen = cases.map(({ waited, tried, brought }) => ({
      share: 2 ** (-waited / halfDays),
      tried,
      brought,
    }));
    const all = [...seen, { share: 1, tried: usualCounts, brought: usualCounts * usual.chance }];
    const chance = likeliestChance((p) =>
      all.reduce((sum, each) => sum + slope(each, p * each.share, each.share), 0),
    );
    const likely =
      all.reduce((sum, each) => sum + logLikelihood(each, chance * each.share), 0) -
      (Math.log(factor) / strays) ** 2 / 2;
    if (likely > best.likely) best = { chance, halfDays, likely };
  }
  return { chance: best.chance, halfDays: best.halfDays };
}

/** Cases whose chance falls from what it was to a floor that no waiting takes away. */
export interface LeftCases {
  /** The chance of one that never waited. */
  readonly fresh: number;
  /** What waiting took of it, 0 for nothing, 1 for all but the floor. */
  readonly fallen: number;
  readonly tried: number;
  readonly brought: number;
}

/**
 * The floor f of fresh × (f + (1 - f) × (1 - fallen)) that explains the cases best, drawn to the usual one as if thirty more cases had
 * been left until only the floor was left.
 */
export function fitFloor(cases: readonly LeftCases[], usual: number): number {
  const prior = { fresh: 1, fallen: 1, tried: usualCounts, brought: usualCounts * usual };
  return likeliestChance((floor) =>
    [...cases, prior].reduce((sum, each) => {
      const chance = each.fresh * (1 - each.fallen * (1 - floor));
      return sum + slope(each, chance, each.fresh * each.fallen);
    }, 0),
  );
}

interface Seen {
  readonly tried: number;
  readonly brought: number;
}

/** How the log-likelihood of what was seen rises with a parameter by which the chance rises `by`. */
function slope({ tried, brought }: Seen, chance: number, by: number): number {
  const held = within(chance);
  return by * (brought / held - (tried - brought) / (1 - held));
}

function logLikelihood({ tried, brought }: Seen, chance: number): number {
  const held = within(chance);
  return brought * Math.log(held) + (tried - brought) * Math.log(1 - held);
}

const least = 1e-9;
const within = (chance: number) => Math.min(1 - least, Math.max(least, chance));

/** Where a slope that only falls goes through nothing, between 0 and 1. */
function likeliestChance(slopeAt: (chance: number) => number): number {
  let [low, high] = [least, 1 - least];
  for (let turn = 0; turn < 50; turn += 1) {
    const middle = (low + high) / 2;
    if (slopeAt(middle) > 0) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
