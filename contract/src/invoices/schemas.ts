import * as z from 'zod';
import { dealId, invoiceId, quoteId } from '../base/ids';
import { productLine } from '../base/product-line';
import { currency, instant, line, mostMinor, plainDate } from '../base/values';
import { quoteTotals } from '../quotes';
import { invoiceStates } from './kinds';

/** From a quote that was accepted, else from the deal's own lines. */
export const createInvoice = z
  .object({ dealId, quoteId: quoteId.nullable().default(null), issuedOn: plainDate, dueOn: plainDate })
  .refine(({ issuedOn, dueOn }) => dueOn >= issuedOn, {
    path: ['dueOn'],
    message: $localize`must not be before the day of the invoice`,
  });

export type CreateInvoice = z.output<typeof createInvoice>;

export const creditInvoice = z.object({ reason: line(300), issuedOn: plainDate });

export type CreditInvoice = z.output<typeof creditInvoice>;

export const addPayment = z.object({
  on: plainDate,
  minor: z
    .int($localize`must be a whole number of the currency’s smallest unit`)
    .min(1, $localize`must be more than nothing`)
    .max(mostMinor, $localize`is larger than an amount can be here`),
  words: z
    .string()
    .trim()
    .max(200, $localize`must be at most 200 characters`)
    .default(''),
});

export type AddPayment = z.output<typeof addPayment>;

export const invoiceSummary = z.object({
  id: invoiceId,
  number: z.string(),
  kind: z.enum(['invoice', 'credit']),
  state: z.enum(invoiceStates),
  dealId,
  dealName: z.string(),
  customer: z.string(),
  ownerName: z.string(),
  currency,
  issuedOn: plainDate,
  dueOn: plainDate,
  totalMinor: z.int(),
  paidMinor: z.int(),
  /** What credit notes took off. */
  creditedMinor: z.int(),
  /** What is still to be paid; below nothing where too much was. */
  balanceMinor: z.int(),
});

export type InvoiceSummary = z.infer<typeof invoiceSummary>;

const other = z.object({ id: invoiceId, number: z.string() });

export const invoice = invoiceSummary.extend({
  title: z.string(),
  lines: z.array(productLine.omit({ productId: true }).extend({ taxPercent: z.number(), netMinor: z.int() })),
  totals: quoteTotals,
  payments: z.array(
    z.object({ id: z.uuid(), on: plainDate, minor: z.int(), words: z.string(), by: z.string(), at: instant }),
  ),
  /** Of a credit note, the invoice that it is of; of an invoice, its credit notes. */
  creditOf: other.nullable(),
  credits: z.array(other),
  reason: z.string().nullable(),
  mayChange: z.boolean(),
});

export type Invoice = z.infer<typeof invoice>;

export const listInvoices = z.object({
  dealId: dealId.optional(),
  show: z.enum(['open', 'overdue', 'all']).default('all'),
  owner: z.enum(['mine', 'all']).default('mine'),
});

export type ListInvoices = z.output<typeof listInvoices>;
