import * as z from 'zod';
import { version } from '../base/values';

/** Records that a person can archive, or delete with all that is only about them. */
export const removable = z.enum(['contact', 'company', 'deal', 'lead', 'agreement']);
export type Removable = z.infer<typeof removable>;

export const removeRecord = z.object({ kind: removable, id: z.uuid(), version });

export const archiveRecord = removeRecord.extend({ isArchived: z.boolean() });

/** What was done, as a person reads it. */
export const removed = z.object({ words: z.string() });
