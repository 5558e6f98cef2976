import { currency, plainDate, quoteTotals } from '@kettle/contract';
import * as z from 'zod';

const party = z.object({
  name: z.string(),
  street: z.string(),
  postcode: z.string(),
  city: z.string(),
  country: z.string(),
  vatId: z.string(),
  email: z.string(),
});

/** An invoice as it was issued, word for word: what its PDF and its XML are made of. */
export const invoiceContent = z.object({
  kind: z.enum(['invoice', 'credit']),
  number: z.string(),
  title: z.string(),
  issuedOn: plainDate,
  dueOn: plainDate,
  currency,
  seller: party.extend({ payment: z.string() }),
  customer: party,
  /** Whom at the customer it is for. */
  person: z.string(),
  lines: z.array(
    z.object({
      name: z.string(),
      quantity: z.number(),
      priceMinor: z.int(),
      discountPercent: z.number(),
      taxPercent: z.number(),
      billing: z.enum(['once', 'yearly']),
      netMinor: z.int(),
    }),
  ),
  totals: quoteTotals,
  creditOf: z.object({ number: z.string(), issuedOn: plainDate }).nullable(),
  reason: z.string().nullable(),
});

export type InvoiceContent = z.infer<typeof invoiceContent>;
