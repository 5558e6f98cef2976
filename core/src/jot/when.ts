import type { JotQuestion, PlainDate } from '@kettle/contract';
import * as chrono from 'chrono-node';
import { isMonthFirst, localeOf } from '../locale';
import {
  addDays,
  addMonths,
  daysInMonth,
  isoWeekday,
  localDate,
  localMinute,
  localMoment,
  sayDate,
  plainTime,
  sayMinute,
  daysBetween,
} from '../time';

export interface FoundWhen {
  readonly start: number;
  readonly end: number;
  readonly on: PlainDate;
  readonly minute: number | null;
  /** The date as the words name it, for asking when it could be two. */
  readonly question: JotQuestion | null;
  /** Of a time from … to …, how long that is. */
  readonly minutes?: number;
}

export interface WhenSetting {
  /** Whose order of day and month holds. */
  readonly country: string;
  readonly now: string;
  readonly zone: string;
  /** Whether the clause tells of the past or asks for something ahead. */
  readonly isPast: boolean;
  readonly answers: Readonly<Record<string, string>>;
}

const hourPart = /^\s*(?:,\s*)?(?:at\s+)?(\d{1,2})(?:[:.](\d{2}))?\s*(am|pm)?(?![\d/.-])\b/i;

/** Finds the first date or time in a clause as English speakers write them, day and month in the order of their country. */
export function findWhen(text: string, setting: WhenSetting): FoundWhen | null {
  const own = findOwnWay(text, setting);
  if (own !== null) return own;
  return findUsual(text, setting);
}

const weekdays = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'];
const clock = String.raw`(?:(?:at|by|before|from|around|about)\s+)?(?:(?<half>half (?:past )?|quarter (?:past|to) )?(?<hour>\d{1,2})(?:[:.h](?<minute>\d{2}))?\s*(?<meridiem>am|pm)?(?:\s*(?:-|–|to)\s*(?<until>\d{1,2})(?:[:.](?<untilMinute>\d{2}))?)?|(?<noon>noon|midday|lunchtime))`;
/** Days that are said in ways of their own; each says how far it is from today. */
const ownDays: readonly (readonly [
  RegExp,
  (match: RegExpExecArray, setting: WhenSetting) => PlainDate | null,
])[] = [
  [/\b(?:the )?day after tomorrow\b/i, (_, { now, zone }) => addDays(localDate(now, zone), 2)],
  [
    /\b(?:on )?(mon|tue|wed|thu|fri|sat|sun)[a-z]* week\b/i,
    (match, { now, zone }) => {
      const today = localDate(now, zone);
      const wanted = weekdays.indexOf(match[1]!.toLowerCase()) + 1;
      return addDays(today, ((wanted - isoWeekday(today) + 6) % 7) + 1 + 7);
    },
  ],
  [
    /\bin (\d{1,2}|a|one|two|three|four|five) (?:working days?|work ?days?|business days?)\b/i,
    (match, { now, zone }) => {
      const count = words.indexOf(match[1]!.toLowerCase());
      return inWorkingDays(localDate(now, zone), count > 0 ? count : Number(match[1]) || 1);
    },
  ],
  [
    /\b(?:by |at )?(?:the )?(?:eod|cob|end of (?:the )?(?:day|business))\b/i,
    (_, { now, zone }) => localDate(now, zone),
  ],
  [
    /\b(?:by |at |till )?(?:the )?(?:eow|end of (?:the |this )?week)\b/i,
    (_, { now, zone }) => {
      const today = localDate(now, zone);
      return addDays(today, Math.max(0, 5 - isoWeekday(today)));
    },
  ],
  [
    /\b(?:by |at )?(?:the )?(?:eom|end of (?:the |this )?month)\b/i,
    (_, { now, zone }) => {
      const today = localDate(now, zone);
      const [year, month] = today.split('-').map(Number) as [number, number];
      return `${today.slice(0, 8)}${two(daysInMonth(year, month))}`;
    },
  ],
  [/\bin a fortnight\b/i, (_, { now, zone }) => addDays(localDate(now, zone), 14)],
  [
    /\bon the (\d{1,2})(?:st|nd|rd|th)\b(?! (?:of|jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec))/i,
    (match, { now, zone, isPast }) => {
      const today = localDate(now, zone);
      const inMonth = (months: number) => {
        const first = addMonths(`${today.slice(0, 8)}01`, months);
        const [year, month] = first.split('-').map(Number) as [number, number];
        return Number(match[1]) > daysInMonth(year, month)
          ? null
          : `${first.slice(0, 8)}${two(Number(match[1]))}`;
      };
      const days = (isPast ? [0, -1, -2] : [0, 1, 2]).flatMap((each) => inMonth(each) ?? []);
      return days.find((day) => (isPast ? day <= today : day >= today)) ?? null;
    },
  ],
  [
    /(?:\bon )?(?<![\d.,/£€$])(\d{1,2})([./])(\d{1,2})(?:\2(\d{4}|\d{2})?)?(?![\d/]|\s?(?:%|bar|kg|t\b|tons?|m\b|l\b))/i,
    (match, { now, zone, isPast, country }) => {
      // `8.30` may be a time; with a second point, or a slash, it is a day.
      const isDay = match[2] === '/' || match[0].endsWith('.') || match[4] !== undefined;
      if (!isDay) return null;
      const monthFirst = match[2] === '/' && isMonthFirst(localeOf(country));
      const given = monthFirst ? [match[3], match[1]] : [match[1], match[3]];
      const [day, month] = Number(given[1]) > 12 ? [Number(given[1]), Number(given[0])] : given.map(Number);
      const today = localDate(now, zone);
      const year = match[4]
        ? Number(match[4]) + (match[4].length === 2 ? 2000 : 0)
        : Number(today.slice(0, 4));
      if (month! < 1 || month! > 12 || day! < 1 || day! > daysInMonth(year, month!)) return null;
      const at = `${year}-${two(month!)}-${two(day!)}`;
      return match[4] ? at : near(at, today, isPast);
    },
  ],
];
const words = ['', 'one', 'two', 'three', 'four', 'five'];

