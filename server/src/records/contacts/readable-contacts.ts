import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { reachParameters, withinReach } from '../rights/index';
import type { SignedIn } from '../users/index';

/** Those of some contacts that somebody may read, in their order. */
export async function readableContacts(
  db: Queryable,
  who: SignedIn,
  ids: readonly Buffer[],
): Promise<Buffer[]> {
  if (ids.length === 0 || who.reach.reads === 'everybody') return [...ids];
  const rows = await db.rows<Row<'contact', 'id'>>(
    `SELECT c.id FROM contact c WHERE c.id IN (:ids) AND ${withinReach(who, 'contact', 'c')} ORDER BY c.id`,
    { ...reachParameters(who), ids },
  );
  const readable = new Set(rows.map(({ id }) => id.toString('hex')));
  return ids.filter((id) => readable.has(id.toString('hex')));
}
