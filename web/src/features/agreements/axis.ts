import { sayMonth } from '@kettle/core/time';
import type { AgreementRow } from '@kettle/contract';
import { addMonths, daysBetween } from '@kettle/core/time';

export interface AxisRow {
  readonly agreement: AgreementRow;
  /** In the agreement's own currency, and in the organisation's; null while there is no rate. */
  readonly yearlyMinor: number;
  readonly yearlyHomeMinor: number | null;
  /** Positions on the axis, 0 = today, 1 = a year on; null beyond it. */
  readonly lead: number;
  readonly deadline: number | null;
  readonly end: number;
}

export interface Axis {
  readonly months: readonly { readonly name: string; readonly at: number }[];
  readonly rows: readonly AxisRow[];
}

/** A month that begins further along has no room for its name. */
const roomForName = 0.97;

/** Places agreements between today and a year from now. */
export function axisOf(agreements: readonly AgreementRow[], today: string): Axis {
  const span = daysBetween(today, addMonths(today, 12));
  const place = (date: string) => Math.min(1, Math.max(0, daysBetween(today, date) / span));
  const first = `${today.slice(0, 7)}-01`;
  return {
    months: Array.from({ length: 12 }, (_, index) => {
      const start = addMonths(first, index + 1);
      return { name: sayMonth(start, 'short'), at: place(start) };
    }).filter(({ at }) => at < roomForName),
    rows: agreements.map((agreement) => {
      const deadline = daysBetween(today, agreement.noticeDeadlineOn);
      return {
        agreement,
        yearlyMinor: agreement.yearlyMinor,
        yearlyHomeMinor: agreement.yearlyHomeMinor,
        lead: place(agreement.leadOn),
        deadline: deadline < 0 || deadline > span ? null : deadline / span,
        end: place(agreement.endsOn),
      };
    }),
  };
}
