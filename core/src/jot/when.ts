import type { JotQuestion, PlainDate } from '@kettle/contract';
import * as chrono from 'chrono-node';
import {
  addDays,
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
}

export interface WhenSetting {
  readonly now: string;
  readonly zone: string;
  /** Whether the clause tells of the past or asks for something ahead. */
  readonly isPast: boolean;
  readonly answers: Readonly<Record<string, string>>;
}

const hourPart = /^\s*(?:,\s*)?(?:at\s+)?(\d{1,2})(?:[:.](\d{2}))?\s*(am|pm)?(?![\d/.-])\b/i;

/** Finds the first date or time in a clause as English speakers write them, day before month. */
export function findWhen(text: string, setting: WhenSetting): FoundWhen | null {
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

/** A date that people read in two ways is asked about: 5/6, “next Tuesday”, a weekday that is today. */
function askDate(
  words: string,
  on: PlainDate,
  today: PlainDate,
  key: string,
  setting: WhenSetting,
): JotQuestion | null {
  const choice = (value: PlainDate) => ({ value, words: sayDate(value, today) });
  const about = `date:${key}`;
  const numeric = /\b(\d{1,2})[/.](\d{1,2})(?:[/.](\d{2,4}))?\b/.exec(words);
  if (numeric) {
    const [day, month] = [Number(numeric[1]), Number(numeric[2])];
    if (day > 12 || month > 12 || day === month) return null;
    const swapped = near(`${on.slice(0, 4)}-${two(day)}-${two(month)}`, today, setting.isPast);
    return {
      about,
      words: $localize`“${key}:key:”: which day is that?`,
      choices: [choice(on), choice(swapped)],
    };
  }
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
