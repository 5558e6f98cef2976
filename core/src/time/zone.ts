import type { Instant, PlainDate } from '@kettle/contract';
import { DateTime, IANAZone, Settings } from 'luxon';
import { addDays } from './plain-date';

Settings.throwOnInvalid = true;
declare module 'luxon' {
  interface TSSettings {
    throwOnInvalid: true;
  }
}

const minuteMillis = 60_000;
const dayMillis = 1440 * minuteMillis;

/**
 * The instant at which a wall clock in `zone` shows `minute` minutes after midnight on `date` (0 to 1440).
 * A time in the gap of a clock change moves forward by the gap; a doubled time is the first of the two.
 * @example localMoment('2026-11-24', 600, 'Europe/Lisbon') is '2026-11-24T10:00:00.000Z'
 */
export function localMoment(date: PlainDate, minute: number, zone: string): Instant {
  const key = `${zone} ${date} ${minute}`;
  const known = moments.get(key);
  if (known !== undefined) return known;
  if (moments.size >= mostKept) moments.clear();
  const found = findMoment(date, minute, zone);
  moments.set(key, found);
  return found;
}

/** Asking the zone's rules costs half a millisecond, and a day is asked about again and again. */
const moments = new Map<string, Instant>();
const mostKept = 20_000;

/**
 * The offsets a day before and a day after are the only two that can hold: the earlier moment that shows the wall clock, or, in a gap, the
 * one that the offset before it makes, even where the gap is a whole day (Samoa had no 30 December 2011).
 */
function findMoment(date: PlainDate, minute: number, zone: string): Instant {
  const wall = Date.parse(`${date}T00:00:00.000Z`) + minute * minuteMillis;
  const rules = IANAZone.create(zone);
  if (!rules.isValid) throw new RangeError(`no time zone is called ${zone}`);
  const offset = (at: number) => rules.offset(at) * minuteMillis;
  const [before, after] = [wall - offset(wall - dayMillis), wall - offset(wall + dayMillis)];
  const shown = [before, after].filter((at) => at + offset(at) === wall);
  return new Date(shown.length > 0 ? Math.min(...shown) : before).toISOString();
}

/** The calendar date a wall clock in `zone` shows at an instant. */
export function localDate(at: Instant, zone: string): PlainDate {
  return DateTime.fromISO(at, { zone }).toISODate();
}

/** The one change of date inside a UTC day. */
interface LocalDay {
  readonly midnight: Instant;
  readonly before: PlainDate;
  readonly after: PlainDate;
}
const daysByZone = new Map<string, Map<string, LocalDay>>();

/**
 * The same as `localDate` for one zone, for many instants: each day's local midnight is looked up once and kept.
 * @example localDatesOf('Europe/London')('2026-07-01T23:30:00.000Z') is '2026-07-02'
 */
export function localDatesOf(zone: string): (at: Instant) => PlainDate {
  const days = daysByZone.get(zone) ?? new Map<string, LocalDay>();
  daysByZone.set(zone, days);
  return (at) => {
    const key = at.slice(0, 10);
    let day = days.get(key);
    if (day === undefined) {
      const before = localDate(`${key}T00:00:00.000Z`, zone);
      const midnight = localMoment(addDays(before, 1), 0, zone);
      // The day after, unless the zone leaves one out.
      day = { before, after: localDate(midnight, zone), midnight };
      if (days.size >= mostKept) days.clear();
      days.set(key, day);
    }
    return at < day.midnight ? day.before : day.after;
  };
}

/** Minutes after local midnight that a wall clock in `zone` shows at an instant. */
export function localMinute(at: Instant, zone: string): number {
  const moment = DateTime.fromISO(at, { zone });
  return moment.hour * 60 + moment.minute;
}

export function addMinutes(at: Instant, minutes: number): Instant {
  return new Date(Date.parse(at) + minutes * 60_000).toISOString();
}

/** Whole minutes from one instant to another, rounded down. */
export function minutesBetween(from: Instant, to: Instant): number {
  return Math.floor((Date.parse(to) - Date.parse(from)) / 60_000);
}

/**
 * By how many minutes a zone's clock is ahead of UTC from one instant to another, in order: each holds until the next, the last one on.
 * @example offsetsIn('Europe/London', '2026-10-01T00:00:00.000Z', '2026-11-01T00:00:00.000Z')
 *   // [{ until: '2026-10-25T01:00:00.000Z', minutes: 60 }, { until: null, minutes: 0 }]
 */
export function offsetsIn(
  zone: string,
  from: Instant,
  to: Instant,
): { readonly until: Instant | null; readonly minutes: number }[] {
  const rules = IANAZone.create(zone);
  if (!rules.isValid) throw new RangeError(`no time zone is called ${zone}`);
  const found: { until: Instant | null; minutes: number }[] = [];
  const last = Date.parse(to);
  for (let at = Date.parse(from); at < last; at += dayMillis) {
    const next = Math.min(at + dayMillis, last);
    if (rules.offset(at) === rules.offset(next)) continue;
    let [before, after] = [at, next];
    while (after - before > 1) {
      const middle = Math.floor((before + after) / 2);
      if (rules.offset(middle) === rules.offset(at)) before = middle;
      else after = middle;
    }
    found.push({ until: new Date(after).toISOString(), minutes: rules.offset(at) });
  }
  return [...found, { until: null, minutes: rules.offset(last) }];
}
