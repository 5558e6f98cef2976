import type { PlainDate } from '@kettle/contract';
import ICAL from 'ical.js';

const mostSteps = 5000;

/** Whether a text is a recurrence rule of RFC 5545 section 3.3.10 that goes by days: `FREQ=WEEKLY;BYDAY=MO`. */
export function isRepeatRule(rule: string): boolean {
  return readRule(rule) !== null;
}

/**
 * The first day after `after` on which a rule falls, counted from its anchor day; null when it has ended.
 * @param rule RFC 5545 recurrence rule of frequency DAILY, WEEKLY, MONTHLY or YEARLY
 * @throws Error when the rule is none
 * @example nextRepeat('FREQ=MONTHLY;BYMONTHDAY=31', '2026-01-31', '2026-01-31') is '2026-03-31': a month without the day is left out
 */
export function nextRepeat(rule: string, anchor: PlainDate, after: PlainDate): PlainDate | null {
  const read = readRule(rule);
  if (read === null) throw new Error(`not a rule for repeating: ${rule}`);
  const days = read.iterator(ICAL.Time.fromDateString(anchor));
  for (let step = 0; step < mostSteps; step += 1) {
    const day = days.next();
    if (!day) return null;
    const date = day.toString().slice(0, 10);
    if (date > after) return date;
  }
  return null;
}

function readRule(rule: string): ICAL.Recur | null {
  if (!/^(RRULE:)?([A-Z]+=[A-Z0-9,+-]+)(;[A-Z]+=[A-Z0-9,+-]+)*$/.test(rule)) return null;
  try {
    const read = ICAL.Recur.fromString(rule.replace(/^RRULE:/, ''));
    return ['DAILY', 'WEEKLY', 'MONTHLY', 'YEARLY'].includes(read.freq ?? '') ? read : null;
  } catch {
    return null;
  }
}
