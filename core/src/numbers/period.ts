import type { PlainDate } from '@kettle/contract';
import type { ReportPeriod } from '@kettle/contract/numbers/kinds';
import { addDays, addMonths, daysBetween, startOfMonth, startOfQuarter } from '../time';

/** First and last day. */
export interface Days {
  readonly from: PlainDate;
  readonly to: PlainDate;
}

/** A period by its name, and how far it has come. */
export interface Period extends Days {
  /** Its last day that is not ahead: before its first for one that has not begun. */
  readonly until: PlainDate;
  /** How many calendar months it is; null for one that is counted in days. */
  readonly months: number | null;
}

interface Named {
  readonly period: ReportPeriod;
  readonly from?: PlainDate | undefined;
  readonly to?: PlainDate | undefined;
}

/**
 * The days a named period has on a day.
 * @throws RangeError for one from day to day without its days
 * @example periodOn({ period: 'last-quarter' }, '2026-11-24') is from 2026-07-01 to 2026-09-30, 3 months
 */
export function periodOn({ period, from, to }: Named, today: PlainDate): Period {
  const whole = (start: PlainDate, months: number): Period => {
    const end = addDays(addMonths(start, months), -1);
    return { from: start, to: end, until: end < today ? end : today, months };
  };
  const lastDays = (days: number): Period => ({
    ...{ from: addDays(today, 1 - days), to: today, until: today, months: null },
  });
  const [month, quarter, year] = [startOfMonth(today), startOfQuarter(today), `${today.slice(0, 4)}-01-01`];
  switch (period) {
    case 'this-month':
      return whole(month, 1);
    case 'last-month':
      return whole(addMonths(month, -1), 1);
    case 'this-quarter':
      return whole(quarter, 3);
    case 'last-quarter':
      return whole(addMonths(quarter, -3), 3);
    case 'this-year':
      return whole(year, 12);
    case 'last-year':
      return whole(addMonths(year, -12), 12);
    case 'last-7-days':
      return lastDays(7);
    case 'last-30-days':
      return lastDays(30);
    case 'last-12-months':
      return { from: addDays(addMonths(today, -12), 1), to: today, until: today, months: null };
    case 'days': {
      if (from === undefined || to === undefined) throw new RangeError('a period from day to day has both');
      return { from, to, until: to < today ? to : today, months: null };
    }
  }
}

/**
 * The period before, as far as this one has come: of a running month the same days of the month before, so that like is beside like.
 * @example periodBefore(periodOn({ period: 'this-month' }, '2026-11-24')) is from 2026-10-01 to 2026-10-24
 */
export function periodBefore({ from, to, until, months }: Period): Days {
  if (months === null) {
    const length = daysBetween(from, to) + 1;
    return { from: addDays(from, -length), to: addDays(from, daysBetween(from, until) - length) };
  }
  const start = addMonths(from, -months);
  const last = addDays(from, -1);
  if (until === to) return { from: start, to: last };
  // A month before by its own day: of 31 March it is 28 February.
  const same = addMonths(until, -months);
  return { from: start, to: same < last ? same : last };
}
