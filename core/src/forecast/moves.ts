import { chanceOfAtLeast, summing, type Chance } from './distribution';

export interface Move {
  /** The deal's place among those that were asked about. */
  readonly at: number;
  /** The chance of the sum if it is won in the period, and if it is not. */
  readonly ifWon: number;
  readonly ifLost: number;
}

/** How far a deal throws the sum about: the standard deviation of its own part. */
export const spreadOf = ({ minor, chance }: Chance): number => minor * Math.sqrt(chance * (1 - chance));

/**
 * The deals on which most hangs, and what the chance of a sum is with each of them won or lost. The others are summed once, so that
 * many deals cost little more than one distribution of them.
 * @param wanted the sum, in minor units
 * @example of one deal of 100 with a chance of 0.5 and 100 wanted, ifWon is 1 and ifLost is 0
 */
export function movesOf(deals: readonly Chance[], wanted: number, most: number): Move[] {
  const top = deals
    .map((deal, at) => ({ deal, at, spread: spreadOf(deal) }))
    .filter(({ spread }) => spread > 0)
    .sort((one, other) => other.spread - one.spread || one.at - other.at)
    .slice(0, most);
  const chosen = new Set(top.map(({ at }) => at));
  const rest = summing(deals);
  deals.forEach((deal, at) => {
    if (!chosen.has(at) && deal.minor > 0 && deal.chance > 0) rest.add(deal);
  });
  return top.map(({ deal, at }) => {
    const others = rest.copy();
    for (const each of top) if (each.at !== at) others.add(each.deal);
    const without = others.distribution();
    return {
      at,
      ifWon: chanceOfAtLeast(without, wanted - deal.minor),
      ifLost: chanceOfAtLeast(without, wanted),
    };
  });
}
