import * as z from 'zod';
import { companyId, contactId, dealId, entryId } from '../base/ids';
import { instant } from '../base/values';

export const searchHit = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('contact'), id: contactId, title: z.string(), words: z.string() }),
  z.object({ kind: z.literal('company'), id: companyId, title: z.string(), words: z.string() }),
  z.object({ kind: z.literal('deal'), id: dealId, title: z.string(), words: z.string() }),
  z.object({
    kind: z.literal('note'),
    id: entryId,
    title: z.string(),
    words: z.string(),
    at: instant,
    contactId: contactId.nullable(),
    companyId: companyId.nullable(),
    dealId: dealId.nullable(),
  }),
]);

export type SearchHit = z.infer<typeof searchHit>;

export const search = z.object({
  q: z.string().trim().max(100),
  /** Names first, while typing; what was written takes a little longer. */
  among: z.enum(['names', 'notes']).default('names'),
});

export const searchHits = z.object({ hits: z.array(searchHit) });
