import * as z from 'zod';
import { gridFilter, gridPage, grouping } from '../base/grid';
import { agreementId, companyId, contactId, dealId, userId } from '../base/ids';
import { productLine, productLines } from '../base/product-line';
import { amountMinor, currency, instant, line, plainDate, resolved, version } from '../base/values';

/** Running; ahead of its start; over without a word on what follows; or ended. */
export const agreementState = z.enum(['ahead', 'running', 'over', 'ended']);

export type AgreementState = z.infer<typeof agreementState>;

/** What follows the running term: still open, a next term is agreed on, or it leaves. */
export const renewalDecision = z.enum(['open', 'renewed', 'leaving']);

/** How much dearer the next term is: not at all, by hundredths of a percent, or by minor units a term. */
export const upliftKind = z.enum(['none', 'percent', 'amount']);

export type UpliftKind = z.infer<typeof upliftKind>;

/** Whether the customer ended it or we did. */
export const endedBy = z.enum(['customer', 'us']);

export const agreementRow = z.object({
  id: agreementId,
  name: z.string(),
  /** None when somebody bought for themselves. */
  companyId: companyId.nullable(),
  companyName: z.string().nullable(),
  contactId: contactId.nullable(),
  contactName: z.string().nullable(),
  ownerId: userId,
  ownerName: z.string(),
  state: agreementState,
  decision: renewalDecision,
  /** Since when it has held: the start of its first term. */
  startsOn: plainDate,
  /** The running term: the first is 1. */
  termNumber: z.int(),
  termStartsOn: plainDate,
  /** First day after the running term. */
  endsOn: plainDate,
  termMonths: z.int(),
  /** What a whole term brings at the rate of today, and what it brings in a year. */
  valueMinor: z.int(),
  yearlyMinor: z.int(),
  currency: z.string(),
  homeMinor: z.int().nullable(),
  yearlyHomeMinor: z.int().nullable(),
  upliftKind,
  upliftBy: z.int(),
  checkInMonths: z.int().nullable(),
  signerId: contactId.nullable(),
  /** The first day on which it does not hold any more. */
  leavesOn: plainDate.nullable(),
  noticeOn: plainDate.nullable(),
  endedBy: endedBy.nullable(),
  endReason: z.string().nullable(),
  /** The open deal about what follows the running term. */
  renewalDealId: dealId.nullable(),
  noticeDays: z.int(),
  leadDays: z.int(),
  renewsItself: z.boolean(),
  noticeDeadlineOn: plainDate,
  leadOn: plainDate,
  archivedAt: instant.nullable(),
  version: z.int(),
});

export type AgreementRow = z.infer<typeof agreementRow>;

/** Which agreements a list or a count is about. */
export const agreementQuery = z.object({
  owner: z.enum(['mine', 'all']).default('mine'),
  companyId: companyId.optional(),
  /** Of somebody who has no company: theirs alone. */
  contactId: contactId.optional(),
  /** Where it is on its way to the next term; left out, every one that has not ended. */
  window: z.enum(['lead', 'notice', 'over', 'renewed', 'lost', 'all']).optional(),
  /** Only the archived ones, or those with the rest; left out, those that are not. */
  archived: z.enum(['yes', 'any']).optional(),
  q: z.string().trim().max(100).default(''),
  filter: gridFilter.optional(),
});

export type AgreementQuery = z.output<typeof agreementQuery>;

export const listAgreements = agreementQuery.extend({
  /** Left out, the soonest last day for notice first. */
  ...gridPage,
  limit: z.coerce.number().int().min(1).max(500).default(500),
});

export const countAgreements = agreementQuery.extend({ group: grouping.optional() });

export const agreementList = z.object({ rows: z.array(agreementRow) });

/** What an agreement says, whoever it is with. */
export const agreementBase = {
  name: line(160),
  startsOn: plainDate,
  termMonths: z.int().min(1).max(120),
  valueMinor: amountMinor,
  /** Left out, the organisation's own. */
  currency: currency.optional(),
  noticeDays: z.int().min(0).max(730),
  leadDays: z.int().min(0).max(730),
  renewsItself: z.boolean(),
};