/** Monday to Friday: whose holidays hold is seen to where the step is planned. */
function inWorkingDays(from: PlainDate, count: number): PlainDate {
  let at = from;
  for (let left = count; left > 0;) {
    at = addDays(at, 1);
    if (isoWeekday(at) <= 5) left -= 1;
  }
  return at;
}

/** A day said in a way of its own with the time beside it, or a time of such a way beside a usual day. */
function findOwnWay(text: string, setting: WhenSetting): FoundWhen | null {
  const { now, zone, isPast } = setting;
  const today = localDate(now, zone);
  for (const [pattern, dayOf] of ownDays) {
    const match = pattern.exec(text);
    const on = match && dayOf(match, setting);
    if (!match || !on) continue;
    const span = { start: match.index, end: match.index + match[0].length };
    const time = timeBeside(text, span, setting);
    const isEnd = /eod|cob|end of (?:the )?(?:day|business)/i.test(match[0]);
    if (time === null) return { ...span, on, minute: isEnd ? endOfDay : null, question: null };
    return { ...joined(span, time), on, ...timeOf(time) };
  }
  // Times of their own kind beside a day, or alone: `at noon`, `half past 2`, `9-10`, `before 12`.
  const special = new RegExp(
    String.raw`\b(?:(?:by|before) \d{1,2}(?![\d:./])|(?:at |by |before )?(?:noon|midday)|(?:at )?(?:half (?:past )?|quarter (?:past|to) )\d{1,2}|(?:from )?\d{1,2}(?::\d{2})?\s?[-–]\s?\d{1,2}(?::\d{2})?(?!\s?(?:%|min|bar|days?|weeks?)))(?:\s*[ap]m)?`,
    'i',
  ).exec(text);
  if (special === null) return null;
  const span = { start: special.index, end: special.index + special[0].length };
  const time = readTime(special[0], span.start, setting);
  if (time === null) return null;
  const masked = text.slice(0, span.start) + ' '.repeat(special[0].length) + text.slice(span.end);
  const day = findUsual(masked, setting) ?? findOwnDay(masked, setting);
  if (day !== null)
    return { ...joined(day, time), on: day.on, ...timeOf(time), question: day.question ?? time.question };
  const on = !isPast && localMoment(today, time.minute, zone) < now ? addDays(today, 1) : today;
  return { ...span, on, ...timeOf(time) };
}

