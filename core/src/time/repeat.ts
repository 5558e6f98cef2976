import type { PlainDate } from '@kettle/contract';
import { daysInMonth, fromDayNumber, toDayNumber, weekdayOfDay } from './plain-date';

/**
 * A recurrence rule that goes by days: the stated subset of RFC 5545 section 3.3.10. Frequencies DAILY, WEEKLY, MONTHLY and YEARLY with
 * INTERVAL, COUNT or UNTIL, BYMONTH, BYMONTHDAY, BYDAY, BYSETPOS and WKST, where they mean something together.
 */
export interface RepeatRule {
  readonly freq: 'DAILY' | 'WEEKLY' | 'MONTHLY' | 'YEARLY';
  readonly interval: number;
  readonly count: number | null;
  /** The last day it may fall on. */
  readonly until: PlainDate | null;
  readonly months: readonly number[];
  /** 1 to 31, or -1 for the last of the month and back. */
  readonly monthDays: readonly number[];
  /** ISO weekdays, 1 = Monday; `nth` says which of a month or year, -1 is its last. */
  readonly days: readonly { readonly weekday: number; readonly nth: number | null }[];
  readonly positions: readonly number[];
  /** The ISO weekday that weeks begin on. */
  readonly weekStart: number;
}

/** A rule that comes within this many years of its first day comes at all; no calendar goes further. */
const mostYears = 100;
/** Periods that are looked at for one answer: more than a rule of 100 years of days has. */
const mostPeriods = 40_000;
const most = { interval: 1000, count: 1000 };

/** No calendar of ours goes further. */
const lastDay = toDayNumber('9999-12-31');

const weekdays = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'];

/**
 * Reads a rule as somebody typed it.
 * @returns the rule, or in a few words why it is none that is taken
 * @example readRepeat('FREQ=WEEKLY;BYDAY=MO')
 */
export function readRepeat(text: string): RepeatRule | string {
  const parts = partsOf(text);
  if (typeof parts === 'string') return parts;
  const freq = parts.get('FREQ');
  if (freq === undefined || !['DAILY', 'WEEKLY', 'MONTHLY', 'YEARLY'].includes(freq))
    return $localize`begins with FREQ=DAILY, WEEKLY, MONTHLY or YEARLY`;
  const interval = wholeOf(parts.get('INTERVAL') ?? '1', most.interval);
  if (interval === null) return $localize`INTERVAL is a number from 1 to ${most.interval}:interval:`;
  const count = parts.has('COUNT') ? wholeOf(parts.get('COUNT')!, most.count) : null;
  if (parts.has('COUNT') && count === null)
    return $localize`COUNT is a number from 1 to ${most.count}:count:`;
  const until = parts.has('UNTIL') ? dayOf(parts.get('UNTIL')!) : null;
  if (parts.has('UNTIL') && until === null) return $localize`UNTIL is a day such as 20271231`;
  if (count !== null && until !== null) return $localize`has COUNT or UNTIL, not both`;
  const months = listOf(parts.get('BYMONTH'), 12);
  if (months === null) return $localize`BYMONTH is months from 1 to 12`;
  const monthDays = listOf(parts.get('BYMONTHDAY'), 31, { mayCountBack: true });
  if (monthDays === null) return $localize`BYMONTHDAY is days from 1 to 31, or -1 to -31 from the end`;
  const positions = listOf(parts.get('BYSETPOS'), 366, { mayCountBack: true });
  if (positions === null) return $localize`BYSETPOS is numbers such as 1 or -1`;
  const days = daysOf(parts.get('BYDAY'));
  if (days === null) return $localize`BYDAY is weekdays such as MO,TH or 1FR`;
  const weekStart = parts.has('WKST') ? weekdays.indexOf(parts.get('WKST')!) + 1 : 1;
  if (weekStart === 0) return $localize`WKST is a weekday such as MO`;
  const rule: RepeatRule = {
    freq: freq as RepeatRule['freq'],
    interval,
    count,
    until,
    months,
    monthDays,
    days,
    positions,
    weekStart,
  };
  return whyMeaningless(rule) ?? rule;
}

