import {
  chanceOfAtLeast,
  distributionOf,
  expectedOf,
  movesOf,
  percentileOf,
  type Chance,
  type Distribution,
  type Move,
} from '@kettle/core/forecast';
import type { HeavyTasks } from '../../platform/heavy';
import type { Services } from '../../platform/services';

/** What a sum of deals is asked for. */
export interface AskedSum {
  readonly deals: readonly Chance[];
  /** What is won already. */
  readonly wonMinor: number;
  /** What was to be won; null where nothing was. */
  readonly quotaMinor: number | null;
}

export interface Input {
  readonly sums: readonly AskedSum[];
  /** How many deals are looked at one by one, of the first sum. */
  readonly moves: number;
  /** How many points its curve has. */
  readonly points: number;
}

interface SumFound {
  readonly expected: number;
  readonly low: number;
  readonly middle: number;
  readonly high: number;
  readonly chance: number | null;
}

export interface Output {
  readonly sums: readonly SumFound[];
  readonly moves: readonly Move[];
  readonly curve: readonly { readonly minor: number; readonly chance: number }[];
}

const leftOf = ({ wonMinor, quotaMinor }: AskedSum) =>
  quotaMinor === null ? null : Math.max(0, quotaMinor - wonMinor);

/** In a thread of its own: of five thousand deals it takes a tenth of a second or two. */
export function computeOutlook({ sums, moves, points }: Input): Output {
  const distributions = sums.map(({ deals }) => distributionOf(deals));
  const [first] = sums;
  const left = first === undefined ? null : leftOf(first);
  return {
    sums: sums.map((asked, at) => {
      const found = distributions[at]!;
      const wanted = leftOf(asked);
      return {
        expected: asked.wonMinor + expectedOf(asked.deals),
        low: asked.wonMinor + percentileOf(found, 0.1),
        middle: asked.wonMinor + percentileOf(found, 0.5),
        high: asked.wonMinor + percentileOf(found, 0.9),
        chance: wanted === null ? null : chanceOfAtLeast(found, wanted),
      };
    }),
    moves:
      first === undefined || moves === 0
        ? []
        : left === null
          ? movesOf(first.deals, 0, moves).map(({ at }) => ({ at, ifWon: 0, ifLost: 0 }))
          : movesOf(first.deals, left, moves),
    curve: first === undefined || points === 0 ? [] : curveOf(distributions[0]!, first.wonMinor, points),
  };
}

/** The chance of at least so much, from what is nearly certain to what is hardly possible. */
function curveOf(found: Distribution, wonMinor: number, points: number): Output['curve'] {
  const [from, to] = [percentileOf(found, 0.01), percentileOf(found, 0.99)];
  if (to === from) return [{ minor: wonMinor + from, chance: 1 }];
  return Array.from({ length: points }, (_, at) => {
    const minor = Math.round(from + ((to - from) * at) / (points - 1));
    return { minor: wonMinor + minor, chance: chanceOfAtLeast(found, minor) };
  });
}

const taskName = 'outlook';

export const outlookTasks: HeavyTasks = {
  [taskName]: (_services, input) => Promise.resolve(computeOutlook(input as Input)),
};

/** What sums of deals may come to, computed apart from whoever answers requests. */
export const readOutlook = async (services: Services, input: Input): Promise<Output> =>
  (await services.quick.run(taskName, input)) as Output;
