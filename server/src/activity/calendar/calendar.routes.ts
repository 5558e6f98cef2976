import { sqlInstant } from '../../platform/database/values';
import type { Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import { bytesOf, newId } from '../../platform/ids';
import type { MeetingId } from '@kettle/contract';
import type { Services } from '../../platform/services';
import { readPerson, todayOf } from '../../records/users/index';
import { dayOwner } from '../../records/rights/index';
import { readSpine } from './calendar';
import { work } from '../../platform/work/work';

export function calendarRoutes(
  services: Services,
): Pick<Handlers, 'spine' | 'createMeeting' | 'removeMeeting'> {
  const { database, clock, calendars, settings } = services;
  return {
    spine: async ({ query, who }) => {
      const userId = dayOwner(who, query.owner);
      const person = await readPerson(database, userId);
      const { organisation } = await settings.read(database);
      const calendar = calendars.of(person, organisation);
      return readSpine(database, {
        userId,
        on: query.on ?? todayOf(services, person),
        calendar,
        now: clock.now(),
      });
    },
    createMeeting: async ({ body, who }) => {
      const id = newId<MeetingId>();
      await work(services, who, async (w) => {
        await w.change(
          `INSERT INTO meeting (id, user_id, title, place, starts_at, ends_at, travel_minutes, contact_id, created_at)
           VALUES (:id, :user, :title, :place, :startsAt, :endsAt, :travelMinutes, :contact, :now)`,
          {
            id: bytesOf(id),
            user: bytesOf(who.id),
            title: body.title,
            place: body.place || null,
            startsAt: sqlInstant(body.startsAt),
            endsAt: sqlInstant(body.endsAt),
            travelMinutes: body.travelMinutes,
            contact: bytesOf(body.contactId),
            now: sqlInstant(clock.now()),
          },
        );
      });
      const { title, place, startsAt, endsAt, travelMinutes } = body;
      return { id, title, place, startsAt, endsAt, travelMinutes };
    },
    removeMeeting: async ({ params, who }) => {
      await work(services, who, async (w) => {
        const ids = { id: bytesOf(params.id), user: bytesOf(who.id) };
        const removed = await w.change('DELETE FROM meeting WHERE id = :id AND user_id = :user', ids);
        if (removed === 0) throw new Problem('not-found');
      });
      return { ok: true };
    },
  };
}
