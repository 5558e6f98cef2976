import type { PlainDate } from '@kettle/contract';
import { isMonthFirst } from '../locale';
import { addDays, addMonths, daysInMonth, isoWeekday } from './plain-date';

export interface TypedOn {
  readonly today: PlainDate;
  /** How the person writes dates: `en-GB` puts the day first, `en-US` the month. */
  readonly locale: string;
}

/**
 * A day as somebody types it: `27/11`, `3 Dec`, `fri`, `tomorrow`, `+3d`, `+2w`, `2026-12-03`; a weekday in front of a date is
 * passed over. Weekdays and months are known in the person's language and in English. Without a year it is the next such day.
 * @returns null when it cannot be read, or there is no such day
 * @example readTypedDay('fri', { today: '2026-11-27', locale: 'en-GB' }) // '2026-12-04': 27 November is a Friday
 */
export function readTypedDay(text: string, on: TypedOn): PlainDate | null {
  const typed = text.trim().toLowerCase().replace(/\s+/g, ' ');
  return (
    readIso(typed) ?? readWord(typed, on) ?? readJump(typed, on) ?? readWritten(withoutWeekday(typed, on), on)
  );
}

function readIso(typed: string): PlainDate | null {
  const [, year, month, day] = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(typed) ?? [];
  return year === undefined ? null : dayOf(Number(year), Number(month), Number(day));
}

function readWord(typed: string, { today, locale }: TypedOn): PlainDate | null {
  if (typed.length < 2) return null;
  const named = [locale, 'en'].flatMap((each) =>
    [0, 1].map((days) => ({
      days,
      word: new Intl.RelativeTimeFormat(each, { numeric: 'auto' }).format(days, 'day').toLowerCase(),
    })),
  );
  const whole = named.find(({ word }) => word === typed || (typed.length > 2 && word.startsWith(typed)));
  if (whole) return addDays(today, whole.days);
  const weekday = weekdayNamed(typed, locale);
  return weekday === null ? null : addDays(today, ((weekday - isoWeekday(today) + 6) % 7) + 1);
}

const jumps: Readonly<Record<string, (today: PlainDate, count: number) => PlainDate>> = {
  d: (today, count) => addDays(today, count),
  w: (today, count) => addDays(today, 7 * count),
  m: (today, count) => addMonths(today, count),
  y: (today, count) => addMonths(today, 12 * count),
};

function readJump(typed: string, { today }: TypedOn): PlainDate | null {
  const [, sign, count, unit] = /^([+-]) ?(\d{1,3}) ?([dwmy]?)$/.exec(typed) ?? [];
  return count === undefined ? null : jumps[unit || 'd']!(today, Number(`${sign}${count}`));
}

/** `27/11`, `27.11.26`, `3 dec 2026`, `dec 3`. */
function readWritten(typed: string, on: TypedOn): PlainDate | null {
  const parts = typed.split(/[\s./-]+/).filter((part) => part !== '' && part !== 'de' && part !== 'of');
  if (parts.length < 2 || parts.length > 3) return null;
  const [one = '', other = '', third] = parts;
  const [day, month] = orderOf(one, other, on);
  if (day === null || month === null) return null;
  if (third !== undefined) return /^\d{2}$|^\d{4}$/.test(third) ? dayOf(fullYear(third), month, day) : null;
  const year = Number(on.today.slice(0, 4));
  const thisYear = dayOf(year, month, day);
  return thisYear !== null && thisYear >= on.today ? thisYear : (dayOf(year + 1, month, day) ?? thisYear);
}

function orderOf(one: string, other: string, { locale }: TypedOn): readonly [number | null, number | null] {
  const number = (part: string) => (/^\d{1,2}(st|nd|rd|th)?$/.test(part) ? Number.parseInt(part, 10) : null);
  const [first, second] = [number(one), number(other)];
  if (first !== null && second !== null) return isMonthFirst(locale) ? [second, first] : [first, second];
  return first === null ? [second, monthNamed(one, locale)] : [first, monthNamed(other, locale)];
}

