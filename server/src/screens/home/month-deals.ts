import type { PlainDate } from '@kettle/contract';
import { addDays, addMonths } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import {
  inTimeOf,
  readOpenDeals,
  readSlips,
  type OpenDeal,
  type Period,
} from '../../processes/forecast/index';
import type { UserId } from '@kettle/contract';

export const periodOf = (month: PlainDate): Period => ({
  from: month,
  until: addDays(addMonths(month, 1), -1),
});

/** An open deal with the chance that it is won in a month. */
export type DueDeal = OpenDeal & { readonly chance: number };

/** Open deals with a chance to be won in a month. None of a month that is over. */
export async function readDue(
  db: Queryable,
  ids: readonly UserId[],
  { month, today }: { readonly month: PlainDate; readonly today: PlainDate },
): Promise<DueDeal[]> {
  const period = periodOf(month);
  if (period.until < today) return [];
  const [deals, slips] = await Promise.all([readOpenDeals(db, ids, null), readSlips(db, today)]);
  return deals
    .map((deal) => ({ ...deal, chance: deal.winChance * inTimeOf(deal, period, { slips, today }) }))
    .filter(({ chance }) => chance >= leastChance);
}

/** What hardly can be is not counted as due. */
const leastChance = 0.005;
