import * as z from 'zod';
import { agreementId, companyId, contactId, dealId, leadId } from '../base/ids';
import { version } from '../base/values';

/** Records that a person can archive, or delete with all that is only about them. */
export const removable = z.enum(['contact', 'company', 'deal', 'lead', 'agreement']);
export type Removable = z.infer<typeof removable>;

const idOf = { contact: contactId, company: companyId, deal: dealId, lead: leadId, agreement: agreementId };

const record = <Kind extends Removable>(kind: Kind) =>
  z.object({ kind: z.literal(kind), id: idOf[kind], version });

const records = removable.options.map(record);

export const removeRecord = z.union(records);

export const archiveRecord = z.union(records.map((each) => each.extend({ isArchived: z.boolean() })));

/** What was done, as a person reads it. */
export const removed = z.object({ words: z.string() });

export const archiveLeads = z.object({
  ids: z
    .array(leadId)
    .min(1, $localize`pick at least one`)
    .max(500, $localize`at most 500 at once`),
  isArchived: z.boolean(),
});

export const archivedLeads = z.object({
  changed: z.int(),
  /** Where they are already, or neither qualified nor set aside. */
  left: z.int(),
});
