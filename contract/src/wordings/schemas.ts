import * as z from 'zod';
import { cadenceId, snippetId, templateId, userId, wordingId } from '../base/ids';
import { instant, line, resolved, version } from '../base/values';
import { createCadence, saveCadence } from '../cadences';
import { changeSnippet, changeTemplate, createSnippet, createTemplate } from '../templates';

/** A change of a text or cadence as it is asked for: the request that it becomes once it is released. */
export const askedWording = z.discriminatedUnion('act', [
  z.object({ act: z.literal('createTemplate'), body: createTemplate }),
  z.object({ act: z.literal('changeTemplate'), templateId, body: changeTemplate }),
  z.object({ act: z.literal('createSnippet'), body: createSnippet }),
  z.object({ act: z.literal('changeSnippet'), snippetId, body: changeSnippet }),
  z.object({ act: z.literal('createCadence'), body: createCadence }),
  z.object({ act: z.literal('saveCadence'), cadenceId, body: saveCadence }),
]);

export type AskedWording = z.infer<typeof askedWording>;

export const wordingState = z.enum(['waiting', 'released', 'declined']);

export const wording = z.object({
  id: wordingId,
  act: z.enum([
    'createTemplate',
    'changeTemplate',
    'createSnippet',
    'changeSnippet',
    'createCadence',
    'saveCadence',
  ]),
  templateId: templateId.nullable(),
  snippetId: snippetId.nullable(),
  cadenceId: cadenceId.nullable(),
  name: z.string(),
  state: wordingState,
  authorId: userId,
  authorName: z.string(),
  at: instant,
  decidedByName: z.string().nullable(),
  decidedAt: instant.nullable(),
  /** Why it was declined. */
  said: z.string().nullable(),
  /** The fields of the request; of a released one, as they were kept. */
  asked: z.record(z.string(), z.unknown()),
  version: z.int(),
});

export type Wording = z.infer<typeof wording>;

/** What waits for release, or every wording of one text or cadence, newest first. */
export const listWordings = z.object({
  state: wordingState.optional(),
  templateId: templateId.optional(),
  snippetId: snippetId.optional(),
  cadenceId: cadenceId.optional(),
});

export const draftWording = z.object({
  /** Made by the caller: the same one twice is kept once. */
  id: wordingId,
  asked: askedWording,
});

export const releaseWording = z.object({ version, resolved });

export const declineWording = z.object({ version, said: line(500) });

export const withdrawWording = z.object({ version });