/** Whether a text is a rule that is taken: `FREQ=WEEKLY;BYDAY=MO`. */
export const isRepeatRule = (text: string): boolean => typeof readRepeat(text) !== 'string';

/** Whether a rule falls on any day at all from an anchor on: one of 30 February does not. */
export const everComes = (text: string, anchor: PlainDate): boolean =>
  nextRepeat(text, anchor, fromDayNumber(toDayNumber(anchor) - 1)) !== null;

/**
 * The first day after `after` on which a rule falls, counted from its anchor day; null when it has ended, or never comes within 100 years.
 * The work is bounded whatever the rule. A day of the month that is the anchor's own and that a month does not have is that month's last
 * (RFC 7529, SKIP=BACKWARD); one that BYMONTHDAY names is left out there.
 * @throws Error when the rule is none
 * @see RFC 5545, section 3.3.10: the table of what each part expands or limits
 * @example nextRepeat('FREQ=MONTHLY', '2026-01-31', '2026-01-31') is '2026-02-28'
 * @example nextRepeat('FREQ=MONTHLY;BYMONTHDAY=31', '2026-01-31', '2026-01-31') is '2026-03-31'
 */
export function nextRepeat(text: string, anchor: PlainDate, after: PlainDate): PlainDate | null {
  const rule = readRepeat(text);
  if (typeof rule === 'string') throw new Error(`not a rule for repeating: ${rule}`);
  const first = toDayNumber(anchor);
  const wanted = toDayNumber(after);
  const last = Math.min(
    lastDay,
    Math.max(first, wanted) + mostYears * 366,
    rule.until === null ? Infinity : toDayNumber(rule.until),
  );
  let found = 0;
  // Only counting needs every one of them from the first on.
  const skipped = rule.count === null ? Math.max(0, periodsBetween(rule, first, wanted) - 1) : 0;
  for (let period = skipped; period < skipped + mostPeriods; period += 1) {
    const { start, days } = periodOf(rule, first, period);
    if (start > last) return null;
    for (const day of days) {
      if (day < first) continue;
      if (day > last) return null;
      found += 1;
      if (rule.count !== null && found > rule.count) return null;
      if (day > wanted) return fromDayNumber(day);
    }
  }
  return null;
}

/** How many periods of a rule surely lie before a day. */
function periodsBetween({ freq, interval }: RepeatRule, first: number, wanted: number): number {
  const longest = { DAILY: 1, WEEKLY: 7, MONTHLY: 31, YEARLY: 366 }[freq] * interval;
  return Math.floor((wanted - first) / longest);
}

interface Period {
  readonly start: number;
  /** The days of it on which the rule falls, in order. */
  readonly days: readonly number[];
}

const beyond: Period = { start: Infinity, days: [] };

function periodOf(rule: RepeatRule, first: number, period: number): Period {
  const anchor = partsOfDay(first);
  switch (rule.freq) {
    case 'DAILY': {
      const start = first + period * rule.interval;
      return { start, days: isLimitedTo(rule, start) ? [start] : [] };
    }
    case 'WEEKLY': {
      const begin = first - ((weekdayOfDay(first) - rule.weekStart + 7) % 7);
      const start = begin + period * rule.interval * 7;
      const wanted = rule.days.length > 0 ? rule.days.map(({ weekday }) => weekday) : [weekdayOfDay(first)];
      const days = span(start, 7).filter(
        (day) => wanted.includes(weekdayOfDay(day)) && isInMonths(rule, partsOfDay(day).month),
      );
      return { start, days: atPositions(rule, days) };
    }
    case 'MONTHLY': {
      const at = anchor.month - 1 + period * rule.interval;
      const [year, month] = [anchor.year + Math.floor(at / 12), (at % 12) + 1];
      if (year > 9999) return beyond;
      const start = numberOf(year, month, 1);
      const days = isInMonths(rule, month) ? daysOfMonth(rule, { year, month }, anchor.day) : [];
      return { start, days: atPositions(rule, days) };
    }
    case 'YEARLY': {
      const year = anchor.year + period * rule.interval;
      if (year >= 9999) return beyond;
      return { start: numberOf(year, 1, 1), days: atPositions(rule, daysOfYear(rule, year, anchor)) };
    }
  }
}

