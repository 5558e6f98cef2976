import * as z from 'zod';
import { dealId, pipelineId, stageId, userId } from '../base/ids';
import { amountMinor, plainDate } from '../base/values';

/** What if a deal came out otherwise: it is won or lost, closes later, or is worth something else. */
export const whatIf = z.discriminatedUnion('as', [
  z.object({ dealId, as: z.enum(['won', 'lost', 'later']) }),
  /** In the organisation's currency. */
  z.object({ dealId, as: z.literal('value'), minor: amountMinor }),
]);

export type WhatIf = z.output<typeof whatIf>;

export const askForecast = z.object({
  /** Mine, my team's, or one person's of it. */
  whose: z.union([z.enum(['mine', 'team']), userId]).default('mine'),
  /** The first day of its first month. */
  from: plainDate.refine((day) => day.endsWith('-01'), $localize`must be the first of a month`),
  months: z.union([z.literal(1), z.literal(3)]).default(1),
  pipelineId: pipelineId.nullable().default(null),
  /** Nothing of it is saved. */
  whatIf: z.array(whatIf).max(500).default([]),
});

export type AskForecast = z.output<typeof askForecast>;

/** What a period may bring: what is won, and with it the expected sum and those not exceeded in one, five and nine of ten cases. */
const outlook = z.object({
  wonMinor: z.int(),
  expectedMinor: z.int(),
  lowMinor: z.int(),
  middleMinor: z.int(),
  highMinor: z.int(),
  /** 0 to 1; null without a quota. */
  quotaChance: z.number().nullable(),
});

export type Outlook = z.infer<typeof outlook>;

export const forecastDeal = z.object({
  dealId,
  name: z.string(),
  ownerName: z.string(),
  stageName: z.string(),
  expectedCloseOn: plainDate.nullable(),
  minor: z.int(),
  /** Chance that it is won at all, its own or its stage's. */
  winChance: z.number(),
  /** Chance that it closes inside the period, if it is won. */
  inTime: z.number(),
  /** The chance of the quota if it is won in the period, and if it is not; null without a quota, or where little hangs on it. */
  ifWon: z.number().nullable(),
  ifLost: z.number().nullable(),
});

export type ForecastDeal = z.infer<typeof forecastDeal>;

export const forecast = z.object({
  from: plainDate,
  until: plainDate,
  quotaMinor: z.int().nullable(),
  now: outlook,
  /** The same with what was supposed; null where nothing was. */
  supposed: outlook.nullable(),
  /** The chance of at least so much, from what is certain to what is hardly possible. */
  chances: z.array(z.object({ minor: z.int(), chance: z.number() })),
  /** Open deals with a chance inside the period, those on which most hangs first; at most 300. */
  deals: z.array(forecastDeal),
  count: z.int(),
  /** What was foreseen week by week, the newest last: from what each deal was worth and how likely it was on that day. */
  weeks: z.array(
    z.object({
      on: plainDate,
      ...{ wonMinor: z.int(), expectedMinor: z.int(), lowMinor: z.int(), highMinor: z.int() },
    }),
  ),
  /** How many won deals say how closing days are kept; with too few a deal closes on its day. */
  learnedFrom: z.int(),
  /** Amounts in a currency without a rate, which are in no sum. */
  unconverted: z.int(),
});

export type Forecast = z.infer<typeof forecast>;

export const calibrationStage = z.object({
  stageId,
  pipelineId,
  name: z.string(),
  /** The chance it has now, 0 to 1. */
  chance: z.number(),
  /** Deals closed in the last two years that passed through it, and those that were won. */
  closed: z.int(),
  won: z.int(),
  /** Between which the true share lies, in 19 of 20 cases; null without a closed deal. */
  low: z.number().nullable(),
  high: z.number().nullable(),
  /** What its chance should be, where history speaks against the one it has. */
  proposed: z.number().nullable(),
});

export type CalibrationStage = z.infer<typeof calibrationStage>;

/** How well the chances of stages foretold what came, with Murphy's parts of Brier's score: score = reliability − resolution + uncertainty. */
export const calibration = z.object({
  since: plainDate,
  stages: z.array(calibrationStage),
  /** Of how many passages. */
  passages: z.int(),
  score: z.number().nullable(),
  reliability: z.number().nullable(),
  resolution: z.number().nullable(),
  uncertainty: z.number().nullable(),
});

export type Calibration = z.infer<typeof calibration>;
