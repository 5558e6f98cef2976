import * as z from 'zod';
import { contactId, dealId, entryId, leadId, userId } from '../base/ids';
import { outcomeId } from '../base/outcomes';
import { instant, line, minuteOfDay, notes, plainDate } from '../base/values';
import { channel } from '../base/words';
import { nextStep } from '../journal';
import { createLead } from '../leads';

export const readJot = z.object({
  line: z.string().max(500),
  /** Whom the person has open: meant when the line names nobody. */
  aboutId: contactId.optional(),
  /** What was chosen where the line could mean two things, by question. */
  answers: z.record(z.string(), z.string().max(60)).default({}),
});

export const jotQuestion = z.object({
  about: z.string(),
  words: z.string(),
  choices: z.array(z.object({ value: z.string(), words: z.string() })),
});

export type JotQuestion = z.infer<typeof jotQuestion>;

/** What one line was understood as; nothing is saved by reading it. */
export const jotReading = z.object({
  act: z.enum(['log', 'task', 'note', 'lead', 'closing', 'nothing']),
  channel: channel.nullable(),
  outcomeId: z.string().nullable(),
  outcomeWords: z.string().nullable(),
  /** When it happened; null is now. */
  happened: z.object({ on: plainDate, minute: minuteOfDay.nullable() }).nullable(),
  /** How long it took; null where nothing says so. */
  minutes: z.int().nullable(),
  task: z
    .object({
      channel,
      on: plainDate,
      minute: minuteOfDay.nullable(),
      purpose: z.string(),
      /** The colleague who is to do it; null is whoever writes. */
      owner: z.object({ id: userId, name: z.string() }).nullable(),
      /** Where they meet, of an appointment. */
      place: z.string().nullable(),
    })
    .nullable(),
  body: z.string(),
  person: z.object({ id: contactId, name: z.string(), companyName: z.string().nullable() }).nullable(),
  /** Others it happened with. */
  also: z.array(z.object({ id: contactId, name: z.string() })),
  /** The deal it is about. */
  deal: z.object({ id: dealId, name: z.string() }).nullable(),
  /** How that deal ended. */
  closing: z.enum(['won', 'lost']).nullable(),
  /** The first sum of money in the line; it stays in the note as well. */
  amount: z.object({ minor: z.int(), currency: z.string() }).nullable(),
  tags: z.array(z.string()),
  source: z.string().nullable(),
  /** A name that nobody here has. */
  unknownName: z.string().nullable(),
  /** What they want, and how a new person is reached. */
  lead: z
    .object({
      subject: z.string(),
      companyName: z.string().nullable(),
      email: z.string().nullable(),
      phone: z.string().nullable(),
    })
    .nullable(),
  questions: z.array(jotQuestion),
});

export type JotReading = z.infer<typeof jotReading>;

const planned = z.object({
  channel,
  purpose: line(200),
  dueOn: plainDate,
  promisedMinute: minuteOfDay.nullable().default(null),
  minutes: z.int().min(1).max(480).default(6),
  ownerId: userId.nullable().default(null),
  place: z.string().trim().max(160).nullable().default(null),
});

const about = { id: entryId, contactId, dealId: dealId.nullable().default(null) };
const also = { alsoContactIds: z.array(contactId).max(30).default([]) };

/** What a line was shown to mean, to be written in one change. */
export const saveJot = z.discriminatedUnion('act', [
  z.object({
    act: z.literal('log'),
    ...about,
    ...also,
    outcomeId,
    at: instant.nullable().default(null),
    minutes: z.int().min(0).max(1440).nullable().default(null),
    body: notes.default(''),
    next: nextStep,
    /** For a colleague; one's own next step is `next`. */
    task: planned.nullable().default(null),
  }),
  z.object({ act: z.literal('task'), ...about, body: notes.default(''), task: planned }),
  z.object({ act: z.literal('note'), ...about, ...also, body: notes }),
  z.object({ act: z.literal('lead'), lead: createLead, task: planned.nullable().default(null) }),
]);

export type SaveJot = z.output<typeof saveJot>;

export const savedJot = z.object({ contactId, leadId: leadId.nullable(), name: z.string() });