function daysOfYear(rule: RepeatRule, year: number, anchor: { month: number; day: number }): number[] {
  const isByWeekdayOfYear = rule.days.length > 0 && rule.months.length === 0 && rule.monthDays.length === 0;
  if (isByWeekdayOfYear) {
    const start = numberOf(year, 1, 1);
    return nthOf(rule.days, span(start, numberOf(year + 1, 1, 1) - start));
  }
  const usual = rule.monthDays.length > 0 ? span(1, 12) : [anchor.month];
  const months = rule.months.length > 0 ? [...rule.months].sort((a, b) => a - b) : usual;
  return months.flatMap((month) => daysOfMonth(rule, { year, month }, anchor.day));
}

/** The days of one month: those of BYMONTHDAY that are of BYDAY, those of either, or the anchor's own. */
function daysOfMonth(
  rule: RepeatRule,
  { year, month }: { readonly year: number; readonly month: number },
  ownDay: number,
): number[] {
  const length = daysInMonth(year, month);
  const all = span(numberOf(year, month, 1), length);
  if (rule.monthDays.length > 0) {
    const wanted = new Set(rule.monthDays.map((day) => (day > 0 ? day : length + 1 + day)));
    return all.filter((day, at) => wanted.has(at + 1) && isOfWeekdays(rule, day));
  }
  if (rule.days.length > 0) return nthOf(rule.days, all);
  return [all[Math.min(ownDay, length) - 1]!];
}

/** Of a month's or year's days those of the weekdays, all or the nth of each. */
function nthOf(days: RepeatRule['days'], all: readonly number[]): number[] {
  const found = new Set<number>();
  for (const { weekday, nth } of days) {
    const same = all.filter((day) => weekdayOfDay(day) === weekday);
    if (nth === null) same.forEach((day) => found.add(day));
    else {
      const day = nth > 0 ? same[nth - 1] : same[same.length + nth];
      if (day !== undefined) found.add(day);
    }
  }
  return [...found].sort((a, b) => a - b);
}

function atPositions({ positions }: RepeatRule, days: readonly number[]): readonly number[] {
  if (positions.length === 0) return days;
  const wanted = new Set(positions.map((at) => (at > 0 ? at - 1 : days.length + at)));
  return days.filter((_, at) => wanted.has(at));
}

const isOfWeekdays = ({ days }: RepeatRule, day: number) =>
  days.length === 0 || days.some(({ weekday }) => weekday === weekdayOfDay(day));

const isInMonths = ({ months }: RepeatRule, month: number) => months.length === 0 || months.includes(month);

function isLimitedTo(rule: RepeatRule, dayNumber: number): boolean {
  const { year, month, day } = partsOfDay(dayNumber);
  const length = daysInMonth(year, month);
  const isOfMonthDays =
    rule.monthDays.length === 0 ||
    rule.monthDays.some((each) => (each > 0 ? each : length + 1 + each) === day);
  return isInMonths(rule, month) && isOfMonthDays && isOfWeekdays(rule, dayNumber);
}

/** What the standard's table calls meaningless, in words. */
function whyMeaningless({ freq, monthDays, days, positions, months }: RepeatRule): string | null {
  const hasNth = days.some(({ nth }) => nth !== null);
  if (freq === 'WEEKLY' && monthDays.length > 0) return $localize`BYMONTHDAY means nothing in weeks`;
  if (hasNth && (freq === 'DAILY' || freq === 'WEEKLY'))
    return $localize`BYDAY takes numbers only in months and years`;
  if (hasNth && days.some(({ nth }) => nth === null))
    return $localize`BYDAY has a number at every weekday, or at none`;
  if (hasNth && monthDays.length > 0) return $localize`BYDAY takes no numbers beside BYMONTHDAY`;
  if (hasNth && !(freq === 'YEARLY' && months.length === 0) && days.some(({ nth }) => Math.abs(nth ?? 0) > 5))
    return $localize`a month has at most five of a weekday`;
  if (positions.length === 0) return null;
  if (freq === 'DAILY') return $localize`BYSETPOS means nothing in days`;
  return days.length + monthDays.length + months.length === 0
    ? $localize`BYSETPOS needs BYDAY, BYMONTHDAY or BYMONTH`
    : null;
}

