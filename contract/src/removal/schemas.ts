import * as z from 'zod';
import { version } from '../base/values';

/** Records that a person can delete, each with all that is only about it. */
export const removable = z.enum(['contact', 'company', 'deal', 'lead', 'agreement']);
export type Removable = z.infer<typeof removable>;

export const removeRecord = z.object({ kind: removable, id: z.uuid(), version });

export const removed = z.object({ words: z.string() });
