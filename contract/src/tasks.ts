import * as z from 'zod';
import { contactId, dealId, taskId, userId } from './ids';
import { instant, line, minuteOfDay, plainDate, version } from './values';
import { channel } from './words';

export const taskState = z.enum(['open', 'done', 'dropped']);

export const task = z.object({
  id: taskId,
  channel,
  purpose: z.string(),
  dueOn: plainDate,
  promisedAt: instant.nullable(),
  minutes: z.int(),
  state: taskState,
  ownerId: userId,
  contactId: contactId.nullable(),
  contactName: z.string().nullable(),
  dealId: dealId.nullable(),
  dealName: z.string().nullable(),
  /** `Cadence name, step 2 of 3` when a cadence made it. */
  runWords: z.string().nullable(),
  timesMoved: z.int(),
  version: z.int(),
});
export type Task = z.infer<typeof task>;

export const createTask = z
  .object({
    channel,
    purpose: line(200),
    dueOn: plainDate,
    /** Minute of the owner's day it was promised for. */
    promisedMinute: minuteOfDay.nullable().default(null),
    minutes: z.int().min(1).max(480).default(6),
    contactId: contactId.nullable().default(null),
    dealId: dealId.nullable().default(null),
  })
  .refine((draft) => draft.contactId !== null || draft.dealId !== null, {
    message: 'a task is about a person or a deal',
    path: ['contactId'],
  });

export const deferTask = z.object({ version, dueOn: plainDate });
export const dropTask = z.object({ version, reason: line(300) });
