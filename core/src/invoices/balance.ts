import type { PlainDate } from '@kettle/contract';
import type { InvoiceState } from '@kettle/contract/invoices/kinds';

interface Sums {
  readonly totalMinor: number;
  readonly paidMinor: number;
  readonly creditedMinor: number;
}

/** What is still to be paid; below nothing where too much was. Minor units. */
export const balanceOf = ({ totalMinor, paidMinor, creditedMinor }: Sums): number =>
  totalMinor - creditedMinor - paidMinor;

/**
 * Where an invoice stands on a day: all of it credited, nothing left to pay, its day over, or open.
 * @example invoiceStateOn({ totalMinor: 1200, paidMinor: 0, creditedMinor: 0, dueOn: '2026-11-23' }, '2026-11-24') is 'overdue'
 */
export function invoiceStateOn(sums: Sums & { readonly dueOn: PlainDate }, today: PlainDate): InvoiceState {
  if (sums.creditedMinor >= sums.totalMinor && sums.creditedMinor > 0) return 'credited';
  if (balanceOf(sums) <= 0) return 'paid';
  return sums.dueOn < today ? 'overdue' : 'open';
}
