import type { GivePreview, PlainDate, previewGive as asked, UserId } from '@kettle/contract';
import type * as z from 'zod';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf, idOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { readPerson, type SignedIn, todayOf } from '../../records/users/index';
import { readRoundOf } from './kept-rounds';

/** More days are not looked at before giving. */
const mostDays = 5;

/** What giving open tasks to somebody does to the days they are due on: late ones are today's. */
export async function previewGive(
  services: Services,
  who: SignedIn,
  { ids, ownerId }: z.output<typeof asked>,
): Promise<GivePreview> {
  const today = todayOf(services, who);
  const rows = await services.database.rows<Row<'task', 'owner_id' | 'due_on' | 'minutes'>>(
    `SELECT owner_id, due_on, minutes FROM task
      WHERE id IN (:ids) AND state = 'open' AND owner_id <> :owner ORDER BY due_on, id`,
    { ids: ids.map((id) => bytesOf(id)), owner: bytesOf(ownerId) },
  );
  const tasks = rows.map((row) => ({
    ownerId: idOf<UserId>(row.owner_id),
    on: row.due_on < today ? today : row.due_on,
    minutes: row.minutes,
  }));
  const days = [...new Set(tasks.map(({ on }) => on))].sort().slice(0, mostDays);
  const givers = [...new Set(tasks.map((task) => task.ownerId))];
  const people: GivePreview['people'] = [];
  for (const id of tasks.length === 0 ? [] : [ownerId, ...givers]) {
    const changeOn = (on: PlainDate) =>
      tasks
        .filter((task) => task.on === on && (id === ownerId || task.ownerId === id))
        .reduce((sum, { minutes }) => sum + (id === ownerId ? minutes : -minutes), 0);
    const { name } = await readPerson(services.database, id);
    const known = await readDays(services, id);
    people.push({
      id,
      name,
      days: days.flatMap((on) => {
        const change = changeOn(on);
        const day = known.get(on);
        return change === 0 || day === undefined ? [] : [{ on, ...day, change }];
      }),
    });
  }
  return { people };
}

/** What is planned on somebody's days and what is left of them: of today, all that is due. */
async function readDays(services: Services, userId: UserId) {
  const { on: today, days, header } = await readRoundOf(services, userId, { limit: 1 });
  return new Map(
    days.map(({ on, plannedMinutes, freeMinutes }) =>
      on === today
        ? [on, { plannedMinutes: header.leftMinutes, leftMinutes: header.freeMinutes - header.leftMinutes }]
        : [on, { plannedMinutes, leftMinutes: freeMinutes }],
    ),
  );
}
