import * as z from 'zod';
import { userId } from '../base/ids';
import { amountMinor, plainDate } from '../base/values';

/** A month, by its first day. */
export const month = plainDate.refine(
  (day) => day.endsWith('-01'),
  $localize`must be the first day of a month, such as 2026-11-01`,
);

export const quotasQuery = z.object({
  from: month,
  months: z.coerce.number().int().min(1).max(24).default(12),
});

const quotaSubject = z.object({
  userId,
  name: z.string(),
  /** Of all whom this manager leads, together with them. */
  isTeam: z.boolean(),
});

export const quotas = z.object({
  months: z.array(plainDate),
  rows: z.array(
    quotaSubject.extend({
      mayChange: z.boolean(),
      /** One for each month. Null: none. What was set in an earlier month holds on until another is set. */
      amounts: z.array(z.object({ minor: z.int().nullable(), isSetHere: z.boolean() })),
      /** What the people of a team are to win together, where their quotas are known. */
      ofPeople: z.array(z.int().nullable()).nullable(),
    }),
  ),
});

export type Quotas = z.infer<typeof quotas>;

export const setQuota = z.object({
  userId,
  isTeam: z.boolean().default(false),
  month,
  /** In the organisation's currency. Null: no quota. */
  minor: amountMinor.nullable(),
  /** `on`: until another month is set. */
  holds: z.enum(['month', 'on']),
});

export type SetQuota = z.output<typeof setQuota>;

export const quotaBoardQuery = z.object({
  month,
  whose: z.enum(['mine', 'team']).default('mine'),
});

const quotaPosition = quotaSubject.extend({
  quotaMinor: z.int().nullable(),
  wonMinor: z.int(),
  won: z.int(),
  /** Open deals that are to close in the month or should have by now: their value times their chance. */
  expectedMinor: z.int(),
});

export type QuotaPosition = z.infer<typeof quotaPosition>;

export const quotaBoard = z.object({
  month: plainDate,
  /** The share of the month's working days that are over, today's not counted. */
  elapsed: z.number(),
  /** The person, or the team as a whole. */
  total: quotaPosition,
  /** Those of the team. */
  people: z.array(quotaPosition),
  /** Amounts in a currency without a rate, which are in no sum. */
  unconverted: z.int(),
});

export type QuotaBoard = z.infer<typeof quotaBoard>;
