import * as z from 'zod';
import { countedValues } from '../base/counted-values';
import { agreementState, newAgreement, renewedTerm } from '../agreements';
import { dealPlain, type DealPlain } from '../base/catalogues';
import { gridFilter, gridPage, grouping } from '../base/grid';
import {
  agreementId,
  companyId,
  contactId,
  customFieldId,
  dealId,
  leadId,
  pipelineId,
  runId,
  stageId,
  standingId,
  taskId,
  userId,
} from '../base/ids';
import { mostNotches } from '../base/notches';
import { plainShape } from '../base/plain-shape';
import { productLine, productLines } from '../base/product-line';
import {
  amountMinor,
  currency,
  instant,
  line,
  plainDate,
  probability,
  resolved,
  version,
} from '../base/values';
import { channel, tetherState } from '../base/words';
import { customValue, tetherFacts } from '../contacts';
import { nextStep } from '../journal';
import { pipeline } from '../pipelines';

const plain = plainShape(dealPlain);

export const dealStatus = z.enum(['open', 'won', 'lost', 'parked']);

export type DealStatus = z.infer<typeof dealStatus>;

/** Whether it is with somebody new, more for a customer, or a renewal. */
export type DealType = DealPlain['type'];

export type DealPriority = DealPlain['priority'];

/** What a person is in a deal. */
export const dealRole = z.enum(['decides', 'signs', 'uses', 'advises']);

export type DealRole = z.infer<typeof dealRole>;

/** A product line of a deal. */
export const dealLine = productLine;

export type DealLineOf = z.output<typeof dealLine>;

const lines = productLines;

const notches = z
  .int()
  .min(0, $localize`must not be negative`)
  .max(mostNotches, $localize`must be at most four`);

export const dealRow = z.object({
  id: dealId,
  name: z.string(),
  status: dealStatus,
  companyId: companyId.nullable(),
  companyName: z.string().nullable(),
  contactId: contactId.nullable(),
  contactName: z.string().nullable(),
  stageId,
  /** How far it is within its stage, 0 to 4. */
  notches: z.int(),
  amountMinor: z.int(),
  currency: z.string(),
  /** In the organisation's own currency, at the rate of the day; null while there is no rate. Sums are made of these. */
  homeMinor: z.int().nullable(),
  winProbability: probability,
  weightedMinor: z.int(),
  expectedCloseOn: plainDate.nullable(),
  type: plain.type,
  priority: plain.priority,
  ownerId: userId,
  ownerName: z.string(),
  /** Who works on it beside its owner, and may change it too. */
  teamIds: z.array(userId),
  tether: tetherFacts,
  tetherState,
  /** Days past the stage's patience; 0 or less is not stalled. */
  stalledDays: z.int(),
  /** Of a won or lost one. */
  closedOn: plainDate.nullable(),
  archivedAt: instant.nullable(),
  version: z.int(),
});

export type DealRow = z.infer<typeof dealRow>;

/** How far along its pipeline, 0 to 1. */
const completion = z.number();

export const dealShow = z.enum(['all', 'late', 'today', 'held', 'loose', 'stalled']);

export type DealShow = z.infer<typeof dealShow>;

/** Which deals lanes, a list, a count or a grouping are about. */
export const dealQuery = z.object({
  /** Mine are those I own; with my team's, also those I am on the team of. */
  owner: z.enum(['mine', 'team', 'all']).default('mine'),
  /** Any is every one there is; archived ones are in no other list than that and their own. */
  status: z.enum(['open', 'won', 'lost', 'parked', 'any', 'archived']).default('open'),
  pipeline: pipelineId.optional(),
  /** With that person, or where they have a role. */
  contact: contactId.optional(),
  show: dealShow.default('all'),
  /** The expected close of an open one, the day it closed of another: from the first day to the last. */
  from: plainDate.optional(),
  to: plainDate.optional(),
  q: z.string().trim().max(100).default(''),
  filter: gridFilter.optional(),
});

export type DealQuery = z.output<typeof dealQuery>;

export const listDeals = dealQuery.omit({ status: true });

