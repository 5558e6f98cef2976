import type { PlainDate } from '@kettle/contract';
import { addDays, onOrAfterWorkingDay, type WorkingCalendar } from '../time';

export interface CheckInFacts {
  readonly lastTouchOn: PlainDate | null;
  /** The day the standing was set: where counting starts for somebody never touched. */
  readonly standingSetOn: PlainDate;
  /** The standing's interval in days; null when it asks for no check-ins. */
  readonly standingDays: number | null;
  /** The person's own interval, which goes before the standing's. */
  readonly ownDays: number | null;
}

/**
 * The day a check-in is due: last counting touch plus the interval in calendar days, then to the next working day;
 * null when no check-in is asked for. From that day's morrow on the contact is quiet.
 */
export function checkInDueOn(facts: CheckInFacts, calendar: WorkingCalendar): PlainDate | null {
  const interval = facts.ownDays ?? facts.standingDays;
  if (interval === null) return null;
  return onOrAfterWorkingDay(addDays(facts.lastTouchOn ?? facts.standingSetOn, interval), calendar);
}

export function isQuiet(dueOn: PlainDate | null, today: PlainDate): boolean {
  return dueOn !== null && dueOn < today;
}