const further = {
  upliftKind,
  /** Of a percentage its hundredths: 350 is 3.5 %. */
  upliftBy: z.int().min(-1_000_000_000).max(1_000_000_000),
  /** A look at how they are every so many months of the term. */
  checkInMonths: z.int().min(1).max(24).nullable(),
  /** Who signs for the customer. */
  signerId: contactId.nullable(),
};

const fits = ({
  upliftKind: kind,
  upliftBy: by,
}: {
  upliftKind?: UpliftKind | undefined;
  upliftBy?: number | undefined;
}) => kind !== 'percent' || by === undefined || (by > -10_000 && by <= 100_000);
const misfit = { message: $localize`must be more than −100 % and at most 1,000 %`, path: ['upliftBy'] };

/** One that is made, with what may be left out. */
export const newAgreement = z
  .object({
    ...agreementBase,
    upliftKind: further.upliftKind.default('none'),
    upliftBy: further.upliftBy.default(0),
    checkInMonths: further.checkInMonths.default(null),
    signerId: further.signerId.default(null),
  })
  .refine(fits, misfit);

export type NewAgreement = z.output<typeof newAgreement>;

export const changeAgreement = z
  .object({
    version,
    resolved,
    // What is left out stays as it is.
    ...z
      .object({ ...agreementBase, ...further })
      .omit({ currency: true })
      .partial().shape,
  })
  .refine(fits, misfit);

export type ChangeAgreement = z.output<typeof changeAgreement>;

/** What was bought, line by line. */
export const agreementLine = productLine;

export const createAgreement = newAgreement.safeExtend({
  contactId,
  dealId: dealId.nullable().default(null),
  /** Left out, the lines of the deal that are billed by the year. */
  lines: productLines.optional(),
});

/** Another set of lines; what the term brings stays as it is. */
export const setAgreementLines = z.object({ version, lines: productLines });

const words = z.string().trim().max(2000).default('');

/** More or less from a day of a term on. */
export const changeTermValue = z.object({
  version,
  on: plainDate,
  /** What a whole term brings from then on. */
  valueMinor: amountMinor,
  words,
});

export type ChangeTermValue = z.output<typeof changeTermValue>;

/** Notice that came in or was given, or an end that was agreed on. */
export const endAgreement = z.object({
  version,
  by: endedBy,
  /** The day the notice came in; null for an end without one. */
  noticeOn: plainDate.nullable(),
  /** Left out, the day the notice takes effect: the end of the term, or of the next where it came too late. */
  leavesOn: plainDate.optional(),
  reason: line(300),
  words,
});

export type EndAgreement = z.output<typeof endAgreement>;

export const keepAgreement = z.object({ version, words });

/** A term that was, is, or is agreed on. */
export const agreementTerm = z.object({
  number: z.int(),
  startsOn: plainDate,
  endsOn: plainDate,
  months: z.int().nullable(),
  valueMinor: z.int(),
  yearlyMinor: z.int(),
  how: z.enum(['first', 'rolled', 'renewed']),
  deal: z.object({ id: dealId, name: z.string(), status: z.string() }).nullable(),
  renewalDeal: z.object({ id: dealId, name: z.string(), status: z.string() }).nullable(),
});

/** Chance that the customer leaves, with what it is made of: odds at the beginning, and what multiplies them. */
export const renewalRisk = z.object({
  chance: z.number(),
  base: z.number(),
  decided: z.int(),
  lost: z.int(),
  factors: z.array(z.object({ words: z.string(), times: z.number() })),
});

export type RenewalRisk = z.infer<typeof renewalRisk>;

/** Everything about one agreement. */
export const agreementDetail = z.object({
  agreement: agreementRow,
  endWords: z.string(),
  signerName: z.string().nullable(),
  deal: z.object({ id: dealId, name: z.string(), status: z.string() }).nullable(),
  terms: z.array(agreementTerm),
  changes: z.array(
    z.object({
      on: plainDate,
      valueMinor: z.int(),
      words: z.string(),
      userName: z.string(),
    }),
  ),
  lines: z.array(agreementLine.extend({ totalMinor: z.int() })),
  /** What the next term would be as things are. */
  next: z.object({ startsOn: plainDate, endsOn: plainDate, valueMinor: z.int() }).nullable(),
  /** When a notice of today would take effect. */
  noticeToday: z.object({ leavesOn: plainDate, isLate: z.boolean() }),
  risk: renewalRisk.nullable(),
});

