import type {
  DealCount,
  DealList,
  DealRow,
  countDeals as counting,
  listDeals as listing,
  pageDeals as paging,
} from '@kettle/contract';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { wholeNumber } from '../../platform/database/values';
import { idOf, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { filterSetting } from '../../records/contacts/index';
import { readAllStages, readPipelines } from '../../records/pipelines/index';
import { reachParameters, withinReach } from '../../records/rights/index';
import { type SignedIn, todayOf } from '../../records/users/index';
import { dealClauses, dealGroupSql, dealOrder, dealsFrom } from './deal-filter';
import { readDealRows, readDealRowsOf } from './deal-rows';
import type { Row } from '../../platform/database/schema.generated';

/** Every open deal of a view, for the lanes. */
export async function listDeals(
  services: Services,
  who: SignedIn,
  asked: z.output<typeof listing>,
): Promise<DealList> {
  const { database } = services;
  const query = { ...asked, status: 'open' as const };
  const today = todayOf(services, who);
  const setting = await filterSetting(database, query, who, today, 'deal');
  const { where, parameters } = dealClauses(query, setting);
  const [rows, pipelines, [count]] = await Promise.all([
    readDealRows(database, where.replace(/^WHERE /, ''), parameters, today),
    readPipelines(database),
    database.rows<{ open: string }>(
      `SELECT COUNT(*) AS open FROM deal d WHERE d.status = 'open' AND ${withinReach(who, 'deal', 'd')}`,
      reachParameters(who),
    ),
  ]);
  return { pipelines, rows, hidden: wholeNumber(count?.open ?? 0) - rows.length };
}

/** One page of a list of deals: ids in the order of an index first, then only the rows of the page. */
export async function pageDeals(
  services: Services,
  who: SignedIn,
  query: z.output<typeof paging>,
): Promise<{ rows: DealRow[] }> {
  const { database } = services;
  const today = todayOf(services, who);
  const setting = await filterSetting(database, query, who, today, 'deal');
  const { where, parameters } = dealClauses(query, setting);
  const order = dealOrder(query.sort, query.group, setting);
  const ids = await database.rows<{ id: IdBytes }>(
    `SELECT d.id ${dealsFrom(where, order.where)} ${where} ORDER BY ${order.where} LIMIT ${query.limit} OFFSET ${query.after}`,
    { ...parameters, ...order.parameters },
  );
  return {
    rows: await readDealRowsOf(
      database,
      ids.map(({ id }) => id),
      today,
    ),
  };
}

interface SumColumns {
  count: string;
  total: string | null;
  weighted: string | null;
  unvalued: string | null;
}

const sums = `COUNT(*) AS count, SUM(d.home_minor) AS total, SUM(d.home_minor IS NULL) AS unvalued,
  SUM(ROUND(d.home_minor * COALESCE(d.win_probability, (SELECT st.win_probability FROM stage st WHERE st.id = d.stage_id)))) AS weighted`;

const sumOf = (row: SumColumns | undefined) => ({
  count: wholeNumber(row?.count ?? 0),
  totalMinor: wholeNumber(row?.total ?? 0),
  weightedMinor: wholeNumber(row?.weighted ?? 0),
  unvalued: wholeNumber(row?.unvalued ?? 0),
});

const mostGroups = 300;

/** Count, total and weighted total of a view, whole and by group. */
export async function countDeals(
  services: Services,
  who: SignedIn,
  query: z.output<typeof counting>,
): Promise<DealCount> {
  const { database } = services;
  const setting = await filterSetting(database, query, who, todayOf(services, who), 'deal');
  const { where, parameters } = dealClauses(query, setting);
  const [[found], [all]] = await Promise.all([
    database.rows<SumColumns>(`SELECT ${sums} ${dealsFrom(where)} ${where}`, parameters),
    database.rows<{ total: string }>(
      `SELECT COUNT(*) AS total FROM deal d WHERE ${withinReach(who, 'deal', 'd')}`,
      reachParameters(who),
    ),
  ]);
  const total = wholeNumber(all?.total ?? 0);
  if (query.group === undefined) return { found: sumOf(found), total, groups: [] };
  const { key, order } = dealGroupSql(query.group, setting, parameters);
  const rows = await database.rows<SumColumns & { grouping: Buffer | string | null }>(
    `SELECT ${key} AS grouping, ${sums} ${dealsFrom(where, key, order)} ${where}
      GROUP BY 1${key === order ? '' : `, ${order}`} ORDER BY ${order} IS NULL, ${order} LIMIT ${mostGroups}`,
    parameters,
  );
  const names = await namesOf(database, query.group);
  return {
    found: sumOf(found),
    total,
    groups: rows.map((row) => {
      const key = Buffer.isBuffer(row.grouping) ? idOf<string>(row.grouping) : row.grouping;
      const name = key === null || key === '' ? 'empty' : (names.get(String(key)) ?? String(key));
      return { key: key === null ? null : String(key), name, ...sumOf(row) };
    }),
  };
}

/** Names behind the ids that a grouping shows. */
async function namesOf(db: Queryable, group: string): Promise<ReadonlyMap<string, string>> {
  if (group === 'stage') return new Map([...(await readAllStages(db))].map(([id, { name }]) => [id, name]));
  if (group !== 'owner' && group !== 'pipeline') return new Map();
  const table = group === 'owner' ? 'app_user' : 'pipeline';
  const rows = await db.rows<Row<'app_user', 'id' | 'name'>>(`SELECT id, name FROM ${table} ORDER BY id`);
  return new Map(rows.map(({ id, name }) => [idOf<string>(id), name]));
}
