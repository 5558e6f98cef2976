import type { Queryable } from '../../platform/database/database';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';

/**
 * Whom a change of records, or of what is about them, concerns at once: owners of contacts and deals, and the teams of deals.
 * @returns people by record; records that are nobody's, or of another kind, are left out
 */
export async function readConcerned(
  db: Queryable,
  ids: readonly string[],
): Promise<ReadonlyMap<string, readonly string[]>> {
  if (ids.length === 0) return new Map();
  const rows = await db.rows<{ about: IdBytes; person: IdBytes }>(
    `SELECT id AS about, owner_id AS person FROM contact WHERE id IN (:ids) AND owner_id IS NOT NULL
      UNION ALL SELECT id, owner_id FROM deal WHERE id IN (:ids)
      UNION ALL SELECT deal_id, user_id FROM deal_colleague WHERE deal_id IN (:ids) ORDER BY about, person`,
    { ids: ids.map((id) => bytesOf(id)) },
  );
  const people = new Map<string, string[]>();
  for (const { about, person } of rows) {
    const id = idOf<string>(about);
    people.set(id, [...(people.get(id) ?? []), idOf<string>(person)]);
  }
  return people;
}
