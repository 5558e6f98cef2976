import type { Instant } from '@kettle/contract';
import ICAL from 'ical.js';
import { addMinutes, localDate, localMinute } from '../time';
import {
  clockOf,
  lengthOf,
  momentIn,
  momentOf,
  one,
  textOf,
  zonesOf,
  type Clock,
  type Zones,
} from './moments';

/** Something that takes place once, in the stretch that was asked for. */
export interface Occurrence {
  /** Of the event it belongs to; the same for all that repeat. */
  readonly uid: string;
  readonly title: string;
  readonly place: string | null;
  readonly startsAt: Instant;
  readonly endsAt: Instant;
  readonly isAllDay: boolean;
  /** Whether it takes the time of whoever has it. */
  readonly isBusy: boolean;
}

export interface Expanded {
  /** As the calendar calls itself. */
  readonly name: string | null;
  /** In order of their beginning. */
  readonly occurrences: readonly Occurrence[];
  /** There was more than is read: letters, events or occurrences. */
  readonly isCut: boolean;
}

export interface Stretch {
  readonly from: Instant;
  readonly to: Instant;
  /** Of whoever has the calendar: times without a zone are theirs. */
  readonly zone: string;
}

/** A calendar of twenty years is less. */
const mostLetters = 5_000_000;
const mostOccurrences = 5000;
/** Of one rule: fifty years of days. A rule by the second ends here. */
const mostSteps = 20_000;

/**
 * What takes place in a stretch of time by an iCalendar object (RFC 5545): single events, rules with what is left out, added and moved of them,
 * and busy times (VFREEBUSY). What is cancelled is left out. A whole day takes its time only where the calendar says so itself: most are birthdays
 * and notes.
 * @returns null for what is no calendar
 * @example expandCalendar(text, { from: '2026-12-01T00:00:00.000Z', to: '2026-12-08T00:00:00.000Z', zone: 'Europe/London' })
 */
export function expandCalendar(text: string, stretch: Stretch): Expanded | null {
  let calendar: ICAL.Component;
  try {
    calendar = new ICAL.Component(ICAL.parse(text.slice(0, mostLetters).trim()) as never[]);
  } catch {
    return null;
  }
  if (calendar.name !== 'vcalendar') return null;
  const zones: Zones = { tables: zonesOf(calendar), zone: stretch.zone };
  const found: Occurrence[] = [];
  let isCut = text.length > mostLetters;
  for (const series of seriesOf(calendar, zones))
    isCut = expandSeries(series, { zones, stretch, found }) || isCut;
  for (const busy of calendar.getAllSubcomponents('vfreebusy'))
    found.push(...busyOf(busy, { zones, stretch }));
  found.sort((a, b) => (a.startsAt < b.startsAt ? -1 : a.startsAt > b.startsAt ? 1 : a.uid < b.uid ? -1 : 1));
  return {
    name: textOf(calendar, 'name') ?? textOf(calendar, 'x-wr-calname'),
    occurrences: found.slice(0, mostOccurrences),
    isCut: isCut || found.length > mostOccurrences,
  };
}

interface Series {
  readonly uid: string;
  /** The event with the rule; null where only occurrences were sent, as to whoever is invited to one. */
  readonly master: ICAL.Component | null;
  /** Occurrences that differ, by the moment they would have begun. */
  readonly moved: ReadonlyMap<Instant, ICAL.Component>;
}

function seriesOf(calendar: ICAL.Component, zones: Zones): Series[] {
  const byUid = new Map<string, { master: ICAL.Component | null; moved: Map<Instant, ICAL.Component> }>();
  for (const event of calendar.getAllSubcomponents('vevent')) {
    const uid = textOf(event, 'uid') ?? '';
    const series = byUid.get(uid) ?? { master: null, moved: new Map<Instant, ICAL.Component>() };
    byUid.set(uid, series);
    const instead = momentOf(event.getFirstProperty('recurrence-id'), zones);
    if (instead === null) series.master = newer(series.master, event);
    else series.moved.set(instead.at, newer(series.moved.get(instead.at) ?? null, event));
  }
  return [...byUid].map(([uid, series]) => ({ uid, ...series }));
}