const findOwnDay = (text: string, setting: WhenSetting): FoundWhen | null => {
  for (const [pattern, dayOf] of ownDays) {
    const match = pattern.exec(text);
    const on = match && dayOf(match, setting);
    if (match && on)
      return { start: match.index, end: match.index + match[0].length, on, minute: null, question: null };
  }
  return null;
};

const endOfDay = 17 * 60;

interface FoundTime {
  readonly start: number;
  readonly end: number;
  readonly minute: number;
  readonly minutes?: number;
  readonly question: JotQuestion | null;
}

const timeOf = ({ minute, minutes, question }: FoundTime) => ({
  minute,
  question,
  ...(minutes === undefined ? {} : { minutes }),
});

const joined = (one: { start: number; end: number }, other: { start: number; end: number }) => ({
  start: Math.min(one.start, other.start),
  end: Math.max(one.end, other.end),
});

/** A time right before or right behind a day. */
function timeBeside(
  text: string,
  day: { start: number; end: number },
  setting: WhenSetting,
): FoundTime | null {
  const behind = new RegExp(String.raw`^\s*,?\s*${clock}(?![\d./])\b`, 'i').exec(text.slice(day.end));
  if (behind) return readTime(behind[0], day.end, setting);
  const before = new RegExp(
    String.raw`\b(?:at|by|before)\s+(?:\d{1,2}(?:[:.]\d{2})?\s*(?:am|pm)?|noon|midday)\s*$`,
    'i',
  ).exec(text.slice(0, day.start));
  return before ? readTime(before[0], before.index, setting) : null;
}

function readTime(typed: string, at: number, setting: WhenSetting): FoundTime | null {
  const match = new RegExp(clock, 'i').exec(typed);
  if (!match) return null;
  const { half, hour, minute: past, meridiem, until, untilMinute, noon } = match.groups!;
  const span = { start: at + match.index, end: at + match.index + match[0].length };
  if (noon) return { ...span, minute: 12 * 60, question: null };
  const named = Number(hour);
  if (named > 24 || Number(past ?? 0) > 59) return null;
  const base =
    (named % 24) * 60 +
    (half === undefined ? Number(past ?? 0) : /^half/i.test(half) ? 30 : /past/i.test(half) ? 15 : -15);
  const isPm = meridiem?.toLowerCase() === 'pm' && named < 12;
  const key = typed.trim().toLowerCase();
  const settled =
    meridiem || named > 12 || named === 0 ? base + (isPm ? 720 : 0) : settleHour(base, key, setting);
  const minute = typeof settled === 'number' ? settled : base;
  const question = typeof settled === 'number' ? null : settled;
  if (until === undefined) return { ...span, minute, question };
  const end = Number(until) * 60 + Number(untilMinute ?? 0);
  const minutes = (end - (base % 720) + 1440) % 720 || 60;
  return { ...span, minute, minutes, question };
}

