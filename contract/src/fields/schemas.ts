import * as z from 'zod';
import { customFieldId } from '../base/ids';
import { line, resolved, version } from '../base/values';
import { customFieldType } from '../base/words';

export const customSubject = z.enum(['contact', 'company', 'deal', 'lead']);

export type CustomSubject = z.infer<typeof customSubject>;

const choices = z.array(line(60)).max(60).default([]);

/** A field that an admin defined; a retired one keeps its values and is shown nowhere. */
export const customField = z.object({
  id: customFieldId,
  subject: customSubject,
  name: z.string(),
  type: customFieldType,
  choices: z.array(z.string()),
  isRetired: z.boolean(),
  version: z.int(),
});

export type CustomField = z.infer<typeof customField>;

const needsChoices = (field: { type?: string; choices?: readonly string[] }) =>
  field.type !== 'choice' || (field.choices?.length ?? 0) > 0;

const choicesNeeded = {
  message: $localize`a field of this type needs at least one choice`,
  path: ['choices'],
};

export const createCustomField = z
  .object({ subject: customSubject, name: line(60), type: customFieldType, choices })
  .refine(needsChoices, choicesNeeded);

export const changeCustomField = z.object({
  version,
  resolved,
  name: line(60),
  choices,
  isRetired: z.boolean(),
});
