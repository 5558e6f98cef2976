import type { PlainDate, Spine, SpineBlock, UserId } from '@kettle/contract';
import { mostAppointmentMinutes } from '@kettle/contract';
import { type DayBlock, freeGaps, hoursOf } from '@kettle/core/calendar';
import { addDays, addMinutes, localMoment, type WorkingCalendar } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import { instantOf, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import type { Row, Tables } from '../../platform/database/schema.generated';
import { hadBy } from './appointments';
import { outsideEvents } from './outside-events';

type BlockRow = Row<
  'appointment',
  'id' | 'title' | 'place' | 'starts_at' | 'ends_at' | 'travel_minutes' | 'travel_after_minutes' | 'task_id'
> & { is_outside: number };

export interface Block extends SpineBlock {
  /** A task stands for it in the Round, with its minutes. */
  readonly hasTask: boolean;
}

/**
 * What takes time on the days from `from` up to but without `to`, in the person's zone: own appointments, those of colleagues they
 * come to, and what calendars elsewhere say.
 */
export async function readBlocks(
  db: Queryable,
  userId: string,
  span: { from: PlainDate; to: PlainDate; zone: string },
): Promise<Block[]> {
  const from = localMoment(span.from, 0, span.zone);
  const rows = await db.rows<BlockRow>(
    `${hadBy(
      'a.id, a.title, a.place, a.starts_at, a.ends_at, a.travel_minutes, a.travel_after_minutes, a.task_id, 0 AS is_outside',
      {
        condition:
          "a.state <> 'called-off' AND a.starts_at > :earliest AND a.starts_at < :to AND a.ends_at > :from",
      },
    )} UNION ALL ${outsideEvents('e.id, e.title, e.place, e.starts_at, e.ends_at, 0, 0, NULL, 1', { isBusy: true })}
     ORDER BY starts_at, id`,
    {
      people: [bytesOf(userId)],
      earliest: sqlInstant(addMinutes(from, -mostAppointmentMinutes - 1)),
      from: sqlInstant(from),
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
    travelAfterMinutes: row.travel_after_minutes,
    hasTask: row.task_id !== null,
    isOutside: row.is_outside === 1,
  }));
}

/**
 * The same for whoever counts the minutes of tasks as well: of an appointment that is a task only the way there and back is left.
 * @example withoutTasks of a visit from 10:00 to 11:00 with 20 minutes each way is 9:40 to 10:00 and 11:00 to 11:20
 */
export const withoutTasks = (blocks: readonly Block[]): DayBlock[] =>
  blocks.flatMap((block): DayBlock[] => {
    if (!block.hasTask) return [block];
    const { startsAt, endsAt, travelMinutes, travelAfterMinutes } = block;
    const none = { travelMinutes: 0, travelAfterMinutes: 0 };
    return [
      { ...none, startsAt: addMinutes(startsAt, -travelMinutes), endsAt: startsAt },
      { ...none, startsAt: endsAt, endsAt: addMinutes(endsAt, travelAfterMinutes) },
    ].filter((way) => way.startsAt < way.endsAt);
  });

interface PromiseRow extends Row<'task', 'minutes' | 'purpose'> {
  contact_name: Tables['contact']['display_name'];
  promised_at: string;
}

/** One day of a person: hours, appointments, promised tasks, and the free gaps from now on. */
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
        AND NOT EXISTS (SELECT 1 FROM appointment a WHERE a.task_id = t.id)
      ORDER BY t.promised_at, t.id`,
    { user: bytesOf(userId), on },
  );
  const hours = hoursOf(on, calendar);
  return {
    on,
    dayStart: localMoment(on, calendar.startMinute, calendar.zone),
    dayEnd: localMoment(on, calendar.endMinute, calendar.zone),
    blocks: blocks.map(({ hasTask: _, ...block }) => block),
    gaps: hours === null ? [] : freeGaps(hours, blocks, now),
    promises: promises.map((row) => ({
      at: instantOf(row.promised_at),
      words: row.contact_name ?? row.purpose,
      minutes: row.minutes,
    })),
  };
}
