import * as z from 'zod';
import { contactId } from '../base/ids';
import { minuteOfDay, plainDate } from '../base/values';
import { channel } from '../base/words';

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
  act: z.enum(['log', 'task', 'note', 'lead', 'nothing']),
  channel: channel.nullable(),
  outcomeId: z.string().nullable(),
  outcomeWords: z.string().nullable(),
  /** When it happened; null is now. */
  happened: z.object({ on: plainDate, minute: minuteOfDay.nullable() }).nullable(),
  task: z.object({ channel, on: plainDate, minute: minuteOfDay.nullable(), purpose: z.string() }).nullable(),
  body: z.string(),
  person: z.object({ id: contactId, name: z.string(), companyName: z.string().nullable() }).nullable(),
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