const known = new Set([
  'FREQ',
  'INTERVAL',
  'COUNT',
  'UNTIL',
  'BYMONTH',
  'BYMONTHDAY',
  'BYDAY',
  'BYSETPOS',
  'WKST',
]);

function partsOf(text: string): Map<string, string> | string {
  if (!text.includes('=')) return $localize`is not a rule for repeating`;
  const parts = new Map<string, string>();
  for (const part of text.replace(/^RRULE:/, '').split(';')) {
    const [name = '', value, ...more] = part.split('=');
    if (!known.has(name))
      return name === ''
        ? $localize`is empty`
        : $localize`has ${name.slice(0, 20)}:slice:, which is not taken here`;
    if (value === undefined || value === '' || more.length > 0) return $localize`${name}:name: has no value`;
    if (parts.has(name)) return $localize`has ${name}:name: twice`;
    parts.set(name, value);
  }
  return parts;
}

/** A number from 1 on; null for anything else. */
function wholeOf(text: string, greatest: number): number | null {
  return /^\d{1,6}$/.test(text) && Number(text) >= 1 && Number(text) <= greatest ? Number(text) : null;
}

/** Numbers from 1 on, or from the end; none where there is no text, null for anything else. */
function listOf(
  text: string | undefined,
  greatest: number,
  { mayCountBack = false }: { readonly mayCountBack?: boolean } = {},
): number[] | null {
  if (text === undefined) return [];
  const values = text.split(',');
  if (values.length > 60 || !values.every((each) => /^[+-]?\d{1,3}$/.test(each))) return null;
  const numbers = values.map(Number);
  const isIn = (n: number) => (mayCountBack || n > 0) && n !== 0 && Math.abs(n) <= greatest;
  return numbers.every(isIn) ? [...new Set(numbers)] : null;
}

function daysOf(text: string | undefined): RepeatRule['days'] | null {
  if (text === undefined) return [];
  const days = text.split(',').map((each) => {
    const [, nth = '', name = ''] = /^([+-]?\d{1,2})?(MO|TU|WE|TH|FR|SA|SU)$/.exec(each) ?? [];
    const number = nth === '' ? null : Number(nth);
    if (name === '' || number === 0 || Math.abs(number ?? 1) > 53) return null;
    return { weekday: weekdays.indexOf(name) + 1, nth: number };
  });
  return days.length <= 60 && days.every((each) => each !== null) ? days : null;
}

/** `20271231`, or a moment of that day in UTC. */
function dayOf(text: string): PlainDate | null {
  const [, year, month, day] = /^(\d{4})(\d{2})(\d{2})(T\d{6}Z?)?$/.exec(text) ?? [];
  if (year === undefined || Number(month) < 1 || Number(month) > 12) return null;
  if (Number(day) < 1 || Number(day) > daysInMonth(Number(year), Number(month))) return null;
  return `${year}-${month!}-${day!}`;
}

const span = (start: number, length: number) => Array.from({ length }, (_, at) => start + at);

const numberOf = (year: number, month: number, day: number) =>
  toDayNumber(
    `${String(year).padStart(4, '0')}-${String(month).padStart(2, '0')}-${String(day).padStart(2, '0')}`,
  );

function partsOfDay(number: number): { year: number; month: number; day: number } {
  const [year, month, day] = fromDayNumber(number).split('-').map(Number) as [number, number, number];
  return { year, month, day };
}
