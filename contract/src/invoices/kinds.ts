/** `overdue` is an open one whose day is over; the others follow from payments and credit notes. */
export const invoiceStates = ['open', 'overdue', 'paid', 'credited'] as const;
export type InvoiceState = (typeof invoiceStates)[number];
