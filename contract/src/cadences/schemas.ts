import * as z from 'zod';
import { cadenceId, cadenceVersionId, contactId, dealId, runId, taskId, templateId } from '../base/ids';
import { instant, line, plainDate, resolved, version } from '../base/values';
import { channel } from '../base/words';

const clockMinute = z.int().min(0).max(1440);

/** By hand: a task in the Round. By itself: a mail or a text that goes out at its moment without anybody's hand. */
export const stepMode = z.enum(['by-hand', 'by-itself']);

export type StepMode = z.infer<typeof stepMode>;

/** Signs of life that make a step needless. */
export const runSign = z.enum(['opened', 'clicked', 'spoke']);

export type RunSign = z.infer<typeof runSign>;

const isSendable = (name: string) => name === 'email' || name === 'text';

/** One step: what to do, how many working days after the one before, and when in the contact's day. */
const cadenceStepPlain = z.object({
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
  templateIds: z
    .array(templateId)
    .max(4, $localize`at most four variants`)
    .default([]),
  /** Skipped when one of these is seen while the step waits. */
  skipWhen: z.array(runSign).max(3).default([]),
});

export const cadenceStep = cadenceStepPlain
  .refine((step) => step.windowStart < step.windowEnd, {
    message: $localize`the window must end after it starts`,
    path: ['windowEnd'],
  })
  .refine((step) => step.mode === 'by-hand' || (isSendable(step.channel) && step.templateIds.length > 0), {
    message: $localize`goes by itself only as an e-mail or a text with a template`,
    path: ['mode'],
  })
  .refine((step) => new Set(step.templateIds).size === step.templateIds.length, {
    message: $localize`names a template twice`,
    path: ['templateIds'],
  });

export type CadenceStep = z.infer<typeof cadenceStep>;

export const cadenceDefinition = z
  .object({
    steps: z
      .array(cadenceStep)
      .min(1, $localize`a cadence needs at least one step`)
      .max(30),
    /** Where a run goes on when the person answers, counted from 0; without one an answer ends it. */
    answeredStep: z.int().min(0).nullable().default(null),
  })
  .refine(({ steps, answeredStep }) => answeredStep === null || answeredStep < steps.length, {
    message: $localize`is not one of the steps`,
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
  isRetired: z.boolean(),
  version: z.int(),
});

export type CadenceSummary = z.infer<typeof cadenceSummary>;

export const createCadence = z.object({ name: line(80), definition: cadenceDefinition });

/** A new version of the definition, a new name, or both; retired ones start nobody. */
export const saveCadence = createCadence.extend({ version, resolved, isRetired: z.boolean().default(false) });

/** The file a definition is exported to and read from; `cadenceSchema` answers with its JSON Schema. */
export const cadenceFile = z.object({
  format: z.literal('cadence'),
  version: z.literal(1),
  name: line(80),
  steps: z
    .array(
      cadenceStepPlain
        .omit({ templateIds: true })
        .extend({ templates: z.array(z.string()).max(4).default([]) }),
    )
    .min(1)
    .max(30),
  answeredStep: z.int().min(0).nullable().default(null),
});

export type CadenceFile = z.infer<typeof cadenceFile>;

/** A file understood: its definition, and the templates it names that are not here. */
export const readCadence = z.object({
  name: z.string(),
  definition: cadenceDefinition,
  unknownTemplates: z.array(z.string()),
});

export const planExample = z.object({
  definition: cadenceDefinition,
  contactId,
  startOn: plainDate.nullable().default(null),
});

export const examplePlan = z.object({ zone: z.string(), moments: z.array(plannedMoment) });

export const cadenceVersion = z.object({
  id: cadenceVersionId,
  number: z.int(),
  savedAt: instant,
  definition: cadenceDefinition,
  /** Runs that are on it now. */
  running: z.int(),
});

export type CadenceVersion = z.infer<typeof cadenceVersion>;

/** Runs of one version go on with the current one: for each old step the new one, null where a run ends. */
export const moveRuns = z.object({
  fromVersionId: cadenceVersionId,
  toVersionId: cadenceVersionId,
  mapping: z.array(z.int().min(0).nullable()).max(30),
  /** Shows what would happen, writes nothing. */
  isDryRun: z.boolean(),
});

export type MoveRuns = z.output<typeof moveRuns>;

export const movedRuns = z.object({
  people: z.array(
    z.object({
      runId,
      name: z.string(),
      from: z.int(),
      to: z.int().nullable(),
      nextOn: plainDate.nullable(),
    }),
  ),
});

export type MovedRuns = z.infer<typeof movedRuns>;

export const planStart = z.object({
  contactIds: z.array(contactId).min(1).max(500),
  /** Whether starts are spread over the coming days, so that no day gets too much. */
  isLevelled: z.boolean().default(false),
});

