import type { Report } from '@kettle/contract';
import { sayDate } from '@kettle/core/time';

/** The days of a report, beside those it is compared with. */
export function sayPeriod({ period, before }: Pick<Report, 'period' | 'before'>, today: string): string {
  if (period === null) return $localize`as it is now`;
  const days = (from: string, to: string) => `${sayDate(from, today)} – ${sayDate(to, today)}`;
  const now = days(period.from, period.to);
  return before === null ? now : $localize`${now}:period:, beside ${days(before.from, before.to)}:before:`;
}
