import type { PlainDate } from '@kettle/contract';
import { addDays, addMonths } from '@kettle/core/time';

/** Stretches of time that a list is narrowed to, in words. */
export const periods = {
  month: 'this month',
  'next-month': 'next month',
  quarter: 'this quarter',
  'next-quarter': 'next quarter',
  year: 'this year',
  'last-month': 'last month',
  'last-quarter': 'last quarter',
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

/** First and last day of a period; null for an address that names none. */
export function periodOf(
  name: string | undefined,
  today: PlainDate,
): { from: PlainDate; to: PlainDate } | null {
  if (name === undefined || !(name in shapes)) return null;
  const { months, ahead } = shapes[name as Period];
  const month = Number(today.slice(5, 7)) - 1;
  const first = `${today.slice(0, 5)}${String(month - (month % months) + 1).padStart(2, '0')}-01`;
  const from = addMonths(first, months * ahead);
  return { from, to: addDays(addMonths(from, months), -1) };
}
