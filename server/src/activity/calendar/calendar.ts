import type { PlainDate, Spine, SpineBlock, UserId } from '@kettle/contract';
import { freeGaps, hoursOf } from '@kettle/core/calendar';
import { addDays, localMoment, type WorkingCalendar } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import { instantOf, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import type { Row, Tables } from '../../platform/database/schema.generated';

type MeetingRow = Row<'meeting', 'id' | 'title' | 'place' | 'starts_at' | 'ends_at' | 'travel_minutes'>;

/** Meetings that touch the days from `from` up to but without `to`, in the person's zone. Relies on meeting_of_day. */
export async function readBlocks(
  db: Queryable,
  userId: string,
  span: { from: PlainDate; to: PlainDate; zone: string },
): Promise<SpineBlock[]> {
  const rows = await db.rows<MeetingRow>(
    `SELECT id, title, place, starts_at, ends_at, travel_minutes FROM meeting
      WHERE user_id = :user AND starts_at < :to AND ends_at > :from ORDER BY starts_at, id`,
    {
      user: bytesOf(userId),
      from: sqlInstant(localMoment(span.from, 0, span.zone)),
      to: sqlInstant(localMoment(span.to, 0, span.zone)),
    },
  );
  return rows.map((row) => ({
    id: idOf(row.id),
    title: row.title,
    place: row.place,
    startsAt: instantOf(row.starts_at),
    endsAt: instantOf(row.ends_at),
    travelMinutes: row.travel_minutes,
  }));
}

interface PromiseRow extends Row<'task', 'minutes' | 'purpose'> {
  contact_name: Tables['contact']['display_name'];
  promised_at: string;
}

/** One day of a person: hours, meetings, promised tasks, and the free gaps from now on. */
export async function readSpine(
  db: Queryable,
  day: { userId: UserId; on: PlainDate; calendar: WorkingCalendar; now: string },
): Promise<Spine> {
  const { calendar, on, now, userId } = day;
  const blocks = await readBlocks(db, userId, { from: on, to: addDays(on, 1), zone: calendar.zone });
  const promises = await db.rows<PromiseRow>(
    `SELECT t.promised_at, t.minutes, t.purpose, c.display_name AS contact_name
       FROM task t LEFT JOIN contact c ON c.id = t.contact_id
      WHERE t.owner_id = :user AND t.state = 'open' AND t.due_on = :on AND t.promised_at IS NOT NULL
      ORDER BY t.promised_at, t.id`,
    { user: bytesOf(userId), on },
  );
  const hours = hoursOf(on, calendar);
  return {
    on,
    dayStart: localMoment(on, calendar.startMinute, calendar.zone),
    dayEnd: localMoment(on, calendar.endMinute, calendar.zone),
    blocks,
    gaps: hours === null ? [] : freeGaps(hours, blocks, now),
    promises: promises.map((row) => ({
      at: instantOf(row.promised_at),
      words: row.contact_name ?? row.purpose,
      minutes: row.minutes,
    })),
  };
}
