import * as z from 'zod';
import { pipelineId, stageId } from '../base/ids';
import { line, probability, resolved, version } from '../base/values';
import { channel } from '../base/words';

/** What a stage may ask to be known of a deal that enters it. */
export const dealFact = z.union([
  z.enum(['amount', 'lines', 'close', 'decision', 'decider', 'signer', 'competitor']),
  z.templateLiteral(['custom:', z.uuid()]),
]);

export type DealFact = z.infer<typeof dealFact>;

/** A line to tick while a deal is in the stage. */
export const briefPrompt = z.object({
  id: z.uuid(),
  text: line(160),
  /** The deal does not go on before it is ticked. */
  isRequired: z.boolean(),
});

export type BriefPrompt = z.infer<typeof briefPrompt>;

/** A task that is made when a deal enters, so many working days after. */
export const briefTask = z.object({
  id: z.uuid(),
  channel,
  purpose: line(200),
  afterDays: z.int().min(0).max(120),
  minutes: z.int().min(1).max(480),
});

export type BriefTaskPlan = z.infer<typeof briefTask>;

export const stageBrief = z.object({
  prompts: z.array(briefPrompt).max(20),
  tasks: z.array(briefTask).max(20),
});

export type StageBrief = z.infer<typeof stageBrief>;

const stageFields = {
  name: line(80),
  winProbability: probability,
  patienceDays: z.int().min(1).max(730),
  needs: z.array(dealFact).max(30),
  brief: stageBrief,
};

export const stage = z.object({
  id: stageId,
  pipelineId,
  name: z.string(),
  winProbability: probability,
  patienceDays: z.int(),
  position: z.int(),
  needs: z.array(dealFact),
  brief: stageBrief,
});

export type Stage = z.infer<typeof stage>;

export const pipeline = z.object({
  id: pipelineId,
  name: z.string(),
  version: z.int(),
  /** A deal goes to the next stage by itself once its brief is done. */
  movesOn: z.boolean(),
  /** The pipeline that a won deal is usually handed on to. */
  handsOnTo: pipelineId.nullable(),
  /** The deals about what follows an agreement's term begin here; one pipeline at most. */
  isForRenewals: z.boolean(),
  stages: z.array(stage),
});

export type Pipeline = z.infer<typeof pipeline>;

const sameName = (stages: readonly { name: string }[]) =>
  new Set(stages.map(({ name }) => name.toLowerCase())).size === stages.length;

/** How deals go on in a pipeline, and behind it. */
export const changeFlow = z.object({
  version,
  resolved,
  movesOn: z.boolean(),
  handsOnTo: pipelineId.nullable(),
  /** Left out, as it is. */
  isForRenewals: z.boolean().optional(),
});

export type ChangeFlow = z.output<typeof changeFlow>;

export const removePipeline = z.object({ version });

/** A pipeline as an admin wants it; a stage without an id is new, one that is left out goes. */
export const savePipeline = z.object({
  version,
  resolved,
  name: line(80),
  stages: z
    .array(z.object({ id: stageId.nullable(), ...stageFields }))
    .min(1, $localize`a pipeline has at least one stage`)
    .max(20)
    .refine(sameName, $localize`two stages have the same name`),
  /** Where the deals of a stage that goes are to be: a stage that stays, of this pipeline or another. */
  homes: z
    .array(z.object({ from: stageId, to: stageId }))
    .max(20)
    .default([]),
});

export type SavePipeline = z.output<typeof savePipeline>;

export const createPipeline = z.object({
  name: line(80),
  stages: z
    .array(z.object(stageFields))
    .min(1, $localize`a pipeline has at least one stage`)
    .max(20)
    .refine(sameName, $localize`two stages have the same name`),
});

/** What saving a pipeline would do to the deals in it; money in minor units. */
export const pipelineCheck = z.object({
  stages: z.array(
    z.object({
      stageId: stageId.nullable(),
      name: z.string(),
      openDeals: z.int(),
      weightedBeforeMinor: z.int(),
      weightedAfterMinor: z.int(),
      stalledBefore: z.int(),
      stalledAfter: z.int(),
      /** Deals that lack a fact the stage would ask for. */
      lacking: z.int(),
    }),
  ),
  /** Stages that go, with the open and parked deals that need a home. */
  going: z.array(z.object({ stageId, name: z.string(), deals: z.int(), proposedHome: stageId.nullable() })),
});

export type PipelineCheck = z.infer<typeof pipelineCheck>;

/** What the organisation's own history suggests as patience. */
export const patienceList = z.object({
  stages: z.array(
    z.object({
      stageId,
      /** The day by which four of five have gone on; null while too few have. */
      suggestedDays: z.int().nullable(),
      wentOn: z.int(),
      stillThere: z.int(),
      /** The mean of the finished stays, which is too short: slow ones are missing from it. */
      meanDays: z.number().nullable(),
    }),
  ),
});

export type PatienceList = z.infer<typeof patienceList>;

export const mapPipeline = z.object({
  /** For each stage of the pipeline the deals come from, the stage of the other they go to. */
  stages: z
    .array(z.object({ from: stageId, to: stageId }))
    .min(1)
    .max(20),
});
