import type { MonthForecast, PlainDate } from '@kettle/contract';
import type { Services } from '../../platform/services';
import { readDealNames, readOutlook, type AskedSum } from '../../processes/forecast/index';
import { readTeamOf } from '../../records/rights/index';
import { todayOf, type SignedIn } from '../../records/users/index';
import { readDue } from './month-deals';
import { readBoard } from './quota-board';

const mostMoves = 3;

/** What a month may bring: what was won, and each open deal by its value and its chance in the month, independent of each other. */
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
  const asked: AskedSum = { deals, wonMinor, quotaMinor };
  const { sums, moves } = await readOutlook(services, { sums: [asked], moves: mostMoves, points: 0 });
  const [found] = sums;
  const names = await readDealNames(
    db,
    moves.map(({ at }) => known[at]!.id),
  );
  return {
    month,
    wonMinor,
    open: due.length,
    openMinor: deals.reduce((sum, { minor }) => sum + minor, 0),
    expectedMinor: found!.expected,
    lowMinor: found!.low,
    middleMinor: found!.middle,
    highMinor: found!.high,
    quotaMinor,
    quotaChance: found!.chance,
    moves: moves.map(({ at, ifWon, ifLost }) => {
      const { id, minor, chance } = known[at]!;
      return {
        ...{ dealId: id, name: names.get(id)?.name ?? '', minor, chance },
        ifWon: quotaMinor === null ? null : ifWon,
        ifLost: quotaMinor === null ? null : ifLost,
      };
    }),
    unconverted,
  };
}
