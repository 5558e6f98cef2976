import * as z from 'zod';
import { instant } from './values';

export const changeTopic = z.enum([
  'quote',
  'invoice',
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
  'appointment',
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
  'quota',
  'home',
  'talk',
  'hook',
  'rule',
]);

export type ChangeTopic = z.infer<typeof changeTopic>;

/** One thing that changed, told at once to those it concerns: owners and teams, whoever did it, and everybody where it is nobody's own. */
export const changeNotice = z.object({
  topic: changeTopic,
  /** The record, and the contacts, companies and deals it is about. */
  ids: z.array(z.uuid()),
});

export type ChangeNotice = z.infer<typeof changeNotice>;

/** What changed of others' in the last seconds, told together: by topic the records, or null where they are too many to name. */
export const othersNotice = z.partialRecord(changeTopic, z.array(z.uuid()).nullable());

export type OthersNotice = z.infer<typeof othersNotice>;

/** What has no owner and is everybody's: settings, pipelines, texts, and who there is. */
export const everybodysTopics: readonly ChangeTopic[] = [
  ...(['pipeline', 'form', 'cadence', 'setting', 'user', 'template', 'view', 'job', 'hook', 'rule'] as const),
];

/** Where a stream of changes goes on: the last change that is already known. */
/** Where a new page goes on: the newest change, and when it was known by the database's clock. */
export const changesAfter = z.object({ after: z.uuid().optional(), knownAt: instant.optional() });
