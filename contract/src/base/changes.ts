import * as z from 'zod';

export const changeTopic = z.enum([
  'contact',
  'company',
  'journal',
  'task',
  'deal',
  'lead',
  'pipeline',
  'form',
  'agreement',
  'cadence',
  'run',
  'import',
  'meeting',
  'setting',
  'user',
  'notification',
  'bulk',
  'job',
  'view',
  'file',
  'mail',
  'stirring',
  'template',
  'call',
  'change',
]);

export type ChangeTopic = z.infer<typeof changeTopic>;

/** One thing that changed, as told to every open browser. */
export const changeNotice = z.object({
  topic: changeTopic,
  recordId: z.uuid(),
  byUserId: z.uuid().nullable(),
});

export type ChangeNotice = z.infer<typeof changeNotice>;

/** Where a stream of changes goes on: the last change that is already known. */
export const changesAfter = z.object({ after: z.uuid().optional() });
