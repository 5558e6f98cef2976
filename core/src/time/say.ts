import type { PlainDate } from '@kettle/contract';
import { daysBetween } from './plain-date';

const format = (options: Intl.DateTimeFormatOptions) =>
  new Intl.DateTimeFormat('en-GB', { timeZone: 'UTC', ...options });
const dayAndMonth = format({ weekday: 'short', day: 'numeric', month: 'short' });
const withYear = format({ weekday: 'short', day: 'numeric', month: 'short', year: 'numeric' });
const weekdayOnly = format({ weekday: 'long' });

/** @example sayDate('2026-11-26', '2026-11-24') is 'Thu 26 Nov'; another year is named */
export function sayDate(date: PlainDate, today: PlainDate): string {
  const named = date.slice(0, 4) === today.slice(0, 4) ? dayAndMonth : withYear;
  return named.format(new Date(`${date}T00:00:00Z`)).replace(',', '');
}

/** @example sayDistance(3) is 'in 3 days'; sayDistance(-1) is 'yesterday' */
export function sayDistance(days: number): string {
  if (days === 0) return 'today';
  if (days === 1) return 'tomorrow';
  if (days === -1) return 'yesterday';
  return days > 0 ? `in ${days} days` : `${-days} days ago`;
}

/** @example sayDay('2026-11-26', '2026-11-23') is 'in 3 days · Thu 26 Nov' */
export function sayDay(date: PlainDate, today: PlainDate): string {
  return `${sayDistance(daysBetween(today, date))} · ${sayDate(date, today)}`;
}

/** Today, tomorrow, a weekday inside the week, else the date. */
export function sayShortDay(date: PlainDate, today: PlainDate): string {
  const days = daysBetween(today, date);
  if (days === 0 || days === 1) return sayDistance(days);
  if (days > 1 && days < 7) return weekdayOnly.format(new Date(`${date}T00:00:00Z`));
  return sayDate(date, today);
}

/** @example sayMinute(605) is '10:05' */
export function sayMinute(minute: number): string {
  return `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`;
}

/** @example sayCount(1, 'day') is '1 day'; sayCount(2, 'try', 'tries') is '2 tries' */
export function sayCount(count: number, one: string, many = `${one}s`): string {
  return `${count} ${count === 1 ? one : many}`;
}
