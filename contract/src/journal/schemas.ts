import * as z from 'zod';
import { commentId, companyId, contactId, dealId, entryId, taskId, userId } from '../base/ids';
import { outcome, outcomeId } from '../base/outcomes';
import { instant, line, minuteOfDay, notes, plainDate, resolved, version } from '../base/values';
import { channel, direction, journalKind, touchCount } from '../base/words';

export const journalEntry = z.object({
  id: entryId,
  at: instant,
  kind: journalKind,
  direction: direction.nullable(),
  outcomeLabel: z.string().nullable(),
  counts: touchCount,
  minutes: z.int().nullable(),
  body: z.string(),
  userId: userId.nullable(),
  userName: z.string().nullable(),
  contactId: contactId.nullable(),
  contactName: z.string().nullable(),
  dealId: dealId.nullable(),
  dealName: z.string().nullable(),
  companyId: companyId.nullable(),
  companyName: z.string().nullable(),
  /** Whom else it belongs to. */
  people: z.array(z.object({ id: contactId, name: z.string() })),
  /** Whether the body is rich text (sanitised HTML) or plain. */
  isRich: z.boolean(),
  /** Ticked lines of the checklist of a meeting or visit. */
  done: z.array(z.string()),
  editedAt: instant.nullable(),
  removedAt: instant.nullable(),
  removedByName: z.string().nullable(),
  comments: z.array(z.object({ id: commentId, userName: z.string(), at: instant, body: z.string() })),
  /** Colleagues who thanked for it. */
  thanks: z.array(z.object({ userId, userName: z.string() })),
  version: z.int(),
});

export type JournalEntry = z.infer<typeof journalEntry>;

/** Kinds with commas between. */
export const kindList = z
  .string()
  .transform((text) => text.split(',').filter(Boolean))
  .pipe(z.array(journalKind).max(10));

export const listJournal = z.object({
  contactId: contactId.optional(),
  companyId: companyId.optional(),
  dealId: dealId.optional(),
  before: z.string().max(100).optional(),
  /** None means all. */
  kinds: kindList.optional(),
  userId: userId.optional(),
  from: plainDate.optional(),
  to: plainDate.optional(),
  removed: z.enum(['yes']).optional(),
  limit: z.coerce.number().int().min(1).max(200).default(30),
});

export const journalPage = z.object({ entries: z.array(journalEntry), before: z.string().nullable() });

/** What is to happen next, as the core proposes it or as the rep changed it. */
export const nextStep = z.discriminatedUnion('kind', [
  /** The person's cadence goes on by itself. */
  z.object({ kind: z.literal('run') }),
  z.object({
    kind: z.literal('task'),
    channel,
    dueOn: plainDate,
    promisedMinute: minuteOfDay.nullable().default(null),
    purpose: line(200),
    minutes: z.int().min(1).max(480).default(6),
  }),
  z.object({ kind: z.literal('none'), reason: z.string().trim().max(300) }),
]);

export type NextStep = z.infer<typeof nextStep>;

/** A proposal: the step, and why it is this one. `run` proposals show the day the cadence has planned. */
export const proposal = z.object({
  step: nextStep,
  channel: channel.nullable(),
  on: plainDate.nullable(),
  words: z.string(),
  why: z.string(),
});

export type Proposal = z.infer<typeof proposal>;

export const outcomeChoice = z.object({ outcome, proposal });

export type OutcomeChoice = z.infer<typeof outcomeChoice>;

export const logEntry = z.object({
  /** Made by the browser: the same log sent twice is written once. */
  id: entryId,
  contactId,
  dealId: dealId.nullable().default(null),
  taskId: taskId.nullable().default(null),
  /** Version of the task that the log finishes. */
  outcomeId,
  /** Null means now; a past moment is allowed, a future one refused. */
  at: instant.nullable().default(null),
  minutes: z.int().min(0).max(1440).nullable().default(null),
  body: notes.default(''),
  /** What was done at a meeting or visit. */
  done: z.array(line(80)).max(20).default([]),
  /** Others it belongs to as well. */
  alsoContactIds: z.array(contactId).max(30).default([]),
  next: nextStep,
});

export type LogEntry = z.infer<typeof logEntry>;

export const logged = z.object({
  entryId,
  /** The task made as the next step, or by the cadence. */
  nextTaskId: taskId.nullable(),
  nextOn: plainDate.nullable(),
  words: z.string(),
});

export type Logged = z.infer<typeof logged>;

export const writeNote = z
  .object({
    id: entryId,
    contactId: contactId.nullable().default(null),
    companyId: companyId.nullable().default(null),
    dealId: dealId.nullable().default(null),
    alsoContactIds: z.array(contactId).max(30).default([]),
    at: instant.nullable().default(null),
    body: notes.refine((text) => text.trim() !== '', $localize`must not be empty`),
    isRich: z.boolean().default(false),
  })
  .refine((note) => note.contactId !== null || note.companyId !== null || note.dealId !== null, {
    message: $localize`a note is about a person, a company or a deal`,
    path: ['contactId'],
  });

export const editEntry = z.object({
  version,
  resolved,
  body: notes,
  at: instant,
  minutes: z.int().min(0).max(1440).nullable(),
});

export const removeEntry = z.object({ version });

/** What an entry said before its edits, oldest first. */
export const entryHistory = z.object({
  before: z.array(
    z.object({ body: z.string(), isRich: z.boolean(), at: instant, editedBy: z.string(), editedAt: instant }),
  ),
});

export const giveThanks = z.object({ isGiven: z.boolean() });

export const writeComment = z.object({ id: commentId, body: line(2000) });
