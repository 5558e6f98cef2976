import * as z from 'zod';
import { contactId, mailId, stirringId } from '../base/ids';
import { instant, version } from '../base/values';

export const stirringKind = z.enum([
  'opened',
  'clicked',
  'replied',
  'away',
  'bounced',
  'unsubscribed',
  'text-in',
  'missed-call',
  'form',
]);

export type StirringKind = z.infer<typeof stirringKind>;

export const stirring = z.object({
  id: stirringId,
  at: instant,
  kind: stirringKind,
  words: z.string(),
  times: z.int(),
  contactId: contactId.nullable(),
  contactName: z.string().nullable(),
  companyName: z.string().nullable(),
  mailId: mailId.nullable(),
  isHandled: z.boolean(),
  version: z.int(),
});

export type Stirring = z.infer<typeof stirring>;

export const listStirrings = z.object({
  whose: z.enum(['mine', 'all']).default('mine'),
  show: z.enum(['open', 'all']).default('open'),
  limit: z.coerce.number().int().min(1).max(200).default(80),
});

export const fileStirring = z.object({ version, contactId, keepNumber: z.boolean().default(true) });

export const handleStirring = z.object({ version, isHandled: z.boolean() });
