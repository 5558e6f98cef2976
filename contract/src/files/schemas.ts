import * as z from 'zod';
import { agreementId, companyId, contactId, dealId, fileId, templateId } from '../base/ids';
import { instant } from '../base/values';

/** Bytes a file may have at most. */
export const mostFileBytes = 25 * 1024 * 1024;

export const fileSubject = z.object({
  contactId: contactId.optional(),
  companyId: companyId.optional(),
  dealId: dealId.optional(),
  agreementId: agreementId.optional(),
  /** Goes out with every mail made from the template. */
  templateId: templateId.optional(),
});

export const uploadFile = fileSubject
  .extend({ name: z.string().trim().min(1).max(200) })
  .refine(
    (about) =>
      Boolean(about.contactId ?? about.companyId ?? about.dealId ?? about.agreementId ?? about.templateId),
    {
      message: $localize`a file belongs to a person, a company, a deal, an agreement or a template`,
      path: ['contactId'],
    },
  );

export const storedFile = z.object({
  id: fileId,
  name: z.string(),
  mediaType: z.string(),
  size: z.int(),
  /** Whether it can be looked at here: pictures and PDF. */
  canPreview: z.boolean(),
  userName: z.string(),
  at: instant,
});

export type StoredFile = z.infer<typeof storedFile>;