/** Of two for the same, the one that was changed last counts. */
function newer(one: ICAL.Component | null, other: ICAL.Component): ICAL.Component {
  const sequence = (event: ICAL.Component) => Number(event.getFirstPropertyValue('sequence') ?? 0);
  return one !== null && sequence(one) > sequence(other) ? one : other;
}

interface Asked {
  readonly zones: Zones;
  readonly stretch: Stretch;
}

/** @returns whether it was cut */
function expandSeries(
  { uid, master, moved }: Series,
  asked: Asked & { readonly found: Occurrence[] },
): boolean {
  const { zones, stretch, found } = asked;
  let isCut = false;
  const put = (event: ICAL.Component, startsAt: Instant, isAllDay: boolean, minutes: number) => {
    const endsAt = addMinutes(startsAt, minutes);
    const isOff = textOf(event, 'status')?.toUpperCase() === 'CANCELLED';
    const reaches = endsAt > stretch.from || (minutes === 0 && startsAt >= stretch.from);
    if (isOff || startsAt >= stretch.to || !reaches) return;
    found.push({
      uid,
      title: textOf(event, 'summary') ?? '',
      place: textOf(event, 'location') || null,
      ...{ startsAt, endsAt, isAllDay },
      isBusy: isBusy(event, isAllDay),
    });
  };
  for (const event of moved.values()) {
    const start = momentOf(event.getFirstProperty('dtstart'), zones);
    if (start !== null) put(event, start.at, start.isAllDay, minutesOf(event, start.at, asked));
  }
  const start = momentOf(master?.getFirstProperty('dtstart') ?? null, zones);
  if (master === null || start === null) return isCut;
  const minutes = minutesOf(master, start.at, asked);
  const left = leftOut(master, zones);
  const seen = new Set<Instant>();
  for (const at of beginnings(master, asked, () => (isCut = true))) {
    if (seen.has(at) || moved.has(at) || left.moments.has(at)) continue;
    if (left.days.has(localDate(at, clockZone(master, zones)))) continue;
    seen.add(at);
    put(master, at, start.isAllDay, minutes);
    if (seen.size > mostOccurrences) return true;
  }
  return isCut;
}

function isBusy(event: ICAL.Component, isAllDay: boolean): boolean {
  const said = textOf(event, 'transp')?.toUpperCase();
  return isAllDay ? said === 'OPAQUE' : said !== 'TRANSPARENT';
}

/** How long an event is: what ends before it begins is taken as a moment. */
function minutesOf(event: ICAL.Component, startsAt: Instant, { zones }: Asked): number {
  const end = momentOf(event.getFirstProperty('dtend'), zones);
  const isAllDay = (event.getFirstPropertyValue('dtstart') as ICAL.Time).isDate;
  if (end === null) return lengthOf(event, isAllDay);
  return Math.max(0, Math.round((Date.parse(end.at) - Date.parse(startsAt)) / 60_000));
}

/** By what is left out a moment is meant, or a whole day of the event's own clock. */
function leftOut(event: ICAL.Component, zones: Zones) {
  const moments = new Set<Instant>();
  const days = new Set<string>();
  const isAllDay = (event.getFirstPropertyValue('dtstart') as ICAL.Time).isDate;
  for (const property of event.getAllProperties('exdate')) {
    const clock = clockOf(property, zones);
    for (const time of property.getValues() as ICAL.Time[])
      if (time.isDate && !isAllDay) days.add(time.toString());
      else moments.add(momentIn(time, clock).at);
  }
  return { moments, days };
}

const clockZone = (event: ICAL.Component, zones: Zones): string => {
  const { zone, isGuessed } = clockOf(event.getFirstProperty('dtstart')!, zones);
  return isGuessed ? zones.zone : zone;
};

