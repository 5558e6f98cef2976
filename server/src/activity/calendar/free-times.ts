import type { FreeTimes, freeTimesAsked, PlainDate, UserId } from '@kettle/contract';
import {
  beginningsIn,
  commonGaps,
  freeGaps,
  hoursOf,
  type DayBlock,
  type DayGap,
} from '@kettle/core/calendar';
import { addDays, localMinute, sayMinute, type WorkingCalendar } from '@kettle/core/time';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { readPerson, type SignedIn } from '../../records/users/index';
import { readBlocks } from './spine';

type Asked = z.output<typeof freeTimesAsked>;

const daysLooked = 21;
const mostTimes = 6;
const mostOfDay = 2;

/**
 * The next times that suit everybody who comes: within the hours of our people and of those they meet, each in their own zone and with their own
 * days off, and free of what ours have. What the others have nobody here knows.
 */
export async function readFreeTimes(
  services: Services,
  who: SignedIn,
  asked: Asked,
): Promise<FreeTimes['times']> {
  const { database, calendars, settings, clock } = services;
  const { organisation } = await settings.read(database);
  const ours = [];
  for (const id of new Set([asked.ownerId ?? who.id, ...asked.colleagueIds])) {
    const person = await readPerson(database, id);
    const calendar = calendars.of(person, organisation);
    ours.push({ calendar, blocks: await readTaken(database, id, { from: asked.from, zone: calendar.zone }) });
  }
  const guests = await readGuests(database, asked.contactIds);
  const theirs = guests.map((guest) => ({
    calendar: calendars.of({ country: guest.country, zone: guest.zone }, organisation),
    blocks: [] as readonly DayBlock[],
  }));
  const now = clock.now();
  const times: string[] = [];
  for (let n = 0; n < daysLooked && times.length < mostTimes; n += 1) {
    const on = addDays(asked.from, n);
    const [first, ...others] = [...ours, ...theirs];
    const free = [gapsOf(first!, [on], now), ...others.map((each) => gapsOf(each, around(on), now))];
    times.push(...beginningsIn(commonGaps(free), { ...asked, most: mostOfDay }));
  }
  return times.slice(0, mostTimes).map((startsAt) => ({
    startsAt,
    elsewhere: guests
      .filter(({ zone }) => localMinute(startsAt, zone) !== localMinute(startsAt, who.zone))
      .map(({ name, zone }) => $localize`${sayMinute(localMinute(startsAt, zone))}:time: for ${name}:name:`),
  }));
}

/** The days of others that a day of ours can meet: elsewhere it may be yesterday or tomorrow. */
const around = (on: PlainDate) => [-1, 0, 1].map((days) => addDays(on, days));

function gapsOf(
  { calendar, blocks }: { readonly calendar: WorkingCalendar; readonly blocks: readonly DayBlock[] },
  days: readonly PlainDate[],
  now: string,
): DayGap[] {
  return days.flatMap((on) => {
    const hours = hoursOf(on, calendar);
    return hours === null ? [] : freeGaps(hours, blocks, now);
  });
}

/** Appointments and promised tasks of the days looked at. */
export async function readTaken(
  db: Queryable,
  userId: UserId,
  { from, zone }: { readonly from: PlainDate; readonly zone: string },
): Promise<DayBlock[]> {
  const blocks = await readBlocks(db, userId, {
    from: addDays(from, -1),
    to: addDays(from, daysLooked + 1),
    zone,
  });
  const promises = await db.rows<Row<'task', 'minutes'> & { promised_at: string }>(
    `SELECT t.promised_at, t.minutes FROM task t
      WHERE t.owner_id = :user AND t.state = 'open' AND t.promised_at IS NOT NULL AND t.due_on BETWEEN :from AND :to
        AND NOT EXISTS (SELECT 1 FROM appointment a WHERE a.task_id = t.id) ORDER BY t.promised_at, t.id`,
    { user: bytesOf(userId), from: addDays(from, -1), to: addDays(from, daysLooked + 1) },
  );
  return [
    ...blocks,
    ...promises.map(({ promised_at: at, minutes }) => ({
      startsAt: instantOf(at),
      endsAt: new Date(Date.parse(instantOf(at)) + minutes * 60_000).toISOString(),
      travelMinutes: 0,
      travelAfterMinutes: 0,
    })),
  ];
}

async function readGuests(db: Queryable, ids: readonly string[]) {
  if (ids.length === 0) return [];
  const rows = await db.rows<Row<'contact', 'display_name' | 'country' | 'zone'>>(
    'SELECT display_name, country, zone FROM contact WHERE id IN (:ids) ORDER BY display_name, id',
    { ids: ids.map((id) => bytesOf(id)) },
  );
  return rows.map(({ display_name: name, country, zone }) => ({ name, country, zone }));
}
