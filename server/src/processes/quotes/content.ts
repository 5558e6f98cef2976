import { currency, plainDate, quoteTotals } from '@kettle/contract';
import * as z from 'zod';

/** A quote as it goes out, word for word: what its page, its PDF and its versions are made of. */
export const quoteContent = z.object({
  number: z.string(),
  n: z.int(),
  title: z.string(),
  intro: z.string(),
  closing: z.string(),
  sentOn: plainDate,
  validUntil: plainDate,
  currency,
  seller: z.object({
    name: z.string(),
    address: z.array(z.string()),
    vatId: z.string(),
    email: z.string(),
    payment: z.string(),
  }),
  /** Name and address of whom it is for, line by line. */
  customer: z.array(z.string()),
  lines: z.array(
    z.object({
      name: z.string(),
      quantity: z.number(),
      priceMinor: z.int(),
      discountPercent: z.number(),
      taxPercent: z.number(),
      billing: z.enum(['once', 'yearly']),
      isOptional: z.boolean(),
      isChosen: z.boolean(),
      netMinor: z.int(),
    }),
  ),
  totals: quoteTotals,
});

export type QuoteContent = z.infer<typeof quoteContent>;
