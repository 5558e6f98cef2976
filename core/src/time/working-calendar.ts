import type { PlainDate } from '@kettle/contract';
import { fromDayNumber, isoWeekday, toDayNumber, weekdayOfDay } from './plain-date';

/** When a person or organisation works. Minutes count from local midnight. */
export interface WorkingCalendar {
  readonly zone: string;
  /** ISO weekdays, 1 = Monday. */
  readonly weekdays: readonly number[];
  readonly startMinute: number;
  readonly endMinute: number;
  /** Days off and what they are called. */
  readonly holidays: ReadonlyMap<PlainDate, string>;
  /** The country or firm the holidays belong to, for explanations. */
  readonly place: string;
}

/** No search for a working day goes further than this; a calendar without any working day is a fault in its data. */
const longestSearchDays = 3660;

export function isWorkingDay(date: PlainDate, calendar: WorkingCalendar): boolean {
  return whyNotWorking(date, calendar) === null;
}

/** Why nobody works that day, in words, or null when it is a working day. */
export function whyNotWorking(date: PlainDate, calendar: WorkingCalendar): string | null {
  const holiday = calendar.holidays.get(date);
  if (holiday !== undefined)
    return $localize`${holiday}:holiday:, a public holiday in ${calendar.place}:place:`;
  if (calendar.weekdays.includes(isoWeekday(date))) return null;
  return isoWeekday(date) >= 6
    ? $localize`a weekend`
    : $localize`not a working day in ${calendar.place}:place:`;
}

/** The date itself when it is a working day, else the next one. @throws RangeError when none is near. */
export function onOrAfterWorkingDay(date: PlainDate, calendar: WorkingCalendar): PlainDate {
  return search(toDayNumber(date), 1, calendar);
}

/** The date itself when it is a working day, else the one before. @throws RangeError when none is near. */
export function onOrBeforeWorkingDay(date: PlainDate, calendar: WorkingCalendar): PlainDate {
  return search(toDayNumber(date), -1, calendar);
}

/**
 * `n` working days after `date`; from a non-working day it counts from the next working one; `n` may be negative.
 * @example with Monday to Friday, addWorkingDays('2026-11-27', 1) is '2026-11-30'
 * @throws RangeError when the calendar has no working day near.
 */
export function addWorkingDays(date: PlainDate, n: number, calendar: WorkingCalendar): PlainDate {
  const direction = n < 0 ? -1 : 1;
  let at = onOrAfterWorkingDay(date, calendar);
  for (let left = Math.abs(n); left > 0; left -= 1)
    at = search(toDayNumber(at) + direction, direction, calendar);
  return at;
}

/**
 * Working days in the half-open span from `from` up to but without `to`; negative when `to` is earlier.
 * @example workingDaysBetween('2026-11-23', '2026-11-30') is 5
 */
export function workingDaysBetween(from: PlainDate, to: PlainDate, calendar: WorkingCalendar): number {
  const start = toDayNumber(from);
  const end = toDayNumber(to);
  if (end < start) return -workingDaysBetween(to, from, calendar);
  let count = 0;
  const weekdays = new Set(calendar.weekdays);
  for (let day = start; day < end; day += 1)
    if (weekdays.has(weekdayOfDay(day)) && !calendar.holidays.has(fromDayNumber(day))) count += 1;
  return count;
}

function search(from: number, direction: 1 | -1, calendar: WorkingCalendar): PlainDate {
  for (let step = 0; step < longestSearchDays; step += 1) {
    const date = fromDayNumber(from + direction * step);
    if (isWorkingDay(date, calendar)) return date;
  }
  throw new RangeError(`no working day within ten years of ${fromDayNumber(from)} in ${calendar.place}`);
}
