import * as z from 'zod';
import { cadenceId, cadenceVersionId, contactId, dealId, runId, taskId, templateId } from './ids';
import { instant, line, plainDate } from './values';
import { channel } from './words';

const clockMinute = z.int().min(0).max(1440);

/** By hand: a task in the Round. By itself: a mail or a text that goes out at its moment without anybody's hand. */
export const stepMode = z.enum(['by-hand', 'by-itself']);
export type StepMode = z.infer<typeof stepMode>;

/** Signs of life that make a step needless. */
export const runSign = z.enum(['opened', 'clicked', 'spoke']);
export type RunSign = z.infer<typeof runSign>;

const isSendable = (name: string) => name === 'email' || name === 'text';

/** One step: what to do, how many working days after the one before, and when in the contact's day. */
export const cadenceStep = z
  .object({
    channel,
    /** Working days after the completion of the step before; for the first step, after the start. */
    offsetDays: z.int().min(0).max(250),
    /** Local minutes of the contact's day between which the step may happen. */
    windowStart: clockMinute,
    windowEnd: clockMinute,
    minutes: z.int().min(1).max(480),
    purpose: line(120),
    /** Taken when the person must not be contacted on `channel`. */
    fallbackChannel: channel.nullable().default(null),
    mode: stepMode.default('by-hand'),
    /** What is written; with several, each run gets one of them, so that they can be compared. */
    templateIds: z.array(templateId).max(4, 'at most four variants').default([]),
    /** Passed over when one of these is seen while the step waits. */
    skipWhen: z.array(runSign).max(3).default([]),
  })
  .refine((step) => step.windowStart < step.windowEnd, {
    message: 'the window must end after it starts',
    path: ['windowEnd'],
  })
  .refine((step) => step.mode === 'by-hand' || (isSendable(step.channel) && step.templateIds.length > 0), {
    message: 'goes by itself only as an e-mail or a text with a template',
    path: ['mode'],
  })
  .refine((step) => new Set(step.templateIds).size === step.templateIds.length, {
    message: 'names a template twice',
    path: ['templateIds'],
  });
export type CadenceStep = z.infer<typeof cadenceStep>;

export const cadenceDefinition = z
  .object({
    steps: z.array(cadenceStep).min(1, 'a cadence needs at least one step').max(30),
    /** Where a run goes on when the person answers, counted from 0; without one an answer ends it. */
    answeredStep: z.int().min(0).nullable().default(null),
  })
  .refine(({ steps, answeredStep }) => answeredStep === null || answeredStep < steps.length, {
    message: 'is not one of the steps',
    path: ['answeredStep'],
  });
export type CadenceDefinition = z.infer<typeof cadenceDefinition>;

export const runStatus = z.enum(['running', 'paused', 'finished', 'stopped']);
export type RunStatus = z.infer<typeof runStatus>;

/** A planned moment of one step for one contact, with every shift explained. */
export const plannedMoment = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('planned'),
    step: z.int(),
    channel,
    on: plainDate,
    at: instant,
    minutes: z.int(),
    shifts: z.array(z.string()),
  }),
  z.object({ kind: z.literal('skipped'), step: z.int(), channel, reason: z.string() }),
]);
export type PlannedMoment = z.infer<typeof plannedMoment>;

export const cadenceSummary = z.object({
  id: cadenceId,
  versionId: cadenceVersionId,
  number: z.int(),
  name: z.string(),
  definition: cadenceDefinition,
  running: z.int(),
  finished: z.int(),
  stopped: z.int(),
  answered: z.int(),
  version: z.int(),
});
export type CadenceSummary = z.infer<typeof cadenceSummary>;

export const createCadence = z.object({ name: line(80), definition: cadenceDefinition });

export const planStart = z.object({ contactIds: z.array(contactId).min(1).max(500) });

export const leftOutReason = z.enum([
  'already-running',
  'do-not-contact',
  'not-yours',
  'archived',
  'no-step-possible',
]);
export type LeftOutReason = z.infer<typeof leftOutReason>;

/** What starting would do, for each contact: the planned moments, or why the person is left out. */
export const startPlan = z.object({
  cadenceId,
  versionId: cadenceVersionId,
  people: z.array(
    z.object({
      contactId,
      name: z.string(),
      companyName: z.string().nullable(),
      zone: z.string(),
      leftOut: z.object({ reason: leftOutReason, words: z.string() }).nullable(),
      moments: z.array(plannedMoment),
    }),
  ),
});
export type StartPlan = z.infer<typeof startPlan>;

export const startRuns = z.object({
  /** Made by the caller, so that sending the same start twice starts nobody twice. */
  requestId: z.uuid(),
  versionId: cadenceVersionId,
  contactIds: z.array(contactId).min(1).max(500),
  dealId: dealId.nullable().default(null),
});

export const startedRuns = z.object({
  started: z.array(z.object({ contactId, runId, taskId: taskId.nullable() })),
  leftOut: z.array(z.object({ contactId, reason: leftOutReason, words: z.string() })),
});

export const runSummary = z.object({
  id: runId,
  cadenceId,
  cadenceName: z.string(),
  status: runStatus,
  step: z.int(),
  steps: z.int(),
  nextOn: plainDate.nullable(),
  exitReason: z.string().nullable(),
  startedAt: instant,
  version: z.int(),
});
export type RunSummary = z.infer<typeof runSummary>;

export const changeRun = z.object({ version: z.int(), change: z.enum(['pause', 'resume', 'stop']) });
