import * as z from 'zod';
import { agreementId, companyId, contactId, dealId, pipelineId, stageId, userId } from './ids';
import { nextStep } from './journal';
import { tetherFacts } from './people';
import { amountMinor, instant, line, plainDate, probability, version } from './values';
import { tetherState } from './words';

export const stage = z.object({
  id: stageId,
  pipelineId,
  name: z.string(),
  winProbability: probability,
  patienceDays: z.int(),
  position: z.int(),
});
export type Stage = z.infer<typeof stage>;

export const pipeline = z.object({ id: pipelineId, name: z.string(), stages: z.array(stage) });
export type Pipeline = z.infer<typeof pipeline>;

export const dealStatus = z.enum(['open', 'won', 'lost', 'parked']);

export const dealRow = z.object({
  id: dealId,
  name: z.string(),
  status: dealStatus,
  companyId: companyId.nullable(),
  companyName: z.string().nullable(),
  contactId: contactId.nullable(),
  contactName: z.string().nullable(),
  stageId,
  amountMinor: z.int(),
  currency: z.string(),
  winProbability: probability,
  weightedMinor: z.int(),
  expectedCloseOn: plainDate.nullable(),
  ownerId: userId,
  ownerName: z.string(),
  tether: tetherFacts,
  tetherState,
  /** Days past the stage's patience; 0 or less is not stalled. */
  stalledDays: z.int(),
  version: z.int(),
});
export type DealRow = z.infer<typeof dealRow>;

export const listDeals = z.object({
  owner: z.enum(['mine', 'all']).default('mine'),
  pipeline: pipelineId.optional(),
  show: z.enum(['all', 'late', 'today', 'held', 'loose', 'stalled']).default('all'),
});

export const dealList = z.object({
  pipelines: z.array(pipeline),
  rows: z.array(dealRow),
  /** Open deals the filter hides. */
  hidden: z.int(),
});
export type DealList = z.infer<typeof dealList>;

export const createDeal = z.object({
  name: line(160),
  contactId,
  stageId,
  amountMinor,
  expectedCloseOn: plainDate.nullable(),
  next: nextStep,
});

export const changeDeal = z.object({
  version,
  name: line(160),
  stageId,
  amountMinor,
  expectedCloseOn: plainDate.nullable(),
  winProbability: probability.nullable(),
});

/** A deal put elsewhere on the lanes: another stage, another expected close. */
export const moveDeal = z.object({ version, stageId, expectedCloseOn: plainDate.nullable() });

/** Open again, with its whole history; what happens next is said in the same moment. */
export const reopenDeal = z.object({ version, next: nextStep });

export const closeDeal = z.discriminatedUnion('as', [
  z.object({ as: z.literal('won'), version, on: plainDate }),
  z.object({ as: z.literal('lost'), version, on: plainDate, reason: line(300) }),
  /** Out of every total until its day, when it comes back into the Round. */
  z.object({ as: z.literal('parked'), version, wakeOn: plainDate, reason: line(300) }),
]);

export const deal = dealRow.extend({
  createdAt: instant,
  stageSince: instant,
  ownProbability: probability.nullable(),
  /** Of a parked one: the day it comes back. */
  wakeOn: plainDate.nullable(),
  closeReason: z.string().nullable(),
});
export type Deal = z.infer<typeof deal>;

export const agreementRow = z.object({
  id: agreementId,
  name: z.string(),
  companyId,
  companyName: z.string(),
  contactId: contactId.nullable(),
  contactName: z.string().nullable(),
  ownerId: userId,
  ownerName: z.string(),
  startsOn: plainDate,
  endsOn: plainDate,
  termMonths: z.int(),
  valueMinor: z.int(),
  currency: z.string(),
  noticeDays: z.int(),
  leadDays: z.int(),
  renewsItself: z.boolean(),
  noticeDeadlineOn: plainDate,
  leadOn: plainDate,
  version: z.int(),
});
export type AgreementRow = z.infer<typeof agreementRow>;

export const listAgreements = z.object({
  owner: z.enum(['mine', 'all']).default('mine'),
  companyId: companyId.optional(),
});
export const agreementList = z.object({ rows: z.array(agreementRow) });

export const createAgreement = z.object({
  name: line(160),
  contactId,
  dealId: dealId.nullable().default(null),
  startsOn: plainDate,
  termMonths: z.int().min(1).max(120),
  valueMinor: amountMinor,
  noticeDays: z.int().min(0).max(730),
  leadDays: z.int().min(0).max(730),
  renewsItself: z.boolean(),
});
