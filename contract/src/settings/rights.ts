import * as z from 'zod';
import { resolved } from '../base/values';
import { role } from '../base/words';

/** Who may read what, and who may do what with others' records. */
export const rightsSettings = z.object({
  version: z.int(),
  /** Whose records everybody may read: all, their team's, or their own alone; nobody's are everybody's. */
  reading: z.enum(['all', 'team', 'own']),
  /** Whose people an entry may be shared with: one's own, those of the deal's team too, or everybody's. */
  sharing: z.enum(['own', 'deal-team', 'all']),
  /** The least role that may take data out as a file. */
  exports: role,
  /** The least role whose changes of templates, snippets and cadences that send by themselves hold at once. */
  releases: role,
});

export type RightsSettings = z.infer<typeof rightsSettings>;

export const changeRightsSettings = rightsSettings.extend({ resolved });
