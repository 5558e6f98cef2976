import * as z from 'zod';
import { gridFilter, gridPage, grouping } from '../base/grid';
import { agreementId, companyId, contactId, dealId, userId } from '../base/ids';
import { amountMinor, currency, instant, line, plainDate, resolved, version } from '../base/values';

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
  startsOn: plainDate,
  endsOn: plainDate,
  termMonths: z.int(),
  valueMinor: z.int(),
  currency: z.string(),
  homeMinor: z.int().nullable(),
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

export const changeAgreement = z.object({
  version,
  resolved,
  // What is left out stays as it is.
  ...z.object(agreementBase).omit({ currency: true }).partial().shape,
});

export type ChangeAgreement = z.output<typeof changeAgreement>;

export const createAgreement = z.object({
  ...agreementBase,
  contactId,
  dealId: dealId.nullable().default(null),
});
