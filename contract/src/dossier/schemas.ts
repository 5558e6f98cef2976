import * as z from 'zod';
import { companyId, contactId, dealId, leadId } from '../base/ids';
import { company } from '../companies';
import { contact } from '../contacts';
import { deal } from '../deals';
import { journalPage } from '../journal';
import { lead } from '../leads';
import { task } from '../tasks';

/** What of a dossier is read: the record with whom and what it is of, its planned steps, the newest of its journal. */
export const dossierPart = z.enum(['record', 'steps', 'journal']);

export type DossierPart = z.infer<typeof dossierPart>;

export const getDossier = z
  .object({
    contactId: contactId.optional(),
    companyId: companyId.optional(),
    dealId: dealId.optional(),
    leadId: leadId.optional(),
    /** With commas between; none means all. */
    parts: z
      .string()
      .default(dossierPart.options.join())
      .transform((text) => text.split(',').filter(Boolean))
      .pipe(z.array(dossierPart).max(dossierPart.options.length)),
  })
  .refine(
    ({ parts: _, ...about }) => Object.values(about).filter(Boolean).length === 1,
    $localize`names one contact, company, deal or lead`,
  );

/** The parts that were asked for. */
export const dossier = z.object({
  record: z
    .object({
      lead: lead.nullable(),
      deal: deal.nullable(),
      /** The person of it; null for a company, and for a person whom the reader may not see. */
      contact: contact.nullable(),
      company: company.nullable(),
      /** How much there is behind each tab. */
      counts: z.object({ people: z.int(), deals: z.int(), agreements: z.int(), runs: z.int() }),
    })
    .optional(),
  steps: z.array(task).optional(),
  journal: journalPage.optional(),
});

export type Dossier = z.infer<typeof dossier>;
