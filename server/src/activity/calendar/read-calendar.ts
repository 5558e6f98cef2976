import type {
  Calendar,
  calendarQuery,
  CalendarEntry,
  ContactId,
  DealId,
  PlainDate,
  TaskId,
  UserId,
} from '@kettle/contract';
import { mostAppointmentMinutes } from '@kettle/contract';
import { addDays, addMinutes, isWorkingDay, localDate, localMoment } from '@kettle/core/time';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Row, Tables } from '../../platform/database/schema.generated';
import { instantOf, sqlInstant, wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { mayChange, reachParameters, withinReach } from '../../records/rights/index';
import { readPerson, type SignedIn } from '../../records/users/index';
import { isJoined, isOwn, metChannels } from './appointments';
import { outsideEvents } from './outside-events';

type Query = z.output<typeof calendarQuery>;

const byBeginning = (one: CalendarEntry, other: CalendarEntry): number => {
  if (one.startsAt !== other.startsAt) return one.startsAt < other.startsAt ? -1 : 1;
  return one.id < other.id ? -1 : 1;
};

/** Days of a calendar in the reader's zone: theirs, a colleague's or everybody's. */
export async function readCalendar(services: Services, who: SignedIn, query: Query): Promise<Calendar> {
  const { database } = services;
  const people = await readPeople(database, who, query.who);
  const to = addDays(query.from, query.days);
  const span = {
    from: localMoment(query.from, 0, who.zone),
    to: localMoment(to, 0, who.zone),
    firstOn: addDays(query.from, -1),
    lastOn: to,
  };
  const ids = people.map(({ userId }) => userId);
  const [own, joined, promised, outside, days] = await database.together((db) =>
    Promise.all([
      readAppointments(db, who, isOwn, { ids, span }),
      readAppointments(db, who, isJoined, { ids, span }),
      readPromises(db, who, ids, span),
      readOutside(db, who, ids, span),
      readDays(services, db, who, query),
    ]),
  );
  const entries = [...own, ...joined, ...promised, ...outside.entries].sort(byBeginning);
  return { people, days: days.map((day) => ({ ...day, notes: outside.notesOf(day.on) })), entries };
}

async function readPeople(db: Queryable, who: SignedIn, asked: Query['who']): Promise<Calendar['people']> {
  if (asked === 'mine') return [{ userId: who.id, name: who.name }];
  if (asked !== 'team') {
    const { id, name } = await readPerson(db, asked);
    return [{ userId: id, name }];
  }
  const rows = await db.rows<Row<'app_user', 'id' | 'name'>>(
    'SELECT id, name FROM app_user WHERE deactivated_at IS NULL ORDER BY name, id',
  );
  return rows.map(({ id, name }) => ({ userId: idOf(id), name }));
}

interface Span {
  readonly from: string;
  readonly to: string;
  /** Days of any zone that can lie in it. */
  readonly firstOn: PlainDate;
  readonly lastOn: PlainDate;
}

type EntryRow = Row<
  'appointment',
  'owner_id' | 'title' | 'starts_at' | 'ends_at' | 'place' | 'contact_id' | 'deal_id' | 'version'
> & {
  id: IdBytes<string>;
  channel: Tables['task']['channel'] | null;
  task_id: IdBytes<TaskId> | null;
  travel_minutes: number;
  travel_after_minutes: number;
  state: CalendarEntry['state'];
  contact_name: string | null;
  company_name: string | null;
  deal_name: string | null;
  /** Colleagues who come, in hex with commas. */
  with_hex: string | null;
  is_readable: number;
};

async function readAppointments(
  db: Queryable,
  who: SignedIn,
  whose: string,
  { ids, span }: { readonly ids: readonly UserId[]; readonly span: Span },
): Promise<CalendarEntry[]> {
  const rows = await db.rows<EntryRow>(
    `SELECT a.id, a.owner_id, a.title, a.starts_at, a.ends_at, a.travel_minutes, a.travel_after_minutes, a.place, a.channel,
            a.contact_id, c.display_name AS contact_name, c.company_name, a.deal_id, d.name AS deal_name, a.task_id, a.state, a.version,
            (SELECT GROUP_CONCAT(HEX(g.user_id)) FROM appointment_guest g WHERE g.appointment_id = a.id AND g.user_id IS NOT NULL) AS with_hex,
            ${withinReach(who, 'appointment', 'a')} AS is_readable
       FROM appointment a LEFT JOIN contact c ON c.id = a.contact_id LEFT JOIN deal d ON d.id = a.deal_id
      WHERE ${whose} AND a.starts_at > :earliest AND a.starts_at < :to AND a.ends_at > :from AND a.state <> 'called-off'
      ORDER BY a.starts_at, a.id LIMIT 5000`,
    {
      ...reachParameters(who),
      people: ids.map((id) => bytesOf(id)),
      from: sqlInstant(span.from),
      to: sqlInstant(span.to),
      earliest: sqlInstant(addMinutes(span.from, -mostAppointmentMinutes - 1)),
    },
  );
  return rows.map((row) => entryOf(row, who, 'appointment'));
}

/** Tasks that were promised for a time and are no appointment: a call at ten. */
async function readPromises(
  db: Queryable,
  who: SignedIn,
  ids: readonly UserId[],
  span: Span,
): Promise<CalendarEntry[]> {
  const rows = await db.rows<EntryRow>(
    `SELECT t.id, t.owner_id, t.purpose AS title, t.promised_at AS starts_at, t.promised_at + INTERVAL GREATEST(t.minutes, 1) MINUTE AS ends_at,
            0 AS travel_minutes, 0 AS travel_after_minutes, NULL AS place, t.channel, t.contact_id, c.display_name AS contact_name,
            c.company_name, t.deal_id, d.name AS deal_name, t.id AS task_id, 'planned' AS state, t.version, NULL AS with_hex,
            ${withinReach(who, 'task', 't')} AS is_readable
       FROM task t LEFT JOIN contact c ON c.id = t.contact_id LEFT JOIN deal d ON d.id = t.deal_id
      WHERE t.owner_id IN (:people) AND t.state = 'open' AND t.due_on BETWEEN :first AND :last AND t.promised_at >= :from
        AND t.promised_at < :to AND t.channel NOT IN (:met)
      ORDER BY t.promised_at, t.id LIMIT 5000`,
    {
      ...reachParameters(who),
      people: ids.map((id) => bytesOf(id)),
      from: sqlInstant(span.from),
      to: sqlInstant(span.to),
      first: span.firstOn,
      last: span.lastOn,
      met: [...metChannels],
    },
  );
  return rows.map((row) => entryOf(row, who, 'task'));
}

type OutsideRow = Row<
  'outside_event',
  'id' | 'user_id' | 'title' | 'place' | 'starts_at' | 'ends_at' | 'is_all_day' | 'is_busy'
>;

/** What calendars elsewhere have: one's own in full, of others only what takes their time. Whole days that take none are notes. */
async function readOutside(db: Queryable, who: SignedIn, ids: readonly UserId[], span: Span) {
  const rows = await db.rows<OutsideRow>(
    `${outsideEvents(
      'e.id, e.user_id, e.title, e.place, e.starts_at, e.ends_at, e.is_all_day, e.is_busy AND o.is_busy AS is_busy',
      { isBusy: false },
    )} ORDER BY e.starts_at, e.id LIMIT 5000`,
    { people: ids.map((id) => bytesOf(id)), from: sqlInstant(span.from), to: sqlInstant(span.to) },
  );
  const isMine = (row: OutsideRow) => idOf<UserId>(row.user_id) === who.id;
  const whole = rows.filter((row) => row.is_all_day === 1 && isMine(row));
  const timed = rows.filter((row) => (isMine(row) ? row.is_all_day === 0 : row.is_busy === 1));
  return {
    entries: timed.map((row) => outsideEntryOf(row, isMine(row))),
    notesOf: (on: PlainDate) =>
      whole
        .filter((row) => {
          const [from, to] = [row.starts_at, row.ends_at].map((at) => localDate(instantOf(at), who.zone));
          return from! <= on && on < to!;
        })
        .map(({ title }) => title),
  };
}

function outsideEntryOf(row: OutsideRow, isMine: boolean): CalendarEntry {
  const ownerId = idOf<UserId>(row.user_id);
  return {
    kind: isMine ? 'outside' : 'busy',
    id: idOf<string>(row.id),
    ...{ ownerId, personIds: [ownerId] },
    title: isMine ? row.title : '',
    place: isMine ? row.place : null,
    ...{ startsAt: instantOf(row.starts_at), endsAt: instantOf(row.ends_at) },
    ...{ travelMinutes: 0, travelAfterMinutes: 0 },
    ...{ channel: null, contactId: null, contactName: null, companyName: null, dealId: null, dealName: null },
    ...{ taskId: null, state: 'planned', mayChange: false, version: 1 },
  };
}

/** Of what may not be read there is only that it is. Written out, because a month has hundreds: a spread of so many fields takes ten times as long. */
function entryOf(row: EntryRow, who: SignedIn, kind: 'appointment' | 'task'): CalendarEntry {
  const ownerId = idOf<UserId>(row.owner_id);
  const isReadable = row.is_readable === 1;
  return {
    kind: isReadable ? kind : 'busy',
    id: idOf<string>(row.id),
    ownerId,
    personIds: row.with_hex === null ? [ownerId] : [ownerId, ...colleaguesIn(row.with_hex)],
    title: isReadable ? row.title : '',
    startsAt: instantOf(row.starts_at),
    endsAt: instantOf(row.ends_at),
    travelMinutes: row.travel_minutes,
    travelAfterMinutes: row.travel_after_minutes,
    place: isReadable ? row.place : null,
    channel: isReadable ? row.channel : null,
    contactId: isReadable ? idOrNull<ContactId>(row.contact_id) : null,
    contactName: isReadable ? row.contact_name : null,
    companyName: isReadable ? row.company_name : null,
    dealId: isReadable ? idOrNull<DealId>(row.deal_id) : null,
    dealName: isReadable ? row.deal_name : null,
    taskId: isReadable ? idOrNull<TaskId>(row.task_id) : null,
    state: row.state,
    mayChange: isReadable && mayChange(who, ownerId),
    version: row.version,
  };
}

const colleaguesIn = (hex: string): UserId[] =>
  hex.split(',').map((each) => idOf<UserId>(Buffer.from(each, 'hex')));

/** Days off and, of one person whose day may be seen, how many tasks without a time and steps of cadences each day has. */
async function readDays(
  services: Services,
  db: Queryable,
  who: SignedIn,
  query: Query,
): Promise<Omit<Calendar['days'][number], 'notes'>[]> {
  const { calendars, settings } = services;
  const { organisation } = await settings.read(db);
  const id = query.who === 'mine' ? who.id : query.who === 'team' ? null : query.who;
  const calendar = calendars.of(await readPerson(db, id ?? who.id), organisation);
  const counts =
    id === null || !(id === who.id || mayChange(who, id))
      ? []
      : await db.rows<{ due_on: PlainDate; tasks: string; steps: string }>(
          `SELECT due_on, COUNT(*) - COUNT(run_id) AS tasks, COUNT(run_id) AS steps FROM task
            WHERE owner_id = :owner AND state = 'open' AND promised_at IS NULL AND due_on >= :from AND due_on < :to AND NOT is_automatic
            GROUP BY due_on ORDER BY due_on`,
          { owner: bytesOf(id), from: query.from, to: addDays(query.from, query.days) },
        );
  const byDay = new Map(counts.map((row) => [row.due_on, row]));
  return Array.from({ length: query.days }, (_, index) => {
    const on = addDays(query.from, index);
    const row = byDay.get(on);
    return {
      on,
      isOff: !isWorkingDay(on, calendar),
      holiday: calendar.holidays.get(on) ?? null,
      tasks: wholeNumber(row?.tasks ?? 0),
      steps: wholeNumber(row?.steps ?? 0),
    };
  });
}