export const leftOutReason = z.enum([
  'already-running',
  'do-not-contact',
  'not-yours',
  'archived',
  'no-step-possible',
  'customer-of-a-colleague',
  'consent-open',
  'retired',
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
      /** The day this person starts on; null for who is left out, or does not fit into the next four weeks. */
      startOn: plainDate.nullable(),
      moments: z.array(plannedMoment),
    }),
  ),
  /** The next four weeks of the rep: minutes by hand a day, as they are and with these people on top. */
  load: z.array(z.object({ on: plainDate, minutes: z.number(), withThem: z.number(), capacity: z.number() })),
});

export type StartPlan = z.infer<typeof startPlan>;

export const startRuns = z.object({
  /** Made by the caller, so that sending the same start twice starts nobody twice. */
  requestId: z.uuid(),
  versionId: cadenceVersionId,
  contactIds: z.array(contactId).min(1).max(500),
  dealId: dealId.nullable().default(null),
  /** Start days other than today, as the plan levelled them. */
  startOn: z.record(contactId, plainDate).default({}),
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
  /** Counted from 1. */
  step: z.int(),
  steps: z.int(),
  nextOn: plainDate.nullable(),
  exitReason: z.string().nullable(),
  startedAt: instant,
  version: z.int(),
});

export type RunSummary = z.infer<typeof runSummary>;

export const runChange = z.enum(['pause', 'resume', 'stop', 'skip']);

export type RunChange = z.infer<typeof runChange>;

export const changeRun = z.object({ version: z.int(), change: runChange });

/** The same for many; those it cannot be done for are said. */
export const changeRuns = z.object({
  runs: z
    .array(z.object({ id: runId, version: z.int() }))
    .min(1)
    .max(200),
  change: runChange,
});

export const changedRuns = z.object({
  changed: z.int(),
  refused: z.array(z.object({ id: runId, name: z.string(), words: z.string() })),
});

export const runTable = z.object({
  /** Counted from 0. */
  step: z.coerce.number().int().min(0).optional(),
  status: z.enum(['active', 'running', 'paused', 'ended', 'all']).default('active'),
  owner: z.enum(['mine', 'all']).default('mine'),
  limit: z.coerce.number().int().min(1).max(500).default(200),
});

export type RunTable = z.output<typeof runTable>;

export const runRow = runSummary.extend({
  contactId,
  contactName: z.string(),
  companyName: z.string().nullable(),
  ownerName: z.string(),
  channel: channel.nullable(),
  pausedUntil: plainDate.nullable(),
  versionNumber: z.int(),
  /** The last sign of life, in words with its day. */
  lastSign: z.string().nullable(),
});

export type RunRow = z.infer<typeof runRow>;

export const runPage = z.object({
  rows: z.array(runRow),
  /** Active runs that stand at each step, whatever is shown. */
  atStep: z.array(z.int()),
  /** Runs the filter hides. */
  hidden: z.int(),
});

export type RunPage = z.infer<typeof runPage>;

/** A share of cases with its interval at 95 %. */
export const share = z.object({
  part: z.int(),
  whole: z.int(),
  rate: z.number(),
  low: z.number(),
  high: z.number(),
});

const arm = z.object({ reached: z.int(), acted: share, answered: share });

const verdict = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('thin'), more: z.int() }),
  z.object({
    kind: z.literal('open'),
    more: z.int().nullable(),
    p: z.number(),
    low: z.number(),
    high: z.number(),
  }),
  z.object({
    kind: z.literal('clear'),
    better: z.enum(['first', 'second']),
    p: z.number(),
    low: z.number(),
    high: z.number(),
  }),
]);

export const cadenceResults = z.object({
  runs: z.int(),
  answered: share,
  steps: z.array(
    z.object({
      step: z.int(),
      channel,
      purpose: z.string(),
      result: arm,
      variants: z.array(z.object({ templateId, name: z.string(), result: arm })),
      /** The first two variants against each other. */
      verdict: verdict.nullable(),
    }),
  ),
  channels: z.array(z.object({ channel, result: arm })),
  /** Days from the start to the first answer: the chance that none has come by then. */
  silence: z.array(z.object({ day: z.number(), survival: z.number(), atRisk: z.int() })),
  medianDays: z.number().nullable(),
  exits: z.array(z.object({ reason: z.string(), step: z.int(), runs: z.int() })),
  tries: z.array(share),
  hours: z.array(
    z.object({
      channel,
      weekday: z.int(),
      hour: z.int(),
      tried: z.int(),
      answered: z.int(),
      rate: z.number(),
    }),
  ),
  /** Cases that each comparison needs before it says anything. */
  leastCases: z.int(),
});

export type CadenceResults = z.infer<typeof cadenceResults>;
