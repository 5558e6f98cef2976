import * as z from 'zod';
import { dealId, quoteId } from '../base/ids';
import { productLine } from '../base/product-line';
import { currency, instant, line, mostMinor, plainDate, resolved, version } from '../base/values';
import { quoteStates } from './kinds';

const percent = z
  .number()
  .min(0, $localize`must not be negative`)
  .max(100, $localize`must be at most 100 %`)
  .multipleOf(0.01, $localize`must have at most two places`);

/** A line that is offered: as a product line, with its tax; an optional one is in no sum until the customer chooses it. */
export const quoteLine = productLine.extend({ taxPercent: percent, isOptional: z.boolean().default(false) });

export type QuoteLine = z.output<typeof quoteLine>;

const lines = z
  .array(quoteLine)
  .max(100)
  .refine(
    (all) =>
      all.reduce((sum, each) => sum + each.quantity * each.priceMinor * (1 + each.taxPercent / 100), 0) <=
      mostMinor,
    $localize`come to more than an amount can be; make several quotes`,
  );

const text = z.string().max(4000, $localize`must be at most 4,000 characters`);

const body = z.object({
  title: line(120),
  /** Before the lines and after them. */
  intro: text,
  closing: text,
  validUntil: plainDate,
  lines,
});

export const createQuote = z.object({ dealId });

export const changeQuote = body.extend({ version, resolved });

export type ChangeQuote = z.output<typeof changeQuote>;

/** By mail with these words and the link, or without: the link is handed on otherwise. */
export const sendQuote = z.object({
  version,
  mail: z
    .object({
      subject: line(200),
      text: z
        .string()
        .trim()
        .min(1, $localize`must not be empty`)
        .max(10_000),
    })
    .nullable(),
});

export type SendQuote = z.output<typeof sendQuote>;

/** What the customer said otherwise than on the page: by telephone, on paper. */
export const decideQuote = z.object({
  version,
  as: z.enum(['accepted', 'declined']),
  /** Who said it. */
  name: line(160),
  words: z
    .string()
    .trim()
    .max(2000, $localize`must be at most 2,000 characters`)
    .default(''),
  /** Places of the optional lines that were chosen. */
  chosen: z.array(z.int().min(0)).max(100).default([]),
});

export type DecideQuote = z.output<typeof decideQuote>;

/** The tax of a rate: on the sum of its lines, rounded once (EN 16931, BR-CO-17). */
export const taxSum = z.object({ percent: z.number(), netMinor: z.int(), taxMinor: z.int() });

export const quoteTotals = z.object({
  netMinor: z.int(),
  taxes: z.array(taxSum),
  taxMinor: z.int(),
  totalMinor: z.int(),
});

export type QuoteTotals = z.infer<typeof quoteTotals>;

export const quoteSummary = z.object({
  id: quoteId,
  dealId,
  /** Null until it was sent for the first time. */
  number: z.string().nullable(),
  /** How often it was sent in another form; 0 for one that never was. */
  n: z.int(),
  state: z.enum(quoteStates),
  title: z.string(),
  currency,
  totalMinor: z.int(),
  validUntil: plainDate,
  sentAt: instant.nullable(),
  version,
});

export type QuoteSummary = z.infer<typeof quoteSummary>;

export const quote = quoteSummary.extend({
  dealName: z.string(),
  /** Whom it is for. */
  contactName: z.string(),
  contactEmail: z.string().nullable(),
  companyName: z.string().nullable(),
  intro: z.string(),
  closing: z.string(),
  lines: z.array(quoteLine.extend({ isChosen: z.boolean(), netMinor: z.int() })),
  totals: quoteTotals,
  /** Where the customer reads and answers it; null while it is not out. */
  link: z.string().nullable(),
  decidedAt: instant.nullable(),
  decidedName: z.string().nullable(),
  decidedWords: z.string(),
  questions: z.array(z.object({ at: instant, name: z.string(), words: z.string() })),
  versions: z.array(z.object({ n: z.int(), at: instant, totalMinor: z.int() })),
  mayChange: z.boolean(),
});

export type Quote = z.infer<typeof quote>;

const textBlock = z.object({ name: line(60), text: text.min(1, $localize`must not be empty`) });

/** Who sells, as quotes name it, and what they begin with. */
export const sellingSettings = z.object({
  version: z.int(),
  street: z.string().trim().max(160),
  postcode: z.string().trim().max(20),
  city: z.string().trim().max(160),
  /** VAT identification number, with its country's letters. */
  vatId: z
    .string()
    .trim()
    .regex(
      /^$|^[A-Z]{2}[0-9A-Za-z+*.]{2,12}$/,
      $localize`must begin with its country’s two letters, such as GB123456789`,
    ),
  /** Contact for questions. */
  email: z.union([z.literal(''), z.email($localize`must be an e-mail address such as ada@firm.example`)]),
  /** How it is paid: bank and account. */
  payment: z.string().trim().max(300),
  taxPercent: percent,
  validDays: z
    .int()
    .min(1, $localize`must be at least 1 day`)
    .max(365, $localize`must be at most 365 days`),
  /** Days before a quote lapses on which its deal's owner asks about it. */
  remindDays: z
    .int()
    .min(0)
    .max(60, $localize`must be at most 60 days`),
  /** Days until an invoice is to be paid. */
  paymentDays: z
    .int()
    .min(0)
    .max(365, $localize`must be at most 365 days`),
  intro: text,
  closing: text,
  blocks: z.array(textBlock).max(40, $localize`has room for at most 40 texts`),
});

export type SellingSettings = z.infer<typeof sellingSettings>;

export const changeSellingSettings = sellingSettings.extend({ resolved });