/** The usual ways, as the date parser knows them. */
function findUsual(text: string, setting: WhenSetting): FoundWhen | null {
  const { now, zone, isPast } = setting;
  const today = localDate(now, zone);
  // The parser thinks in an offset: the wall clock of the zone is given as if it were UTC.
  const wall = new Date(`${today}T${plainTime(localMinute(now, zone))}:00Z`);
  const [found] = chrono.en.GB.parse(text, { instant: wall, timezone: 0 }, { forwardDate: !isPast }).filter(
    (result) => !/^(?:may|sat|sun|mar|march|now|second|sec)$/i.test(result.text) || /\d/.test(result.text),
  );
  if (!found) return null;
  const { start } = found;
  const has = (part: 'day' | 'weekday' | 'hour' | 'month' | 'year') => start.isCertain(part);
  const date = `${start.get('year')}-${two(start.get('month'))}-${two(start.get('day'))}`;
  const namesDay = has('day') || has('weekday') || has('month') || /week|month|year|day/i.test(found.text);
  const isTimeOnly = has('hour') && !namesDay;
  let on: PlainDate = isTimeOnly ? today : date;
  // What happened on Friday was the last one.
  if (isPast && on > today && has('weekday') && !has('day')) on = addDays(on, -7);
  let end = found.index + found.text.length;
  let minute = has('hour') ? start.get('hour')! * 60 + (start.get('minute') ?? 0) : null;
  let isAfternoonSaid = has('hour') && (/[ap]\.?m/i.test(found.text) || (start.get('hour') ?? 0) > 12);
  const rest = minute === null ? hourPart.exec(text.slice(end)) : null;
  if (rest && Number(rest[1]) <= 24 && Number(rest[2] ?? 0) < 60) {
    end += rest[0].length;
    const hour = Number(rest[1]);
    const meridiem = rest[3]?.toLowerCase();
    minute =
      ((meridiem === 'pm' && hour < 12 ? hour + 12 : meridiem === 'am' && hour === 12 ? 0 : hour) % 24) * 60 +
      Number(rest[2] ?? 0);
    isAfternoonSaid = meridiem !== undefined || hour > 12;
  }
  const key = text.slice(found.index, end).trim().toLowerCase();
  if (minute !== null && !isAfternoonSaid && !/\b0\d[:.]/.test(found.text)) {
    const settled = settleHour(minute, key, setting);
    if (typeof settled !== 'number') return { start: found.index, end, on, minute, question: settled };
    minute = settled;
  }
  if (/\b(afternoon)\b/i.test(found.text) && !isAfternoonSaid) minute = null;
  if (/\b(morning|evening|noon|tonight)\b/i.test(found.text) && !/\d/.test(found.text)) minute = null;
  const question = askDate(found.text, on, today, key, setting);
  if (question !== null) {
    const answer = setting.answers[question.about];
    if (answer === undefined) return { start: found.index, end, on, minute, question };
    on = answer;
  }
  if (!isPast && isTimeOnly && minute !== null && localMoment(today, minute, zone) < now)
    on = addDays(today, 1);
  return { start: found.index, end, on, minute, question: null };
}

const two = (part: number | null) => String(part ?? 1).padStart(2, '0');

/** Hours without am or pm: one to six are in the afternoon, eight to twelve as they stand; seven is asked about. */
function settleHour(minute: number, key: string, { answers }: WhenSetting): number | JotQuestion {
  const hour = Math.floor(minute / 60);
  if (hour === 7) {
    const about = `time:${key}`;
    if (answers[about] !== undefined) return Number(answers[about]);
    const choices = [minute, minute + 720].map((each) => ({ value: String(each), words: sayMinute(each) }));
    return { about, words: $localize`“${key}:key:”: in the morning or in the evening?`, choices };
  }
  return hour >= 1 && hour < 7 ? minute + 720 : minute;
}

/** A date that people read in two ways is asked about: “next Tuesday”, a weekday that is today. */
function askDate(
  words: string,
  on: PlainDate,
  today: PlainDate,
  key: string,
  setting: WhenSetting,
): JotQuestion | null {
  const choice = (value: PlainDate) => ({ value, words: sayDate(value, today) });
  const about = `date:${key}`;
  if (setting.isPast) return null;
  if (/\bnext\s+(?:mon|tue|wed|thu|fri|sat|sun)/i.test(words)) {
    const first = daysBetween(today, on) > 7 ? addDays(on, -7) : on;
    return {
      about,
      words: $localize`“${key}:key:”: which one?`,
      choices: [choice(first), choice(addDays(first, 7))],
    };
  }
  const isBareWeekday = /^(?:on\s+)?(?:mon|tue|wed|thu|fri|sat|sun)[a-z]*\b/i.test(words);
  if (isBareWeekday && daysBetween(today, on) % 7 === 0) {
    const choices = [choice(today), choice(addDays(today, 7))];
    return { about, words: $localize`“${key}:key:” is today. Today or in a week?`, choices };
  }
  return null;
}

/** A day and month in the year that lies ahead, or behind for the past. */
function near(date: PlainDate, today: PlainDate, isPast: boolean): PlainDate {
  const year = Number(today.slice(0, 4));
  const inYear = (each: number) => `${each}${date.slice(4)}`;
  if (isPast) return inYear(year) <= today ? inYear(year) : inYear(year - 1);
  return inYear(year) >= today ? inYear(year) : inYear(year + 1);
}
