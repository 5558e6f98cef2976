import type { AskReport, ReportColumn, ReportFigure } from '@kettle/contract';
import { numberFormat, sayPercent } from '../locale';
import { sayMoney } from '../money';

/** A figure as people read it; a dash where it is not known. @example sayFigure({ value: 0.3 }, 'share', 'GBP') is '30 %' */
export function sayFigure(
  { value }: Pick<ReportFigure, 'value'>,
  type: ReportColumn['type'],
  currency: string,
): string {
  if (value === null) return '–';
  switch (type) {
    case 'money':
      return sayMoney(Math.round(value), currency);
    case 'share':
      return sayPercent(value);
    case 'days':
      return numberFormat({ maximumFractionDigits: 1 }).format(value);
    case 'count':
    case 'minutes':
      return numberFormat().format(value);
  }
}

/**
 * A question as the address of its page, without what is usual: the same question is the same text, however it came to be asked.
 * @example reportAddress({ kind: 'lost', period: 'this-month', whose: 'mine' }) is 'part=lost&period=this-month'
 */
export function reportAddress({ kind, period, from, to, whose, pipeline, by }: AskReport): string {
  const isFromTo = period === 'days';
  const query = new URLSearchParams({ part: kind });
  const parts = {
    period: period === 'this-quarter' ? undefined : period,
    from: isFromTo ? from : undefined,
    to: isFromTo ? to : undefined,
    whose: whose === 'mine' ? undefined : whose,
    ...{ pipeline, by },
  };
  for (const [key, value] of Object.entries(parts)) if (value !== undefined) query.set(key, value);
  return query.toString();
}
