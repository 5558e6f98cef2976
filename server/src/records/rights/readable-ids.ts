import type { Queryable } from '../../platform/database/database';
import type { IdBytes } from '../../platform/ids';
import type { SignedIn } from '../users/index';
import { isLimited, type Owned, ownedTables, reachParameters, withinReach } from './reach-sql';

/** Those of some records that somebody may read, in their order. */
export async function readableIds<Id extends IdBytes | Buffer>(
  db: Queryable,
  who: SignedIn,
  kind: Owned,
  ids: readonly Id[],
): Promise<Id[]> {
  if (ids.length === 0 || !isLimited(who, kind, 'reads')) return [...ids];
  const rows = await db.rows<{ id: Buffer }>(
    `SELECT r.id FROM ${ownedTables[kind]} r WHERE r.id IN (:ids) AND ${withinReach(who, kind, 'r')} ORDER BY r.id`,
    { ...reachParameters(who), ids: [...ids] },
  );
  const readable = new Set(rows.map(({ id }) => id.toString('hex')));
  return ids.filter((id) => readable.has(id.toString('hex')));
}
