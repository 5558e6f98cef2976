import * as z from 'zod';
import { contactId, dealId, fileId, snippetId, templateId } from '../base/ids';
import { line, resolved, version } from '../base/values';

export const templateChannel = z.enum(['email', 'text']);

/** What a template is made of; places such as `{{ contact.given_name }}` are filled with facts. */
const written = z.object({
  channel: templateChannel,
  subject: z.string().trim().max(300),
  body: z
    .string()
    .trim()
    .min(1, $localize`must not be empty`)
    .max(20_000),
});

const hasSubject = (made: { channel: string; subject: string }) =>
  made.channel !== 'email' || made.subject !== '';

const needsSubject = { message: $localize`an e-mail needs a subject`, path: ['subject'] };

export const template = written.extend({
  id: templateId,
  name: z.string(),
  isRetired: z.boolean(),
  /** In how many cadences it is used now. */
  uses: z.int(),
  files: z.array(z.object({ id: fileId, name: z.string(), size: z.int() })),
  version: z.int(),
});

export type Template = z.infer<typeof template>;

export const createTemplate = written.extend({ name: line(80) }).refine(hasSubject, needsSubject);

export const changeTemplate = written
  .extend({ name: line(80), version, resolved, isRetired: z.boolean().default(false) })
  .refine(hasSubject, needsSubject);

export const snippet = z.object({ id: snippetId, name: z.string(), body: z.string(), version: z.int() });

export type Snippet = z.infer<typeof snippet>;

const snippetName = z
  .string()
  .trim()
  .regex(/^[a-z][a-z0-9-]{0,39}$/, $localize`must be a short name of small letters, such as opening-hours`);

export const createSnippet = z.object({ name: snippetName, body: z.string().trim().min(1).max(5000) });

export const changeSnippet = createSnippet.extend({ version, resolved });

/** A text filled with the facts of one person: what can be sent, or what stands in the way. */
export const filled = z.object({
  subject: z.string(),
  body: z.string(),
  /** Facts the text asks for that are not known, in words. */
  missing: z.array(z.string()),
  /** What is wrong with the text itself, with its line. */
  wrong: z.array(z.string()),
});

export type Filled = z.infer<typeof filled>;

export const fillText = z.object({
  channel: templateChannel,
  subject: z.string().max(300),
  body: z.string().max(20_000),
  contactId,
  dealId: dealId.nullable().default(null),
});

/** A fact that texts may ask for, with an example. */
export const mergeFact = z.object({ name: z.string(), words: z.string(), example: z.string() });
