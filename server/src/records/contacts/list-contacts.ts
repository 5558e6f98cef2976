import type { ContactQuery, ContactRow, ListContacts } from '@kettle/contract';
import { gridFields } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { wholeNumber } from '../../platform/database/values';
import type { IdBytes } from '../../platform/ids';
import { type FilterSetting, readPageIds, type RecordList } from '../grid/index';
import { reachParameters, withinReach } from '../rights/index';
import type { SignedIn } from '../users/index';
import { archivedSql, contactClauses, contactSql } from './contact-filter';
import { readContactRows } from './contact-rows';
import { writeCardsOf } from './contact-cards';

/** The list of contacts: ids come first, in the order of one index (or of the full-text index when searching), then only the rows of the page. */
export const contactsList: RecordList<ContactQuery, ContactRow> = {
  what: 'people',
  kind: 'contact',
  subject: 'contact',
  fields: gridFields,
  sql: contactSql,
  counts: 'contact',
  usualSort: [{ field: 'name', order: 'up' }],
  usualColumns: 'name,company,job-title,email,phone,country,standing,owner,source,tags',
  clauses: contactClauses,
  whole: ({ archived }, { who }) => ({
    where: `WHERE ${archivedSql('c', archived)} AND ${withinReach(who, 'contact', 'c')}`,
    parameters: { ...reachParameters(who) },
  }),
  rows: (db, ids) => readContactRows(db, ids),
  cards: writeCardsOf,
};

/** Ids of a view in its order. */
export function readContactIds(
  db: Queryable,
  query: ContactQuery & Partial<Pick<ListContacts, 'sort' | 'group'>>,
  setting: FilterSetting,
  { limit }: { readonly limit: number },
): Promise<IdBytes[]> {
  const { sort = contactsList.usualSort, group } = query;
  const page = { sort, group, after: 0, limit };
  return readPageIds(db, contactSql(setting), contactClauses(query, setting), page, setting);
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