export const dealList = z.object({
  pipelines: z.array(pipeline),
  rows: z.array(dealRow),
  /** Open deals the filter hides. */
  hidden: z.int(),
});

export type DealList = z.infer<typeof dealList>;

export const pageDeals = dealQuery.extend({
  /** Left out, by next step. */
  ...gridPage,
  limit: z.coerce.number().int().min(1).max(200).default(100),
});

/** A deal as the list shows it, in whichever columns. */
export const dealGridRow = dealRow.extend({
  ...plain,
  completion,
  pipelineId,
  createdAt: instant,
  stageSince: instant,
  closeReason: z.string().nullable(),
  competitors: z.array(z.string()),
  custom: z.record(z.string(), customValue),
  counted: countedValues.optional(),
});

export type DealGridRow = z.infer<typeof dealGridRow>;

export const dealPage = z.object({ rows: z.array(dealGridRow) });

export const countDeals = dealQuery.extend({ group: grouping.optional() });

const roles = z.array(z.object({ contactId, role: dealRole })).max(60);

const custom = z.record(customFieldId, customValue);

/** What a deal is made with or changed to. */
export const dealFields = {
  name: line(160),
  stageId,
  /** Ignored while there are product lines: their sum is the value. */
  amountMinor,
  expectedCloseOn: plainDate.nullable(),
};

/** What a caller may leave out: on a change it stays as it is. */
const furtherFields = {
  /** Left out, the organisation's own; on a change, as it is. */
  currency,
  ...plain,
  winProbability: probability.nullable(),
  /** Another stage begins with none. */
  notches,
  parentId: dealId.nullable(),
  competitors: z.array(line(120)).max(20),
  teamIds: z.array(userId).max(40),
  people: roles,
  lines,
  custom,
};

const further = z.object(furtherFields).partial().shape;

export const createDeal = z.object({ ...dealFields, ...further, contactId, next: nextStep });

export type CreateDeal = z.output<typeof createDeal>;

export const changeDeal = z.object({
  version,
  resolved,
  ...dealFields,
  ...further,
  contactId: contactId.optional(),
  ownerId: userId.optional(),
  /** Prompts of the stage's brief that are ticked with this change. */
  tick: z.array(z.uuid()).max(20).default([]),
});

export type ChangeDeal = z.output<typeof changeDeal>;

/**
 * A deal put elsewhere on the lanes: another stage, another expected close. What the stage asks for may be said, and
 * prompts of the brief it leaves ticked, in the same moment.
 */
export const moveDeal = z.object({
  version,
  stageId,
  expectedCloseOn: plainDate.nullable(),
  facts: z
    .object({
      amountMinor: amountMinor.optional(),
      decisionOn: plainDate.optional(),
      decider: contactId.optional(),
      signer: contactId.optional(),
      competitor: line(120).optional(),
      lines: lines.optional(),
      custom: custom.optional(),
    })
    .optional(),
  tick: z.array(z.uuid()).max(20).default([]),
});

export type MoveDeal = z.output<typeof moveDeal>;

/** How far a deal is within its stage now. */
export const notchDeal = z.object({ version, resolved, notches });

export type NotchDeal = z.output<typeof notchDeal>;

/** One prompt of the brief, ticked or not. */
export const tickPrompt = z.object({ promptId: z.uuid(), isTicked: z.boolean() });

/** Open again, with its whole history; what happens next is said in the same moment. */
export const reopenDeal = z.object({
  next: nextStep,
  /** The agreement made when it was won goes too, if nobody has changed it since. */
  withdrawAgreement: z.boolean().default(false),
  /** The planned steps that closing dropped are planned again. */
  bringBack: z.boolean().default(false),
});

/** What closing does to what was planned: of an open deal what it would drop, of a closed one what it dropped. */
export const closingSteps = z.object({
  steps: z.array(z.object({ id: taskId, channel, purpose: z.string(), dueOn: plainDate })),
  /** The runs that end with it; they are not begun again by opening it. Their own steps are not among the steps. */
  runs: z.array(z.object({ id: runId, cadenceName: z.string() })),
});
export type ClosingSteps = z.infer<typeof closingSteps>;

