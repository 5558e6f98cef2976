import type { DealGridRow, DealList, DealQuery, listDeals as listing } from '@kettle/contract';
import { dealGridFields } from '@kettle/contract';
import type * as z from 'zod';
import { wholeNumber } from '../../platform/database/values';
import type { Services } from '../../platform/services';
import { filterSetting, type RecordList } from '../../records/grid/index';
import { readPipelines } from '../../records/pipelines/index';
import { reachParameters, withinReach } from '../../records/rights/index';
import { readAt, type SignedIn } from '../../records/users/index';
import { dealClauses, dealSetting, dealSql } from './deal-filter';
import { readDealGridRows, readDealRows } from './deal-rows';

/** Every open deal of a view, for the lanes. */
export async function listDeals(
  services: Services,
  who: SignedIn,
  asked: z.output<typeof listing>,
): Promise<DealList> {
  const { database } = services;
  const query = { ...asked, status: 'open' as const };
  const at = readAt(services, who);
  const usual = await filterSetting(services, query, { who, today: at.today, subject: 'deal' });
  const setting = await dealSetting(services, query, usual);
  const { where, parameters } = dealClauses(query, setting);
  const [rows, pipelines, [count]] = await Promise.all([
    readDealRows(database, where.replace(/^WHERE /, ''), parameters, at),
    readPipelines(database),
    database.rows<{ open: string }>(
      `SELECT COUNT(*) AS open FROM deal d WHERE d.status = 'open' AND ${withinReach(who, 'deal', 'd')}`,
      reachParameters(who),
    ),
  ]);
  return { pipelines, rows, hidden: wholeNumber(count?.open ?? 0) - rows.length };
}

/** The list of deals: ids in the order of an index first, then only the rows of the page. */
export const dealsList: RecordList<DealQuery, DealGridRow> = {
  what: 'deals',
  kind: 'deal',
  subject: 'deal',
  fields: dealGridFields,
  sql: dealSql,
  counts: 'deal',
  usualSort: [{ field: 'next-step', order: 'up' }],
  usualColumns: 'name,company,contact,stage,value,chance,weighted,close,next-step,owner',
  setting: dealSetting,
  clauses: dealClauses,
  whole: (_, { who }) => ({
    where: `WHERE ${withinReach(who, 'deal', 'd')}`,
    parameters: { ...reachParameters(who) },
  }),
  rows: readDealGridRows,
};
