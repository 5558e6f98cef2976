import * as z from 'zod';
import { gridFilter, gridPage, grouping } from '../base/grid';
import { contactId, dealId, taskId, userId } from '../base/ids';
import { instant, line, minuteOfDay, plainDate, resolved, version } from '../base/values';
import { channel } from '../base/words';

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
  ownerName: z.string(),
  companyName: z.string().nullable(),
  /** RFC 5545 rule by which it comes again, `FREQ=WEEKLY;BYDAY=MO`. */
  repeats: z.string().nullable(),
  /** Minutes before it is due that its owner is reminded. */
  remindMinutes: z.int().nullable(),
  dropReason: z.string().nullable(),
  finishedAt: instant.nullable(),
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

const remindMinutes = z
  .int()
  .min(0)
  .max(14 * 1440)
  .nullable();

const repeats = z.string().trim().max(200).nullable();

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
    /** Who is to do it; nobody named means whoever plans it. */
    ownerId: userId.nullable().default(null),
    repeats: repeats.default(null),
    remindMinutes: remindMinutes.default(null),
  })
  .refine((draft) => draft.contactId !== null || draft.dealId !== null, {
    message: $localize`a task is about a person or a deal`,
    path: ['contactId'],
  });

export const changeTask = z.object({
  version,
  resolved,
  // What is left out stays as it is.
  ...z
    .object({
      channel,
      purpose: line(200),
      dueOn: plainDate,
      promisedMinute: minuteOfDay.nullable(),
      minutes: z.int().min(1).max(480),
      ownerId: userId,
      repeats,
      remindMinutes,
    })
    .partial().shape,
});

/** Which tasks a list or a count is about. */
export const taskQuery = z.object({
  /** Given: those that one gave to others. */
  owner: z.union([z.enum(['mine', 'team', 'given']), userId]).default('mine'),
  state: z.enum(['open', 'done', 'dropped', 'all']).default('open'),
  due: z.enum(['late', 'today', 'ahead']).optional(),
  channel: channel.optional(),
  q: z.string().trim().max(100).default(''),
  filter: gridFilter.optional(),
});

export type TaskQuery = z.output<typeof taskQuery>;

export const taskTable = taskQuery.extend({
  ...gridPage,
  limit: z.coerce.number().int().min(1).max(500).default(200),
});

export const taskPage = z.object({ rows: z.array(task) });

/** Its total is all tasks of the owner choice, whatever their state and day. */
export const countTasks = taskQuery.extend({ group: grouping.optional() });

export type TaskPage = z.infer<typeof taskPage>;

export const deferTask = z.object({ version, dueOn: plainDate });

export const dropTask = z.object({ reason: line(300) });
