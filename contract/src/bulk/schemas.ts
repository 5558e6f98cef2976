import * as z from 'zod';
import { agreementId, bulkId, companyId, contactId, dealId, leadId, taskId, userId } from '../base/ids';
import { instant, line, minuteOfDay, plainDate } from '../base/values';
import { channel } from '../base/words';
import { cellField, cellValue, contactQuery } from '../contacts';

/** Whom a bulk change is about: picked ones, or everybody a view finds. */
export const selection = z.union([
  z.object({ ids: z.array(contactId).min(1).max(5000) }),
  z.object({ query: contactQuery }),
]);

export type Selection = z.output<typeof selection>;

export const bulkAct = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('set'), field: cellField, value: cellValue }),
  z.object({ kind: z.literal('add-tag'), tag: line(40) }),
  z.object({ kind: z.literal('remove-tag'), tag: line(40) }),
  z.object({
    kind: z.literal('task'),
    channel,
    purpose: line(200),
    dueOn: plainDate,
    promisedMinute: minuteOfDay.nullable().default(null),
    minutes: z.int().min(1).max(480).default(6),
    /** Whose they are; null for each person's own rep. */
    ownerId: userId.nullable().default(null),
  }),
]);

export type BulkAct = z.output<typeof bulkAct>;

export const startBulk = z.object({ id: bulkId, selection, act: bulkAct });

export const bulkPlan = z.object({
  words: z.string(),
  /** How many would change, are so already, or cannot be changed and why. */
  changes: z.int(),
  same: z.int(),
  refused: z.array(z.object({ reason: z.string(), count: z.int() })),
  samples: z.array(z.object({ contactId, name: z.string(), before: z.string(), after: z.string() })),
});

export type BulkPlan = z.infer<typeof bulkPlan>;

export const bulkProgress = z.object({
  id: bulkId,
  words: z.string(),
  state: z.enum(['running', 'done', 'undoing', 'undone']),
  at: instant,
  total: z.int(),
  waiting: z.int(),
  /** Of a part that failed for good: neither changed nor refused; it can be tried again. */
  unfinished: z.int(),
  changed: z.int(),
  same: z.int(),
  failed: z.array(z.object({ contactId, name: z.string(), reason: z.string() })),
  failedCount: z.int(),
  /** After an undo: how many were left because somebody changed them since. */
  kept: z.int(),
});

export type BulkProgress = z.infer<typeof bulkProgress>;

const picked = <Id extends z.ZodType>(id: Id) =>
  z
    .array(id)
    .min(1, $localize`pick at least one`)
    .max(500, $localize`at most 500 at once`);

/** Several records that go to one colleague at once; leads and companies may be nobody's. */
export const giveRecords = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('lead'),
    ids: picked(leadId),
    ownerId: userId.nullable(),
    /** Others among whom they are shared out with the owner, one after the other. */
    alsoTo: z.array(userId).max(30).default([]),
  }),
  z.object({ kind: z.literal('deal'), ids: picked(dealId), ownerId: userId }),
  z.object({ kind: z.literal('task'), ids: picked(taskId), ownerId: userId }),
  z.object({ kind: z.literal('company'), ids: picked(companyId), ownerId: userId.nullable() }),
  z.object({ kind: z.literal('agreement'), ids: picked(agreementId), ownerId: userId }),
]);

export type GiveRecords = z.output<typeof giveRecords>;

export const givenRecords = z.object({
  given: z.int(),
  /** Theirs already, or closed, done or dropped. */
  left: z.int(),
});