const fullYear = (text: string) => (text.length === 2 ? 2000 + Number(text) : Number(text));

function dayOf(year: number, month: number, day: number): PlainDate | null {
  if (month < 1 || month > 12 || day < 1 || year < 1900 || year > 2199 || day > daysInMonth(year, month))
    return null;
  return `${year}-${String(month).padStart(2, '0')}-${String(day).padStart(2, '0')}`;
}

/** 1 January 2024 was a Monday. */
const namesOf = (locale: string, what: 'weekday' | 'month', count: number): string[][] =>
  (['long', 'short'] as const).map((length) =>
    Array.from({ length: count }, (_, index) =>
      new Intl.DateTimeFormat(locale, { [what]: length, timeZone: 'UTC' })
        .format(what === 'weekday' ? Date.UTC(2024, 0, index + 1) : Date.UTC(2024, index, 1))
        .toLowerCase()
        .replace(/\.$/, ''),
    ),
  );

/** 1 to `count` for the only name that begins so; null for none or several. */
function numberNamed(typed: string, locale: string, what: 'weekday' | 'month', count: number): number | null {
  const part = typed.replace(/\.$/, '');
  if (part.length < 2) return null;
  for (const each of [locale, 'en'])
    for (const names of namesOf(each, what, count)) {
      const found = names.flatMap((name, index) => (name.startsWith(part) ? [index + 1] : []));
      if (found.length === 1) return found[0]!;
    }
  return null;
}

const weekdayNamed = (typed: string, locale: string) => numberNamed(typed, locale, 'weekday', 7);
const monthNamed = (typed: string, locale: string) => numberNamed(typed, locale, 'month', 12);

function withoutWeekday(typed: string, { locale }: TypedOn): string {
  const [, first, rest] = /^([^\s\d]+),? (.*\d.*)$/.exec(typed) ?? [];
  return first !== undefined && rest !== undefined && weekdayNamed(first.replace(/,$/, ''), locale) !== null
    ? rest
    : typed;
}

/**
 * A time of day as somebody types it, in minutes after midnight: `9`, `930`, `14.15`, `2pm`, `08:05`.
 * @returns null when it cannot be read, or there is no such time
 */
export function readTypedMinute(text: string): number | null {
  const typed = text.trim().toLowerCase().replace(/\s+/g, '');
  const [, hours, minutes = '0', half] = /^(\d{1,2})(?:[:.h]?([0-5]\d))?(am|pm|h)?$/.exec(typed) ?? [];
  if (hours === undefined) return null;
  const hour = Number(hours);
  if (half === 'am' || half === 'pm') {
    if (hour < 1 || hour > 12) return null;
    return ((hour % 12) + (half === 'pm' ? 12 : 0)) * 60 + Number(minutes);
  }
  return hour > 23 ? null : hour * 60 + Number(minutes);
}

/** Days that are often meant, for a press each. */
export interface QuickDay {
  readonly name: string;
  readonly day: PlainDate;
}

/**
 * Today, tomorrow, the next working day where that is another, in a week, and the first working day of next month and of next quarter.
 * @param isWorkingDay in the person's calendar
 */
export function quickDays(today: PlainDate, isWorkingDay: (day: PlainDate) => boolean): QuickDay[] {
  const working = (from: PlainDate) => {
    for (let day = from, tried = 0; tried < 14; day = addDays(day, 1), tried += 1)
      if (isWorkingDay(day)) return day;
    return from;
  };
  const month = `${today.slice(0, 7)}-01`;
  const intoQuarter = (Number(today.slice(5, 7)) - 1) % 3;
  const all = [
    { name: 'Today', day: today },
    { name: 'Tomorrow', day: addDays(today, 1) },
    { name: $localize`Next working day`, day: working(addDays(today, 1)) },
    { name: $localize`In a week`, day: addDays(today, 7) },
    { name: $localize`Next month`, day: working(addMonths(month, 1)) },
    { name: $localize`Next quarter`, day: working(addMonths(month, 3 - intoQuarter)) },
  ];
  return all.filter(({ day }, index) => all.findIndex((other) => other.day === day) === index);
}
