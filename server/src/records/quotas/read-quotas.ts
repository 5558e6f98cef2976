import type { Quotas, UserId, quotasQuery } from '@kettle/contract';
import { quotaIn, type SetMonth } from '@kettle/core/quotas';
import { addMonths } from '@kettle/core/time';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import { readTeamOf, type TeamMate } from '../rights/index';
import type { SignedIn } from '../users/index';

/** Whose a quota is: a person's, or that of all whom a manager leads. */
export interface QuotaKey {
  readonly userId: UserId;
  readonly isTeam: boolean;
}

const nameOf = ({ userId, isTeam }: QuotaKey) => `${userId}${isTeam ? '+' : ''}`;

/** What was set for people and teams, by month. @returns what is asked with a key; empty where nothing was set */
export async function readSetMonths(
  db: Queryable,
  userIds: readonly UserId[],
): Promise<(key: QuotaKey) => readonly SetMonth[]> {
  const rows =
    userIds.length === 0
      ? []
      : await db.rows<Row<'quota', 'user_id' | 'is_team' | 'from_month' | 'amount_minor'>>(
          'SELECT user_id, is_team, from_month, amount_minor FROM quota WHERE user_id IN (:ids) ORDER BY from_month',
          { ids: userIds.map((id) => bytesOf(id)) },
        );
  const known = new Map<string, SetMonth[]>();
  for (const row of rows) {
    const name = nameOf({ userId: idOf(row.user_id), isTeam: row.is_team === 1 });
    const minor = row.amount_minor === null ? null : wholeNumber(row.amount_minor);
    known.set(name, [...(known.get(name) ?? []), { month: row.from_month, minor }]);
  }
  return (key) => known.get(nameOf(key)) ?? [];
}

/** Whether somebody may set a quota: managers those of whom they lead, their own and their team's; admins all. */
export function maySetQuota(who: SignedIn, userId: UserId): boolean {
  if (who.role === 'rep') return false;
  const { changes } = who.reach;
  return userId === who.id || changes === 'everybody' || changes.has(userId);
}

/** Rows of months: a rep's own; of whoever leads, each person's, and before them each team's. */
export async function readQuotas(
  db: Queryable,
  who: SignedIn,
  { from, months: count }: z.output<typeof quotasQuery>,
): Promise<Quotas> {
  const team = await readTeamOf(db, who);
  const people = who.role === 'rep' ? team.filter(({ id }) => id === who.id) : team;
  const months = Array.from({ length: count }, (_, n) => addMonths(from, n));
  const setFor = await readSetMonths(
    db,
    people.map(({ id }) => id),
  );
  const rowOf = (person: TeamMate, isTeam: boolean): Quotas['rows'][number] => {
    const set = setFor({ userId: person.id, isTeam });
    const led =
      person.id === who.id && who.role === 'manager'
        ? people
        : people.filter(({ managerId, id }) => managerId === person.id || id === person.id);
    return {
      userId: person.id,
      name: person.name,
      isTeam,
      mayChange: maySetQuota(who, person.id),
      amounts: months.map((month) => ({
        minor: quotaIn(set, month),
        isSetHere: set.some((each) => each.month === month),
      })),
      ofPeople: isTeam
        ? months.map((month) =>
            sumOf(led.map(({ id }) => quotaIn(setFor({ userId: id, isTeam: false }), month))),
          )
        : null,
    };
  };
  return {
    months,
    rows: [
      ...people.filter(({ role }) => role === 'manager').map((person) => rowOf(person, true)),
      ...people.map((person) => rowOf(person, false)),
    ],
  };
}

/** Of those that are known; null where none is. */
export const sumOf = (amounts: readonly (number | null)[]): number | null => {
  const known = amounts.filter((each) => each !== null);
  return known.length === 0 ? null : known.reduce((sum, each) => sum + each, 0);
};
