import type { UserId } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf } from '../../platform/ids';
import { ownersOf } from '../../platform/work/events';
import type { Deriver, Work } from '../../platform/work/work';
import { idOfHex, type WrittenRow } from '../../platform/work/written';

/** What every Round is computed with. */
const everybodys = new Set([
  'setting',
  'pipeline',
  'stage',
  'standing',
  'exchange_rate',
  'cadence_version',
] as const) as ReadonlySet<string>;
/** Bulk work that names more people and deals than this moves every Round: looking each up would cost more than computing them again. */
const mostNamed = 500;

/**
 * Moves the revision of every Round that rests on the rows a unit of work wrote: those of the people the rows name, of whoever owns the
 * contacts and deals they are about, and of whoever has a step planned with these. One statement, sent with the commit.
 */
export const moveRounds: Deriver = async (w, { rows }) => {
  if (rows.some(({ table }) => everybodys.has(table))) return moveAllRounds(w);
  const people = [...ownersOf(rows), ...named(rows, 'app_user', 'user_id')];
  const contacts = named(rows, 'contact', 'contact_id');
  const deals = named(rows, 'deal', 'deal_id');
  if (people.length + contacts.length + deals.length > mostNamed) return moveAllRounds(w);
  const parts = [
    ...(people.length > 0 ? ['SELECT id AS person FROM app_user WHERE id IN (:people)'] : []),
    ...(contacts.length > 0
      ? [
          'SELECT owner_id FROM contact WHERE id IN (:contacts)',
          "SELECT owner_id FROM task WHERE contact_id IN (:contacts) AND state = 'open'",
          'SELECT owner_id FROM deal WHERE contact_id IN (:contacts)',
          'SELECT owner_id FROM sales_lead WHERE contact_id IN (:contacts)',
          'SELECT owner_id FROM agreement WHERE contact_id IN (:contacts)',
        ]
      : []),
    ...(deals.length > 0
      ? [
          'SELECT owner_id FROM deal WHERE id IN (:deals)',
          "SELECT owner_id FROM task WHERE deal_id IN (:deals) AND state = 'open'",
        ]
      : []),
  ];
  if (parts.length === 0) return;
  // In one order, so that two who move the same do not wait for each other in a ring.
  await w.later(
    `INSERT INTO round_revision (user_id, revision)
     WITH concerned (person) AS (${parts.join(' UNION ')}) SELECT person, :set FROM concerned WHERE person IS NOT NULL ORDER BY person
     ON DUPLICATE KEY UPDATE revision = VALUES(revision)`,
    {
      set: bytesOf(w.id),
      people: people.map((id) => bytesOf(id)),
      contacts: contacts.map((id) => bytesOf(id)),
      deals: deals.map((id) => bytesOf(id)),
    },
  );
};

/** Every Round: what they are computed with changed. */
export async function moveAllRounds(w: Pick<Work, 'id' | 'later'>): Promise<void> {
  await w.later(
    `INSERT INTO round_revision (user_id, revision) SELECT id, :set FROM app_user ORDER BY id
     ON DUPLICATE KEY UPDATE revision = VALUES(revision)`,
    { set: bytesOf(w.id) },
  );
}

/** Ids of one table's rows, and those that rows of any table name in a column, before or after. */
function named(rows: readonly WrittenRow[], table: string, column: string): string[] {
  const hexes = rows.flatMap((row) => {
    const names = row.table === table ? [column, 'id'] : [column];
    return names.flatMap((name) => [row.refs[name], row.was?.[name]]);
  });
  return [...new Set(hexes.filter((hex) => hex !== null && hex !== undefined))].map((hex) => idOfHex(hex));
}

/** What a person's Round stands at; another value whenever something that it rests on has changed. */
export async function readRevision(db: Queryable, ownerId: UserId): Promise<string> {
  const [row] = await db.rows<Row<'round_revision', 'revision'>>(
    'SELECT revision FROM round_revision WHERE user_id = :user',
    { user: bytesOf(ownerId) },
  );
  return row?.revision.toString('hex') ?? 'none';
}
