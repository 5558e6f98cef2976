import type { MonthForecast, PlainDate } from '@kettle/contract';
import {
  chanceOfAtLeast,
  distributionOf,
  expectedOf,
  percentileOf,
  type Chance,
} from '@kettle/core/forecast';
import type { HeavyTasks } from '../../platform/heavy';
import type { Services } from '../../platform/services';
import { readTeamOf } from '../../records/rights/index';
import { todayOf, type SignedIn } from '../../records/users/index';
import { readDue } from './month-deals';
import { readBoard } from './quota-board';

const taskName = 'month-forecast';
const mostMoves = 3;

interface Input {
  readonly deals: readonly Chance[];
  readonly leftMinor: number | null;
}

interface Output {
  readonly low: number;
  readonly middle: number;
  readonly high: number;
  readonly chance: number | null;
  /** The deals on which most hangs, by their place in the input, with the chance of what is left when each is won or lost. */
  readonly moves: readonly {
    readonly at: number;
    readonly ifWon: number | null;
    readonly ifLost: number | null;
  }[];
}

/** How far a deal throws the sum about: the standard deviation of its own part. */
const spreadOf = ({ minor, chance }: Chance) => minor * Math.sqrt(chance * (1 - chance));

/** In a thread of its own: of five thousand deals it takes a tenth of a second or two. */
export function computeForecast({ deals, leftMinor }: Input): Output {
  const distribution = distributionOf(deals);
  const chanceIf = (at: number, chance: 0 | 1) =>
    leftMinor === null
      ? null
      : chanceOfAtLeast(
          distributionOf(deals.map((deal, index) => (index === at ? { ...deal, chance } : deal))),
          leftMinor,
        );
  const moves = deals
    .map((deal, at) => ({ at, spread: spreadOf(deal) }))
    .filter(({ spread }) => spread > 0)
    .sort((one, other) => other.spread - one.spread)
    .slice(0, mostMoves)
    .map(({ at }) => ({ at, ifWon: chanceIf(at, 1), ifLost: chanceIf(at, 0) }));
  return {
    low: percentileOf(distribution, 0.1),
    middle: percentileOf(distribution, 0.5),
    high: percentileOf(distribution, 0.9),
    chance: leftMinor === null ? null : chanceOfAtLeast(distribution, leftMinor),
    moves,
  };
}

export const forecastTasks: HeavyTasks = {
  [taskName]: (_services, input) => Promise.resolve(computeForecast(input as Input)),
};

/** What a month may bring: what was won, and each open deal that is due in it by its value and chance, independent of each other. */
export async function readForecast(
  services: Services,
  who: SignedIn,
  { whose, month }: { readonly whose: 'mine' | 'team'; readonly month: PlainDate },
): Promise<MonthForecast> {
  const { database: db } = services;
  const { total, unconverted } = await readBoard(services, who, { month, whose });
  const ids = whose === 'mine' ? [who.id] : (await readTeamOf(db, who)).map(({ id }) => id);
  const due = await readDue(db, ids, { month, today: todayOf(services, who) });
  const known = due.flatMap((deal) => (deal.minor === null ? [] : [{ ...deal, minor: deal.minor }]));
  const deals = known.map(({ minor, chance }) => ({ minor, chance }));
  const { wonMinor, quotaMinor } = total;
  const leftMinor = quotaMinor === null ? null : Math.max(0, quotaMinor - wonMinor);
  const input: Input = { deals, leftMinor };
  const found = (await services.quick.run(taskName, input)) as Output;
  return {
    month,
    wonMinor,
    open: due.length,
    openMinor: deals.reduce((sum, { minor }) => sum + minor, 0),
    expectedMinor: wonMinor + expectedOf(deals),
    lowMinor: wonMinor + found.low,
    middleMinor: wonMinor + found.middle,
    highMinor: wonMinor + found.high,
    quotaMinor,
    quotaChance: found.chance,
    moves: found.moves.map(({ at, ifWon, ifLost }) => {
      const { id, name, minor, chance } = known[at]!;
      return { dealId: id, name, minor, chance, ifWon, ifLost };
    }),
    unconverted,
  };
}
