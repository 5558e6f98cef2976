import type { PlainDate } from '@kettle/contract';
import * as chrono from 'chrono-node';
import { addDays } from '../time';

/** Words before a date that say somebody is back on it, and words that say it is the last day away. */
const backWords = /\b(back|return(s|ing)?|available again|in the office again|resume)\b[^.\n]{0,40}$/i;
const lastDayWords =
  /\b(until|till|through|to|up to and including|including|thru|-|–)\s*(the\s+)?((mon|tues|wednes|thurs|fri|satur|sun)day,?\s*)?$/i;
const longestDays = 200;

/**
 * The last day that an automatic reply says its writer is away; null when it names none. "Back on Monday 7 December"
 * means away to the 6th; "until 4 December" to the 4th. Dates before the day it came, or more than 200 days after, are not
 * believed.
 */
export function absenceUntil(text: string, receivedOn: PlainDate): PlainDate | null {
  const wall = new Date(`${receivedOn}T12:00:00.000Z`);
  const found = chrono.en.GB.parse(
    text.slice(0, 4000),
    { instant: wall, timezone: 0 },
    { forwardDate: true },
  );
  const days = found.flatMap((each) => {
    const before = text.slice(0, each.index);
    if (each.end && each.end.isCertain('day')) return [dayOf(each.end)];
    if (!each.start.isCertain('day') && !each.start.isCertain('weekday')) return [];
    if (lastDayWords.test(before)) return [dayOf(each.start)];
    return backWords.test(before) ? [addDays(dayOf(each.start), -1)] : [];
  });
  const believable = days.filter((day) => day >= receivedOn && day <= addDays(receivedOn, longestDays));
  return believable.sort().at(-1) ?? null;
}

function dayOf(components: chrono.ParsedComponents): PlainDate {
  const [year, month, day] = (['year', 'month', 'day'] as const).map((part) => components.get(part) ?? 1);
  return `${String(year)}-${String(month).padStart(2, '0')}-${String(day).padStart(2, '0')}`;
}
