import * as z from 'zod';
import { dealId, pipelineId, reportMailingId, stageId, userId } from '../base/ids';
import { amountMinor, line, plainDate } from '../base/values';
import { periodsOf, reportFiles, reportKinds, reportPeriods, reportRowKinds, reportRows } from './kinds';

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

/** Mine, those of my team, everybody's I may read, or one person's of my team. */
const whose = z.union([z.enum(['mine', 'team', 'all']), userId]);

/** A question: of which period, whose records, and what its rows are. */
export const askReport = z
  .object({
    kind: z.enum(reportKinds),
    period: z.enum(reportPeriods).default('this-quarter'),
    /** First and last day, where the period is from one day to another. */
    from: plainDate.optional(),
    to: plainDate.optional(),
    whose: whose.default('mine'),
    pipeline: pipelineId.optional(),
    by: z.enum(reportRowKinds).optional(),
  })
  .superRefine(({ kind, period, from, to, by }, context) => {
    const refuse = (path: string, message: string) =>
      context.addIssue({ code: 'custom', path: [path], message });
    if (by !== undefined && !(reportRows[kind] as readonly string[]).includes(by))
      refuse('by', $localize`this report has no such rows`);
    if (!periodsOf(kind).includes(period)) refuse('period', $localize`must be whole months for this report`);
    if (period !== 'days') return;
    if (from === undefined) refuse('from', $localize`must be said: the first day of the period`);
    if (to === undefined) refuse('to', $localize`must be said: the last day of the period`);
    if (from !== undefined && to !== undefined && from > to)
      refuse('to', $localize`must not be before the first day`);
  });

export type AskReport = z.output<typeof askReport>;

/** A figure; of a share between what it lies in truth, in 19 of 20 cases. Null where it is not known. */
const figure = z.object({
  value: z.number().nullable(),
  low: z.number().optional(),
  high: z.number().optional(),
});

export type ReportFigure = z.infer<typeof figure>;

/** `money` in minor units of the organisation's currency, `share` from 0 to 1, `days` and `minutes` as they say. */
export const figureTypes = ['count', 'money', 'share', 'days', 'minutes'] as const;

const reportColumn = z.object({
  key: z.string(),
  words: z.string(),
  type: z.enum(figureTypes),
  /** How it is counted. */
  how: z.string(),
  /** Its figures open the records behind them. */
  opens: z.boolean(),
});

export type ReportColumn = z.infer<typeof reportColumn>;

const reportLine = z.object({
  /** Names the row when its records are asked for. */
  key: z.string(),
  name: z.string(),
  /** One for each column. */
  figures: z.array(figure),
  /** The same in the period before; null where it is not known of the past. */
  before: z.array(figure).nullable(),
  /** A list of the application that shows just these. */
  path: z.string().nullable(),
});

export type ReportLine = z.infer<typeof reportLine>;

const days = z.object({ from: plainDate, to: plainDate });

export const report = z.object({
  kind: z.enum(reportKinds),
  /** The question. */
  words: z.string(),
  by: z.enum(reportRowKinds),
  /** Whose and of which pipeline it is. */
  scope: z.string(),
  /** Null where a report is of now. */
  period: days.nullable(),
  before: days.nullable(),
  columns: z.array(reportColumn),
  rows: z.array(reportLine),
  /** Of all rows; a record that is in several counts once. Null where nothing adds up. */
  total: reportLine.nullable(),
  /** Single figures beside the table. */
  figures: z.array(
    z.object({
      words: z.string(),
      type: z.enum(figureTypes),
      figure,
      before: figure.nullable(),
      how: z.string(),
    }),
  ),
  /** The columns that its picture shows. */
  drawn: z.object({ as: z.enum(['bars', 'stack', 'line']), columns: z.array(z.string()) }),
  /** What else must be known to read it. */
  notes: z.array(z.string()),
  /** All its records are worth a list of their own: deals that moved. */
  listsRecords: z.boolean(),
});

export type Report = z.infer<typeof report>;

/** The records behind a figure: of a row, or of all of them. */
export const askReportRecords = askReport.safeExtend({
  row: z.string().max(200).optional(),
  column: z.string().max(40).optional(),
  /** Of the period, or of the one before it. */
  when: z.enum(['now', 'before']).default('now'),
});

export type AskReportRecords = z.output<typeof askReportRecords>;

export const reportRecords = z.object({
  /** How many there are; the first 500 are listed. */
  count: z.int(),
  records: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      /** Where the application shows it; null where it does not. */
      path: z.string().nullable(),
      under: z.string(),
      on: plainDate.nullable(),
      minor: z.int().nullable(),
      words: z.string(),
    }),
  ),
});

export type ReportRecords = z.infer<typeof reportRecords>;
export type ReportRecord = ReportRecords['records'][number];

export const askReportFile = askReport.safeExtend({ as: z.enum(reportFiles) });

/** Who may be sent a report: those who may read what it is of. */
export const reportReaders = z.object({ people: z.array(z.object({ id: userId, name: z.string() })) });

export const mailReport = z.object({
  report: askReport,
  /** What the mail is called. */
  name: line(120),
  to: z
    .array(userId)
    .min(1, $localize`must name somebody`)
    .max(30, $localize`must name at most 30 people`),
  /** At once, or each Monday morning until it is removed. */
  when: z.enum(['now', 'mondays']),
});

export type MailReport = z.output<typeof mailReport>;

export const reportMailing = z.object({
  id: reportMailingId,
  name: z.string(),
  words: z.string(),
  to: z.array(z.object({ id: userId, name: z.string() })),
});

export type ReportMailing = z.infer<typeof reportMailing>;
