import type { PlainDate } from '@kettle/contract';
import { addDays, addMonths, onOrBeforeWorkingDay, type WorkingCalendar } from '../time';

export interface Term {
  readonly startsOn: PlainDate;
  readonly termMonths: number;
  readonly noticeDays: number;
  readonly leadDays: number;
}

export interface TermDates {
  /** First day after the term. */
  readonly endsOn: PlainDate;
  /** Last working day on which notice can be given. */
  readonly noticeDeadlineOn: PlainDate;
  /** The day to start talking about the renewal. */
  readonly leadOn: PlainDate;
}

/**
 * End, notice deadline and lead day of the `n`th term (0 = the first), anchored to the first start date.
 * Notice deadline = term end - notice days, moved back to a working day; lead day = notice deadline - lead days.
 */
export function termDates(term: Term, n: number, calendar: WorkingCalendar): TermDates {
  const endsOn = addMonths(term.startsOn, term.termMonths * (n + 1));
  const noticeDeadlineOn = onOrBeforeWorkingDay(addDays(endsOn, -term.noticeDays), calendar);
  return { endsOn, noticeDeadlineOn, leadOn: addDays(noticeDeadlineOn, -term.leadDays) };
}

/** The value of a term as money a year, rounded to the minor unit. */
export function yearlyValueMinor(valueMinor: number, termMonths: number): number {
  return Math.round((valueMinor * 12) / termMonths);
}
