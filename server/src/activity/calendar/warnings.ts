import type { AppointmentWarnings, appointmentTime, Instant, PlainDate, UserId } from '@kettle/contract';
import { addMinutes, localDate, localMinute, sayMinute, sayDate, whyNotWorking } from '@kettle/core/time';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf, sqlInstant } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { reachParameters, withinReach } from '../../records/rights/index';
import { readPerson, type SignedIn } from '../../records/users/index';
import { mostAppointmentMinutes } from '@kettle/contract';
import { hadBy } from './appointments';
import { outsideEvents } from './outside-events';

type Time = z.output<typeof appointmentTime>;
type Warning = AppointmentWarnings['warnings'][number];

/** When the people one meets may be met, whatever hours their own firm keeps: minutes of their day. */
const fairHours = { start: 7 * 60, end: 20 * 60 };

/** What is in the way of an appointment at a time: for whoever is there for us, and for those they meet. Nothing of it forbids it. */
export async function warningsOf(services: Services, who: SignedIn, time: Time): Promise<Warning[]> {
  const { database } = services;
  const ownerId = time.ownerId ?? who.id;
  const span = { from: time.startsAt, to: addMinutes(time.startsAt, time.minutes) };
  const warnings: Warning[] = [];
  if (span.to <= services.clock.now())
    warnings.push({ kind: 'past', words: $localize`This lies in the past.` });
  for (const id of new Set([ownerId, ...time.colleagueIds]))
    warnings.push(...(await ofColleague(services, who, { id, span, time })));
  const { organisation } = await services.settings.read(database);
  for (const person of await readPeople(database, time.contactIds)) {
    const calendar = services.calendars.of({ country: person.country, zone: person.zone }, organisation);
    const local = localOf(span.from, person.zone);
    const off = whyNotWorking(local.on, calendar);
    if (off !== null)
      warnings.push({
        kind: 'their-off',
        words: $localize`For ${person.display_name}:name:, ${sayDate(local.on, localDate(services.clock.now(), person.zone))}:day: is ${off}:off:.`,
      });
    const ends = localOf(span.to, person.zone);
    if (local.minute < fairHours.start || ends.on !== local.on || ends.minute > fairHours.end)
      warnings.push({
        kind: 'their-hours',
        words: $localize`It is ${sayMinute(local.minute)}:time: then for ${person.display_name}:name:.`,
      });
  }
  return warnings;
}

interface Span {
  readonly from: Instant;
  readonly to: Instant;
}

const localOf = (at: Instant, zone: string): { on: PlainDate; minute: number } => ({
  on: localDate(at, zone),
  minute: localMinute(at, zone),
});

async function ofColleague(
  services: Services,
  who: SignedIn,
  { id, span, time }: { readonly id: UserId; readonly span: Span; readonly time: Time },
): Promise<Warning[]> {
  const { database, calendars, settings, clock } = services;
  const person = await readPerson(database, id);
  const { organisation } = await settings.read(database);
  const calendar = calendars.of(person, organisation);
  const isMe = id === who.id;
  const say = (at: Instant) => sayMinute(localMinute(at, person.zone));
  const from = localOf(span.from, person.zone);
  const to = localOf(span.to, person.zone);
  const off = whyNotWorking(from.on, calendar);
  const day = sayDate(from.on, localDate(clock.now(), person.zone));
  const found: Warning[] = [];
  if (off !== null)
    found.push({
      kind: 'off',
      words: isMe
        ? $localize`For you, ${day}:day: is ${off}:off:.`
        : $localize`For ${person.name}:name:, ${day}:day: is ${off}:off:.`,
    });
  else if (from.minute < calendar.startMinute || to.on !== from.on || to.minute > calendar.endMinute) {
    const [start, end] = [sayMinute(calendar.startMinute), sayMinute(calendar.endMinute)];
    found.push({
      kind: 'hours',
      words: isMe
        ? $localize`This is outside your hours, ${start}:start: to ${end}:end:.`
        : $localize`This is outside the hours of ${person.name}:name:, ${start}:start: to ${end}:end:.`,
    });
  }
  const way = {
    from: addMinutes(span.from, -time.travelMinutes),
    to: addMinutes(span.to, time.travelAfterMinutes),
  };
  for (const other of await overlapping(database, who, { id, way, exceptId: time.exceptId })) {
    const when = `${say(instantOf(other.starts_at))}–${say(instantOf(other.ends_at))}`;
    const isWay = instantOf(other.starts_at) >= span.to || instantOf(other.ends_at) <= span.from;
    const title = other.is_readable === 1 ? `“${other.title}”` : '';
    found.push({
      kind: 'overlap',
      words: overlapWords({ title, when, isWay, name: isMe ? null : person.name }),
    });
  }
  return found;
}

