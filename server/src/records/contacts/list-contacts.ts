import type {
  CustomSubject,
  ContactCount,
  ContactGroups,
  ContactQuery,
  ContactRow,
  ListContacts,
} from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { wholeNumber } from '../../platform/database/values';
import { idOf } from '../../platform/ids';
import { readCustomFields } from '../fields/index';
import { reachParameters, withinReach } from '../rights/index';
import type { SignedIn } from '../users/index';
import type { FilterSetting } from '../grid/index';
import { archivedSql, contactClauses, contactOrder, contactSortExpression } from './contact-filter';
import { readContactRows } from './contact-rows';
import type { Row } from '../../platform/database/schema.generated';

/**
 * One page of contacts, anywhere in the list. Reads ids first, in the order of one index (or of the full-text index when
 * searching), then only the rows of the page.
 */
export async function listContacts(
  db: Queryable,
  query: ListContacts,
  setting: FilterSetting,
): Promise<ContactRow[]> {
  return readContactRows(db, await readContactIds(db, query, setting, query.limit, query.from));
}

/** Ids of a view in its order. */
export async function readContactIds(
  db: Queryable,
  query: ContactQuery & Partial<Pick<ListContacts, 'sort' | 'group'>>,
  setting: FilterSetting,
  limit: number,
  from = 0,
): Promise<Buffer[]> {
  const { where, parameters } = contactClauses(query, setting);
  const order = contactOrder(query.sort ?? [{ field: 'name', order: 'up' }], query.group, setting);
  const rows = await db.rows<Row<'contact', 'id'>>(
    `SELECT c.id FROM contact c ${where} ORDER BY ${order.where} LIMIT ${limit} OFFSET ${from}`,
    { ...parameters, ...order.parameters },
  );
  return rows.map((row) => row.id);
}

/** What filters need to know: the reader, their day, and the custom fields when one is asked for. */
export async function filterSetting(
  db: Queryable,
  query: { filter?: unknown; sort?: readonly { field: string }[] | undefined; group?: string | undefined },
  who: SignedIn,
  today: string,
  subject: CustomSubject = 'contact',
): Promise<FilterSetting> {
  const asksCustom = JSON.stringify([query.filter ?? null, query.sort ?? null, query.group ?? null]).includes(
    'custom:',
  );
  return { who, today, fields: asksCustom ? await readCustomFields(db, subject) : [] };
}

export async function countContacts(
  db: Queryable,
  query: ContactQuery,
  setting: FilterSetting,
): Promise<Pick<ContactCount, 'found'>> {
  const { where, parameters } = contactClauses(query, setting);
  const [row] = await db.rows<{ found: string }>(
    `SELECT COUNT(*) AS found FROM contact c ${where}`,
    parameters,
  );
  return { found: wholeNumber(row?.found ?? 0) };
}

const mostGroups = 500;

/** Groups of a view with their counts, in the order in which the list shows them. */
export async function groupContacts(
  db: Queryable,
  query: ListContacts,
  setting: FilterSetting,
  names: (field: string, key: string) => string,
): Promise<ContactGroups> {
  if (query.group === undefined) return { groups: [] };
  const { where, parameters } = contactClauses(query, setting);
  const expression = contactSortExpression(query.group, setting, parameters);
  const key =
    query.group === 'standing' ? 'c.standing_id' : query.group === 'owner' ? 'c.owner_id' : expression;
  const rows = await db.rows<{ grouping: string | Buffer | null; count: string }>(
    `SELECT ${key} AS grouping, COUNT(*) AS count FROM contact c ${where}
      GROUP BY ${key}${key === expression ? '' : `, ${expression}`}
      ORDER BY ${expression} IS NULL, ${expression} LIMIT ${mostGroups}`,
    parameters,
  );
  return {
    groups: rows.map((row) => {
      const value = Buffer.isBuffer(row.grouping) ? idOf<string>(row.grouping) : row.grouping;
      return {
        key: value === null ? null : String(value),
        name: value === null || value === '' ? 'empty' : names(query.group!, String(value)),
        count: wholeNumber(row.count),
      };
    }),
  };
}

const totalKeptMillis = 10_000;

/** All contacts that somebody may read, archived or not as asked. Counting 200,000 takes longer than a page of them, so it is kept for ten seconds. */
export class TotalContacts {
  private readonly known = new Map<string, { total: number; at: number }>();

  async read(
    db: Queryable,
    who: SignedIn,
    archived: ContactQuery['archived'],
    nowMillis: number,
  ): Promise<number> {
    const where = `${archivedSql('c', archived)} AND ${withinReach(who, 'contact', 'c')}`;
    const key = who.reach.reads === 'everybody' ? where : `${who.id} ${where}`;
    const known = this.known.get(key);
    if (known && Math.abs(nowMillis - known.at) < totalKeptMillis) return known.total;
    const [row] = await db.rows<{ total: string }>(
      `SELECT COUNT(*) AS total FROM contact c WHERE ${where}`,
      reachParameters(who),
    );
    const total = wholeNumber(row?.total ?? 0);
    this.known.set(key, { total, at: nowMillis });
    return total;
  }

  forget(): void {
    this.known.clear();
  }
}
