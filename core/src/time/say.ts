import type { PlainDate } from '@kettle/contract';
import { dateFormat, formOf, is12Hours, numberFormat } from '../locale';
import { daysBetween } from './plain-date';

const day = { weekday: 'short', day: 'numeric', month: 'short' } as const;

/** @example sayDate('2026-11-26', '2026-11-24') is 'Thu 26 Nov'; another year is named */
export function sayDate(date: PlainDate, today: PlainDate): string {
  const year = date.slice(0, 4) === today.slice(0, 4) ? {} : ({ year: 'numeric' } as const);
  return inUtc(date, { ...day, ...year });
}

/** A day in parts, without the comma after its weekday. */
function inUtc(date: PlainDate, options: Intl.DateTimeFormatOptions): string {
  return dateFormat({ timeZone: 'UTC', ...options })
    .format(new Date(`${date}T00:00:00Z`))
    .replace(',', '');
}

/** @example sayDistance(3) is 'in 3 days'; sayDistance(-1) is 'yesterday' */
export function sayDistance(days: number): string {
  if (days === 0) return $localize`today`;
  if (days === 1) return $localize`tomorrow`;
  if (days === -1) return $localize`yesterday`;
  const count = numberFormat().format(Math.abs(days));
  return days > 0
    ? formOf(days, $localize`in ${count}:count: day|in ${count}:count: days`)
    : formOf(-days, $localize`${count}:count: day ago|${count}:count: days ago`);
}

/** @example sayDay('2026-11-26', '2026-11-23') is 'in 3 days · Thu 26 Nov' */
export function sayDay(date: PlainDate, today: PlainDate): string {
  return `${sayDistance(daysBetween(today, date))} · ${sayDate(date, today)}`;
}

/** Today, tomorrow, a weekday inside the week, else the date. */
export function sayShortDay(date: PlainDate, today: PlainDate): string {
  const days = daysBetween(today, date);
  if (days === 0 || days === 1) return sayDistance(days);
  if (days > 1 && days < 7) return sayWeekday(date);
  return sayDate(date, today);
}

/** @example sayWeekday('2026-11-27') is 'Friday' */
export const sayWeekday = (date: PlainDate): string => inUtc(date, { weekday: 'long' });

/** Of an ISO weekday, 1 = Monday to 7; 1 January 2024 was a Monday. @example sayIsoWeekday(2) is 'Tuesday' */
export const sayIsoWeekday = (weekday: number, length: 'long' | 'short' = 'long'): string =>
  inUtc(`2024-01-0${weekday}`, { weekday: length });

/** @example sayMonth('2026-11-27') is 'November'; sayMonth('2026-11-27', 'short') is 'Nov' */
export const sayMonth = (date: PlainDate, length: 'long' | 'short' = 'long'): string =>
  inUtc(date, { month: length });

/** A time of day as the reader's country writes it. @example sayMinute(605) is '10:05', and '10:05 AM' in the United States */
export function sayMinute(minute: number): string {
  return dateFormat({ timeZone: 'UTC', ...clock() }).format(new Date(Date.UTC(2000, 0, 1, 0, minute)));
}

/** A full hour, for a scale. @example sayHour(13) is '13', and '1 PM' in the United States */
export const sayHour = (hour: number): string =>
  is12Hours()
    ? dateFormat({ timeZone: 'UTC', hour: 'numeric', hourCycle: 'h12' }).format(Date.UTC(2000, 0, 1, hour))
    : String(hour);

/** Hours and minutes as the reader's country counts them, for a format of one's own. */
export const clock = (): Intl.DateTimeFormatOptions =>
  is12Hours()
    ? { hour: 'numeric', minute: '2-digit', hourCycle: 'h12' }
    : { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' };

/** A time of day as it is kept. @example plainTime(605) is '10:05' */
export const plainTime = (minute: number): string =>
  `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`;