interface Overlap {
  readonly title: string;
  readonly when: string;
  /** Only the way there or back meets it. */
  readonly isWay: boolean;
  readonly name: string | null;
}

function overlapWords({ title, when, isWay, name }: Overlap): string {
  const what = title === '' ? $localize`something else` : title;
  if (name !== null)
    return isWay
      ? $localize`Too little time for the way: at ${when}:when: ${name}:name: has ${what}:what:.`
      : $localize`At ${when}:when: ${name}:name: has ${what}:what:.`;
  return isWay
    ? $localize`Too little time for the way: at ${when}:when: you have ${what}:what:.`
    : $localize`At ${when}:when: you have ${what}:what:.`;
}

type OverlapRow = Row<'appointment', 'title' | 'starts_at' | 'ends_at'> & { is_readable: number };

/** What somebody has while a stretch lasts, ways included, promised tasks too. */
const overlapping = (
  db: Queryable,
  who: SignedIn,
  { id, way, exceptId }: { readonly id: UserId; readonly way: Span; readonly exceptId: string | null },
) =>
  db.rows<OverlapRow>(
    `${hadBy(`a.title, a.starts_at, a.ends_at, ${withinReach(who, 'appointment', 'a')} AS is_readable`, {
      condition: `a.state = 'planned' AND a.starts_at > :earliest AND a.starts_at < :latest
        AND a.starts_at - INTERVAL a.travel_minutes MINUTE < :to AND a.ends_at + INTERVAL a.travel_after_minutes MINUTE > :from
        AND a.id <> :except`,
    })}
     UNION ALL
     ${outsideEvents('e.title, e.starts_at, e.ends_at, (e.user_id = :me) AS is_readable', { isBusy: true })}
     UNION ALL
     SELECT t.purpose, t.promised_at, t.promised_at + INTERVAL t.minutes MINUTE, ${withinReach(who, 'task', 't')} FROM task t
      WHERE t.owner_id IN (:people) AND t.state = 'open' AND t.due_on BETWEEN :first AND :last AND t.promised_at < :to
        AND t.promised_at + INTERVAL t.minutes MINUTE > :from AND NOT EXISTS (SELECT 1 FROM appointment own WHERE own.task_id = t.id)
      ORDER BY starts_at, title LIMIT 5`,
    {
      ...reachParameters(who),
      people: [bytesOf(id)],
      me: bytesOf(who.id),
      from: sqlInstant(way.from),
      to: sqlInstant(way.to),
      earliest: sqlInstant(addMinutes(way.from, -2 * mostAppointmentMinutes)),
      latest: sqlInstant(addMinutes(way.to, mostAppointmentMinutes)),
      first: localDate(addMinutes(way.from, -mostAppointmentMinutes), 'UTC'),
      last: localDate(addMinutes(way.to, mostAppointmentMinutes), 'UTC'),
      except: bytesOf(exceptId ?? '00000000-0000-0000-0000-000000000000'),
    },
  );

async function readPeople(db: Queryable, ids: readonly string[]) {
  if (ids.length === 0) return [];
  return db.rows<Row<'contact', 'display_name' | 'country' | 'zone'>>(
    'SELECT display_name, country, zone FROM contact WHERE id IN (:ids) ORDER BY display_name, id',
    { ids: ids.map((id) => bytesOf(id)) },
  );
}
