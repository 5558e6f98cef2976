import * as z from 'zod';
import { contactId, mergeId } from '../base/ids';
import { contactPlain } from '../base/catalogues';
import { instant, version } from '../base/values';
import { contact, contactRow } from '../contacts';

export const evidence = z.object({
  /** What the two share: mail, number, name, company, domain. */
  about: z.enum(['mail', 'number', 'name', 'company', 'domain']),
  words: z.string(),
});

export type Evidence = z.infer<typeof evidence>;

export const likeness = z.enum(['certain', 'likely']);

export type Likeness = z.infer<typeof likeness>;

export const similarTo = z.object({
  givenName: z.string().trim().max(80).default(''),
  familyName: z.string().trim().max(80).default(''),
  companyName: z.string().trim().max(160).default(''),
  email: z.string().trim().max(254).default(''),
  phone: z.string().trim().max(40).default(''),
  country: z
    .string()
    .regex(/^[A-Z]{2}$/)
    .default('GB'),
  /** Somebody who is being changed, and so is no duplicate of themselves. */
  except: contactId.optional(),
});

export type LikeDraft = z.output<typeof similarTo>;

export const similarContact = z.object({
  contact: contactRow,
  likeness,
  score: z.number(),
  evidence: z.array(evidence),
});

export type SimilarContact = z.infer<typeof similarContact>;

export const likelyPairs = z.object({
  pairs: z.array(
    z.object({
      one: contactRow,
      other: contactRow,
      likeness,
      score: z.number(),
      evidence: z.array(evidence),
    }),
  ),
  /** Pairs a person found to be two. */
  dismissed: z.int(),
});

export type LikelyPair = z.infer<typeof likelyPairs>['pairs'][number];

/** Fields of which the merged contact can have only one. */
export const mergeFields = [
  'category',
  'givenName',
  'familyName',
  'company',
  'email',
  'phone',
  'country',
  'standing',
  'checkIn',
  'owner',
  ...contactPlain.keys,
] as const;

export const mergeField = z.enum(mergeFields);

export type MergeField = z.infer<typeof mergeField>;

export const mergeContacts = z.object({
  keepId: contactId,
  keepVersion: version,
  goneId: contactId,
  goneVersion: version,
  /** Fields taken from the contact that goes; all others stay. */
  take: z.array(mergeField).max(mergeFields.length).default([]),
});

export const merged = z.object({ mergeId, contact });

export const mergeRow = z.object({
  id: mergeId,
  keptId: contactId,
  keptName: z.string(),
  goneName: z.string(),
  by: z.string(),
  at: instant,
});

export const mergeList = z.object({ merges: z.array(mergeRow) });

export const pairIds = z.object({ oneId: contactId, otherId: contactId });
export type PairIds = z.output<typeof pairIds>;
