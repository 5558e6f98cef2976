import type { Absence, planAbsence as asked, UserId } from '@kettle/contract';
import { addDays } from '@kettle/core/time';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull, newId } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { PersonWork } from '../../platform/work/work';
import { assertMayChange } from '../rights/index';

type AbsenceRow = Row<'absence', 'id' | 'user_id' | 'from_on' | 'to_on' | 'stand_in_id'> & {
  name: string;
  stand_in_name: string | null;
};

const columns = `a.id, a.user_id, a.from_on, a.to_on, a.stand_in_id, u.name, s.name AS stand_in_name
  FROM absence a JOIN app_user u ON u.id = a.user_id LEFT JOIN app_user s ON s.id = a.stand_in_id`;

const absenceOf = (row: AbsenceRow): Absence => ({
  id: idOf(row.id),
  userId: idOf(row.user_id),
  name: row.name,
  from: row.from_on,
  to: row.to_on,
  standInId: idOrNull(row.stand_in_id),
  standInName: row.stand_in_name,
});

/** Absences that are not over. */
export async function readAbsences(db: Queryable, now: string): Promise<Absence[]> {
  const rows = await db.rows<AbsenceRow>(
    `SELECT ${columns} WHERE a.to_on >= :today ORDER BY a.from_on, u.name, a.id`,
    // Somewhere it may still be yesterday.
    { today: addDays(now.slice(0, 10), -1) },
  );
  return rows.map(absenceOf);
}

/** Whose Round somebody works now. */
export async function readStandsInFor(
  db: Queryable,
  userId: UserId,
  now: string,
): Promise<{ id: UserId; name: string; until: string }[]> {
  const rows = await db.rows<AbsenceRow>(
    `SELECT ${columns} WHERE a.stand_in_id = :user AND a.from_on <= DATE(:now) AND a.to_on >= DATE(:now) ORDER BY u.name, a.id`,
    { user: bytesOf(userId), now: sqlInstant(now) },
  );
  return rows.map((row) => ({ id: idOf(row.user_id), name: row.name, until: row.to_on }));
}

/** Who works somebody's Round on a day that they are away; null while they are here, or nobody does. */
export async function readStandIn(db: Queryable, userId: UserId, on: string): Promise<UserId | null> {
  const [row] = await db.rows<Row<'absence', 'stand_in_id'>>(
    `SELECT stand_in_id FROM absence WHERE user_id = :user AND from_on <= :on AND to_on >= :on AND stand_in_id IS NOT NULL
      ORDER BY from_on, id LIMIT 1`,
    { user: bytesOf(userId), on },
  );
  return idOrNull<UserId>(row?.stand_in_id ?? null);
}

/**
 * Somebody is away: nothing is planned for them on these days, and whoever stands in works their Round, as if it were their own, until they
 * are back. Nothing changes its owner.
 * @throws Problem `not-yours` for somebody one does not lead, `already-exists` where they are away already
 */
export async function planAbsence(
  w: PersonWork,
  { userId, from, to, standInId }: z.output<typeof asked>,
): Promise<Absence> {
  await assertMayChange(w, w.who, userId);
  await w.rows('SELECT 1 FROM app_user WHERE id = :user FOR UPDATE', { user: bytesOf(userId) });
  const [other] = await w.rows(
    'SELECT 1 FROM absence WHERE user_id = :user AND from_on <= :to AND to_on >= :from',
    { user: bytesOf(userId), from, to },
  );
  if (other !== undefined)
    throw new Problem(
      'invalid-request',
      {},
      { fields: [{ path: 'from', message: $localize`lies in another absence` }] },
    );
  const id = newId<string>();
  await w.change(
    'INSERT INTO absence (id, user_id, from_on, to_on, stand_in_id, created_at) VALUES (:id, :user, :from, :to, :standIn, :now)',
    {
      ...{ id: bytesOf(id), user: bytesOf(userId), from, to },
      ...{ standIn: bytesOf(standInId), now: sqlInstant(w.now) },
    },
  );
  const made = await readAbsence(w, id);
  w.say($localize`Absence planned: ${made.name}:name:`);
  return made;
}

/** They are not away after all. @throws Problem `not-found`, `not-yours` */
export async function removeAbsence(w: PersonWork, id: string): Promise<void> {
  const { userId, name } = await readAbsence(w, id);
  await assertMayChange(w, w.who, userId);
  await w.change('DELETE FROM absence WHERE id = :id', { id: bytesOf(id) });
  w.say($localize`Absence removed: ${name}:name:`);
}

async function readAbsence(db: Queryable, id: string): Promise<Absence> {
  const [row] = await db.rows<AbsenceRow>(`SELECT ${columns} WHERE a.id = :id`, { id: bytesOf(id) });
  if (!row) throw new Problem('not-found');
  return absenceOf(row);
}
