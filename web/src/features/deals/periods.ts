import type { PlainDate } from '@kettle/contract';
import type { ReportPeriod } from '@kettle/contract/numbers/kinds';
import { addDays, addMonths, startOfMonth, startOfQuarter } from '@kettle/core/time';

/** Stretches of time that a list is narrowed to, in words. */
export const periods = {
  month: $localize`this month`,
  'next-month': $localize`next month`,
  quarter: $localize`this quarter`,
  'next-quarter': $localize`next quarter`,
  year: $localize`this year`,
  'last-month': $localize`last month`,
  'last-quarter': $localize`last quarter`,
} as const;
export type Period = keyof typeof periods;

const shapes: Record<Period, { months: 1 | 3 | 12; ahead: -1 | 0 | 1 }> = {
  month: { months: 1, ahead: 0 },
  'next-month': { months: 1, ahead: 1 },
  quarter: { months: 3, ahead: 0 },
  'next-quarter': { months: 3, ahead: 1 },
  year: { months: 12, ahead: 0 },
  'last-month': { months: 1, ahead: -1 },
  'last-quarter': { months: 3, ahead: -1 },
};

/** The period of a report that a list's is; of all time, or one ahead, the last twelve months. */
export function reportPeriodOf(name: string | undefined): ReportPeriod {
  switch (name) {
    case 'month':
      return 'this-month';
    case 'quarter':
      return 'this-quarter';
    case 'year':
      return 'this-year';
    case 'last-month':
    case 'last-quarter':
      return name;
    default:
      return 'last-12-months';
  }
}

const startOfYear = (day: PlainDate) => `${day.slice(0, 4)}-01-01`;

/** First and last day of a period; null for an address that names none. */
export function periodOf(
  name: string | undefined,
  today: PlainDate,
): { from: PlainDate; to: PlainDate } | null {
  if (name === undefined || !(name in shapes)) return null;
  const { months, ahead } = shapes[name as Period];
  const startOf = { 1: startOfMonth, 3: startOfQuarter, 12: startOfYear }[months];
  const from = addMonths(startOf(today), months * ahead);
  return { from, to: addDays(addMonths(from, months), -1) };
}