export type AgreementDetail = z.infer<typeof agreementDetail>;

/** Begins the talk about what follows, ahead of its day: of one agreement, or of several of a customer in one deal. */
export const openRenewal = z.object({
  agreementIds: z.array(agreementId).min(1).max(20),
});

/** What each agreement of a renewal deal is renewed with when it is won. */
export const renewedTerm = z.object({
  agreementId,
  /** Left out, as long as before. */
  months: z.int().min(1).max(120).nullable().default(null),
  /** It ends on that day instead, so that several come to one. */
  until: plainDate.nullable().default(null),
  valueMinor: amountMinor,
});

export type RenewedTerm = z.output<typeof renewedTerm>;

export const renewalWindow = z.enum(['lead', 'notice', 'over', 'renewed', 'lost']);

export type RenewalWindow = z.infer<typeof renewalWindow>;

export const readRenewals = z.object({ owner: z.enum(['mine', 'all']).default('mine') });

/** What stands at each window, and what is at stake in each of the next twelve months; money a year, in the organisation's currency. */
export const renewalsAhead = z.object({
  windows: z.array(z.object({ window: renewalWindow, count: z.int(), yearlyHomeMinor: z.int() })),
  months: z.array(
    z.object({
      month: plainDate,
      count: z.int(),
      /** Of terms whose notice closes in the month. */
      openMinor: z.int(),
      renewedMinor: z.int(),
      leavingMinor: z.int(),
      /** The open part times the chance that each leaves. */
      atRiskMinor: z.int(),
    }),
  ),
  owners: z.array(z.object({ userId, name: z.string(), count: z.int(), yearlyHomeMinor: z.int() })),
  /** Agreements in a currency without a rate, which no sum holds. */
  unvalued: z.int(),
});

export type RenewalsAhead = z.infer<typeof renewalsAhead>;

export const askRetention = z.object({
  owner: z.enum(['mine', 'all']).default('all'),
  /** First day of the first month. */
  from: plainDate,
  months: z.coerce.number().int().min(1).max(36).default(12),
});

export const valueMove = z.enum(['new', 'back', 'expansion', 'contraction', 'churn']);

export type ValueMove = z.infer<typeof valueMove>;

/** Yearly value, in minor units of the organisation's currency. start + new + back + expansion - contraction - churn = end. */
export const retentionMonth = z.object({
  month: plainDate,
  start: z.int(),
  new: z.int(),
  back: z.int(),
  expansion: z.int(),
  contraction: z.int(),
  churn: z.int(),
  end: z.int(),
  gross: z.number().nullable(),
  net: z.number().nullable(),
});

export type RetentionMonth = z.infer<typeof retentionMonth>;

export const customerRetention = z.object({
  months: z.array(retentionMonth),
  /** All of the months as one. */
  whole: retentionMonth,
  cohorts: z.array(z.object({ month: plainDate, customers: z.int(), values: z.array(z.int()) })),
  unvalued: z.int(),
});

export type CustomerRetention = z.infer<typeof customerRetention>;

export const askRetentionRecords = z.object({
  owner: z.enum(['mine', 'all']).default('all'),
  from: plainDate,
  months: z.coerce.number().int().min(1).max(36).default(1),
  kind: valueMove,
});

export const retentionRecords = z.object({
  rows: z.array(
    z.object({
      contactId: contactId.nullable(),
      companyId: companyId.nullable(),
      name: z.string(),
      before: z.int(),
      after: z.int(),
      /** The agreements that changed in these months. */
      agreements: z.array(z.object({ id: agreementId, name: z.string(), endReason: z.string().nullable() })),
    }),
  ),
});

export type RetentionRecords = z.infer<typeof retentionRecords>;
