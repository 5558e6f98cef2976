import * as z from 'zod';
import { changeSetId } from '../base/ids';
import { instant } from '../base/values';

export const listChanges = z.object({
  /** Changes of one record, whoever made them; left out, one's own. */
  recordId: z.uuid().optional(),
  limit: z.coerce.number().int().min(1).max(200).default(50),
});

/** One change as it can be undone: what it was, by whom and when. */
export const changeSet = z.object({
  id: changeSetId,
  words: z.string(),
  at: instant,
  byName: z.string().nullable(),
  isUndone: z.boolean(),
  /** Whether it is young enough, stands, and is the caller's to undo; what was changed since is told when it is tried. */
  canUndo: z.boolean(),
});
export type ChangeSet = z.infer<typeof changeSet>;

export const changeList = z.object({ changes: z.array(changeSet) });
export const undone = z.object({ words: z.string() });
