import type { InvoiceState } from './kinds';

export const invoiceStateLabel: Readonly<Record<InvoiceState, string>> = {
  open: $localize`open`,
  overdue: $localize`overdue`,
  paid: $localize`paid`,
  credited: $localize`credited`,
};
