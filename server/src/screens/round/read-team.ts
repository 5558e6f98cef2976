import type { TeamMember, UserId } from '@kettle/contract';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf, idOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { readAbsences, type SignedIn, todayOf } from '../../records/users/index';
import { readRoundOf } from './kept-rounds';

/** More are no team that one person leads day by day. */
const mostPeople = 60;

/** How the days of those somebody leads stand, whoever has most minutes over first. Their Rounds are kept, so most are read, not computed. */
export async function readTeam(services: Services, who: SignedIn): Promise<TeamMember[]> {
  const { database, clock } = services;
  const { changes } = who.reach;
  const led = changes === 'everybody' ? null : [...changes].map((id) => bytesOf(id));
  if (led?.length === 0) return [];
  const people = await database.rows<Row<'app_user', 'id' | 'name'>>(
    `SELECT id, name FROM app_user WHERE deactivated_at IS NULL AND role <> 'admin' AND id <> :me
      ${led === null ? '' : 'AND id IN (:led)'} ORDER BY name, id LIMIT ${mostPeople}`,
    { me: bytesOf(who.id), led },
  );
  const today = todayOf(services, who);
  const absences = (await readAbsences(database, clock.now())).filter(
    ({ from, to }) => from <= today && to >= today,
  );
  const members: TeamMember[] = [];
  // One after the other: a Round that is not kept is computed in one thread in any case.
  for (const { id, name } of people) {
    const userId = idOf<UserId>(id);
    const { header, counts, atRisk } = await readRoundOf(services, userId, { limit: 1 });
    const absence = absences.find((each) => each.userId === userId);
    members.push({
      id: userId,
      name,
      away: absence ? { until: absence.to, standInName: absence.standInName } : null,
      done: header.done,
      rows: counts.all,
      minutes: header.leftMinutes,
      freeMinutes: header.freeMinutes,
      overMinutes: Math.max(0, header.leftMinutes - header.freeMinutes),
      late: counts.late,
      atRisk,
    });
  }
  return members.sort(
    (one, other) => other.overMinutes - one.overMinutes || (one.name < other.name ? -1 : 1),
  );
}
