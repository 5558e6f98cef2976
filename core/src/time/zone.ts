import type { Instant, PlainDate } from '@kettle/contract';
import { DateTime, Settings } from 'luxon';
import { addDays } from './plain-date';

Settings.throwOnInvalid = true;
declare module 'luxon' {
  interface TSSettings {
    throwOnInvalid: true;
  }
}

const minutesADay = 1440;

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

function findMoment(date: PlainDate, minute: number, zone: string): Instant {
  const day = DateTime.fromISO(date, { zone: 'utc' }).plus({ days: Math.floor(minute / minutesADay) });
  const within = minute % minutesADay;
  const wall = { hour: Math.floor(within / 60), minute: within % 60 };
  const moment = DateTime.fromObject({ year: day.year, month: day.month, day: day.day, ...wall }, { zone });
  const [first] = [...moment.getPossibleOffsets()].sort((a, b) => a.toMillis() - b.toMillis());
  return (first ?? moment).toUTC().toISO();
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
      const after = addDays(before, 1);
      day = { before, after, midnight: localMoment(after, 0, zone) };
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