/** When an event begins, again and again: reckoned on its own clock, so that a weekly one keeps its hour when the clocks change. */
function* beginnings(event: ICAL.Component, { zones, stretch }: Asked, cut: () => void): Generator<Instant> {
  const property = event.getFirstProperty('dtstart')!;
  const first = property.getFirstValue() as ICAL.Time;
  const clock = clockOf(property, zones);
  yield momentIn(first, clock).at;
  for (const added of event.getAllProperties('rdate')) {
    const addedClock = clockOf(added, zones);
    for (const value of added.getValues() as (ICAL.Time | ICAL.Period)[])
      yield momentIn(value instanceof ICAL.Period ? value.start : value, addedClock).at;
  }
  for (const ruled of event.getAllProperties('rrule')) {
    const rule = (ruled.getFirstValue() as ICAL.Recur).clone();
    if (rule.until) rule.until = onClock(rule.until, first, clock);
    const wall = first.clone();
    if (!wall.isDate) wall.zone = ICAL.Timezone.localTimezone;
    const iterator = rule.iterator(wall);
    for (let step = 0; ; step += 1) {
      if (step === mostSteps) {
        cut();
        break;
      }
      const next = iterator.next() as ICAL.Time | null;
      if (!next) break;
      if (!fits(rule, next)) continue;
      // Reckoned without a zone, read as the first one is.
      const time = next.clone();
      if (first.zone === ICAL.Timezone.utcTimezone) time.zone = ICAL.Timezone.utcTimezone;
      const { at } = momentIn(time, clock);
      if (at >= stretch.to) break;
      yield at;
    }
  }
}

/** The last moment of a rule is mostly said by UTC (RFC 5545, 3.3.10): as the event's own clock shows it then. */
function onClock(until: ICAL.Time, first: ICAL.Time, clock: Clock): ICAL.Time {
  const time = until.clone();
  if (
    until.zone === ICAL.Timezone.utcTimezone &&
    first.zone !== ICAL.Timezone.utcTimezone &&
    !first.isDate &&
    !until.isDate
  ) {
    const { at } = momentIn(until, { table: null, zone: 'UTC', isGuessed: false });
    const offset = clock.table === null ? null : clock.table.utcOffset(until);
    const wall = offset === null ? wallIn(at, clock.zone) : wallAt(Date.parse(at) + offset * 1000);
    time.fromData({ ...wall, isDate: false });
  }
  // A day as the end means the whole of it.
  if (until.isDate && !first.isDate)
    time.fromData({
      year: time.year,
      month: time.month,
      day: time.day,
      hour: 23,
      minute: 59,
      second: 59,
      isDate: false,
    });
  time.zone = ICAL.Timezone.localTimezone;
  return time;
}

function wallIn(at: Instant, zone: string) {
  const [year, month, day] = localDate(at, zone).split('-').map(Number) as [number, number, number];
  const minute = localMinute(at, zone);
  return {
    year,
    month,
    day,
    hour: Math.floor(minute / 60),
    minute: minute % 60,
    second: new Date(at).getUTCSeconds(),
  };
}

function wallAt(millis: number) {
  const at = new Date(millis);
  return {
    ...{ year: at.getUTCFullYear(), month: at.getUTCMonth() + 1, day: at.getUTCDate() },
    ...{ hour: at.getUTCHours(), minute: at.getUTCMinutes(), second: at.getUTCSeconds() },
  };
}

/** The library makes the second of March of the thirtieth of February; RFC 5545, 3.3.10 has it left out. */
function fits(rule: ICAL.Recur, time: ICAL.Time): boolean {
  const parts = rule.parts as Readonly<Record<string, readonly number[] | undefined>>;
  const months = parts.BYMONTH;
  if (months && !months.map(Number).includes(time.month)) return false;
  const days = parts.BYMONTHDAY;
  if (!days) return true;
  const length = ICAL.Time.daysInMonth(time.month, time.year);
  return days.map(Number).some((day) => (day > 0 ? day : length + 1 + day) === time.day);
}

/** Busy times without a word of what they are (RFC 5545, 3.6.4). */
function busyOf(busy: ICAL.Component, { zones, stretch }: Asked): Occurrence[] {
  return busy.getAllProperties('freebusy').flatMap((property) => {
    if (one(property.getParameter('fbtype'))?.toUpperCase() === 'FREE') return [];
    return (property.getValues() as ICAL.Period[]).flatMap((period) => {
      if (!(period instanceof ICAL.Period)) return [];
      const clock = clockOf(property, zones);
      const startsAt = momentIn(period.start, clock).at;
      const endsAt = momentIn(period.getEnd(), clock).at;
      if (endsAt <= stretch.from || startsAt >= stretch.to || endsAt <= startsAt) return [];
      const uid = textOf(busy, 'uid') ?? '';
      return [{ uid, title: '', place: null, startsAt, endsAt, isAllDay: false, isBusy: true }];
    });
  });
}
