import type { PlainDate } from '@kettle/contract';

const millisADay = 86_400_000;

/** Days since 1970-01-01 of a calendar date. @throws RangeError for a date that does not exist. */
export function toDayNumber(date: PlainDate): number {
  const known = dayNumbers.get(date);
  if (known !== undefined) return known;
  const millis = Date.parse(`${date}T00:00:00Z`);
  if (Number.isNaN(millis) || fromDayNumber(millis / millisADay) !== date)
    throw new RangeError(`not a calendar date: ${date}`);
  if (dayNumbers.size >= mostKept) dayNumbers.clear();
  dayNumbers.set(date, millis / millisADay);
  return millis / millisADay;
}

/** Reading a date costs more than looking it up, and long lists are about few dates. */
const dayNumbers = new Map<PlainDate, number>();
const mostKept = 4000;

export function fromDayNumber(day: number): PlainDate {
  return new Date(day * millisADay).toISOString().slice(0, 10);
}

export function addDays(date: PlainDate, days: number): PlainDate {
  return fromDayNumber(toDayNumber(date) + days);
}

/** Calendar days from `from` to `to`; negative when `to` is earlier. */
export function daysBetween(from: PlainDate, to: PlainDate): number {
  return toDayNumber(to) - toDayNumber(from);
}

/** ISO weekday, 1 = Monday to 7 = Sunday. @example isoWeekday('2026-11-24') is 2 */
export function isoWeekday(date: PlainDate): number {
  return weekdayOfDay(toDayNumber(date));
}

export function weekdayOfDay(day: number): number {
  return ((((day + 3) % 7) + 7) % 7) + 1;
}

/** ISO 8601 week date. @example isoWeek('2005-01-01') is { year: 2004, week: 53, weekday: 6 } */
export function isoWeek(date: PlainDate): { year: number; week: number; weekday: number } {
  const day = toDayNumber(date);
  const weekday = weekdayOfDay(day);
  const year = Number(fromDayNumber(day - weekday + 4).slice(0, 4));
  const firstThursdayWeek = toDayNumber(`${pad(year, 4)}-01-04`);
  const firstMonday = firstThursdayWeek - weekdayOfDay(firstThursdayWeek) + 1;
  return { year, week: Math.floor((day - firstMonday) / 7) + 1, weekday };
}

/**
 * `months` after the anchor date, clamped to the last day of the month. Always add to the anchor, never to a result.
 * @example addMonths('2027-01-31', 1) is '2027-02-28'; addMonths('2027-01-31', 2) is '2027-03-31'
 */
export function addMonths(anchor: PlainDate, months: number): PlainDate {
  const [year, month, day] = partsOf(anchor);
  const index = year * 12 + (month - 1) + months;
  const toYear = Math.floor(index / 12);
  const toMonth = index - toYear * 12 + 1;
  return `${pad(toYear, 4)}-${pad(toMonth, 2)}-${pad(Math.min(day, daysInMonth(toYear, toMonth)), 2)}`;
}

export function daysInMonth(year: number, month: number): number {
  return new Date(Date.UTC(year, month, 0)).getUTCDate();
}

function partsOf(date: PlainDate): [number, number, number] {
  toDayNumber(date);
  const [year = 0, month = 0, day = 0] = date.split('-').map(Number);
  return [year, month, day];
}

function pad(value: number, width: number): string {
  return String(value).padStart(width, '0');
}

/** The Monday of a day's week. */
export const startOfWeek = (day: PlainDate): PlainDate => addDays(day, 1 - isoWeekday(day));

export const startOfMonth = (day: PlainDate): PlainDate => `${day.slice(0, 7)}-01`;

/** The first day of a day's quarter. @example startOfQuarter('2026-11-24') is '2026-10-01' */
export function startOfQuarter(day: PlainDate): PlainDate {
  const month = Math.floor((Number(day.slice(5, 7)) - 1) / 3) * 3 + 1;
  return `${day.slice(0, 5)}${String(month).padStart(2, '0')}-01`;
}
