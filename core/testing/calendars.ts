import type { WorkingCalendar } from '../src/time';

/** Monday to Friday, nine to half past five in London, with the days off given. */
export function calendarOf(
  part: Partial<WorkingCalendar> = {},
  ...holidays: [string, string][]
): WorkingCalendar {
  return {
    zone: 'Europe/London',
    weekdays: [1, 2, 3, 4, 5],
    startMinute: 540,
    endMinute: 1050,
    holidays: new Map(holidays),
    place: 'Marrowdale',
    ...part,
  };
}