const closeWords = z.string().trim().max(2000).default('');
/** Steps and runs of those it would end that stay as they are, by their ids. */
const keep = z.array(z.uuid()).max(200).default([]);

export const closeDeal = z.discriminatedUnion('as', [
  z.object({
    as: z.literal('won'),
    version,
    on: plainDate,
    /** What it came to in the end; left out, its value stands. */
    amountMinor: amountMinor.optional(),
    reason: line(300).nullable().default(null),
    words: closeWords,
    /** What the contact is from now on. */
    standingId: standingId.nullable().default(null),
    agreement: newAgreement.nullable().default(null),
    /** Of a renewal: what each of its agreements is renewed with; left out, by as long as before, for its part of the value. */
    renewed: z.array(renewedTerm).max(20).optional(),
    tick: z.array(z.uuid()).max(20).default([]),
    /** A pipeline in which a new deal begins, linked to this one; null for none. */
    handOnTo: pipelineId.nullable().default(null),
    keep,
  }),
  z.object({
    as: z.literal('lost'),
    version,
    on: plainDate,
    reason: line(300),
    lostTo: z.string().trim().max(120).nullable().default(null),
    words: closeWords,
    keep,
  }),
  /** Out of every total until its day, when it comes back into the Round. */
  z.object({
    as: z.literal('parked'),
    version,
    wakeOn: plainDate,
    reason: line(300),
    words: closeWords,
    keep,
  }),
]);

export type CloseDeal = z.output<typeof closeDeal>;

export const deal = dealRow.extend({
  completion,
  createdAt: instant,
  stageSince: instant,
  ownProbability: probability.nullable(),
  ...plain,
  parent: z.object({ id: dealId, name: z.string() }).nullable(),
  children: z.array(z.object({ id: dealId, name: z.string(), status: dealStatus })),
  leadId: leadId.nullable(),
  /** The won deal that was handed on to this one's pipeline. */
  origin: z.object({ id: dealId, name: z.string() }).nullable(),
  /** Those that it was handed on to. */
  handedOn: z.array(z.object({ id: dealId, name: z.string(), status: dealStatus })),
  competitors: z.array(z.string()),
  team: z.array(z.object({ id: userId, name: z.string() })),
  people: z.array(z.object({ contactId, name: z.string(), role: dealRole })),
  lines: z.array(dealLine.extend({ id: z.uuid(), totalMinor: z.int() })),
  custom: z.record(z.string(), customValue),
  /** Prompts of the stage's brief, and which are ticked. */
  prompts: z.array(
    z.object({ id: z.uuid(), text: z.string(), isRequired: z.boolean(), isTicked: z.boolean() }),
  ),
  /** Tasks that its stage's brief made and that are not done yet. */
  briefTasksOpen: z.int(),
  /** Of a parked one: the day it comes back. */
  wakeOn: plainDate.nullable(),
  closeReason: z.string().nullable(),
  closeWords: z.string(),
  lostTo: z.string().nullable(),
  /** An agreement that was made when it was won. */
  agreementId: agreementId.nullable(),
  /** Of a renewal: the agreements it is about, each with what its next term would be. */
  renews: z.array(
    z.object({
      agreementId,
      name: z.string(),
      state: agreementState,
      endsOn: plainDate,
      termMonths: z.int(),
      valueMinor: z.int(),
      currency: z.string(),
      nextMinor: z.int(),
    }),
  ),
});

export type Deal = z.infer<typeof deal>;

/** Whether to go on with somebody: tries so far, days against the usual, the chance of an answer. */
export const lettingGo = z.object({
  tries: z.int(),
  openDays: z.int(),
  /** Median days from open to won. */
  usualDays: z.int().nullable(),
  /** P(answer within 30 days to the next try | so many unanswered ones before), of the organisation's own history. */
  chance: z.object({ rate: z.number(), low: z.number(), high: z.number(), cases: z.int() }).nullable(),
  advice: z.enum(['go on', 'consider letting go', 'too little known']),
});

export type LettingGo = z.infer<typeof lettingGo>;
