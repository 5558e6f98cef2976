import * as z from 'zod';
import { contactId, entryId } from '../base/ids';
import { instant, resolved, version } from '../base/values';

/** What is held of one person, and what would become of it. */
export const personalData = z.object({
  name: z.string(),
  version: z.int(),
  held: z.array(z.object({ table: z.string(), words: z.string(), count: z.int() })),
  /** What erasing leaves, and why it may. */
  kept: z.array(z.object({ words: z.string(), why: z.string() })),
  /** Notes about others in which the name stands: for somebody to read. At most 50. */
  mentions: z.array(
    z.object({
      entryId,
      contactId: contactId.nullable(),
      contactName: z.string(),
      at: instant,
      opening: z.string(),
    }),
  ),
});

export type PersonalData = z.infer<typeof personalData>;

export const exportPersonalData = z.object({
  as: z.enum(['json', 'readable']).default('json'),
});

/** The name is typed once more: nothing brings an erased person back. */
export const erasePerson = z.object({
  version,
  name: z
    .string()
    .trim()
    .min(1, $localize`must be typed`)
    .max(250),
});

export const erasedPerson = z.object({ words: z.string() });

const days = (least: number) => z.int().min(least).max(36_500).nullable();

/** After how many days what is no longer needed is deleted, by kind; null keeps it. */
export const retentionSettings = z.object({
  version: z.int(),
  letGoMail: days(7),
  rawMail: days(7),
  removed: days(30),
  unknownCalls: days(7),
  notifications: days(7),
  setAsideLeads: days(30),
  securityLog: days(30),
});

export type RetentionSettings = z.infer<typeof retentionSettings>;

export type RetentionKind = Exclude<keyof RetentionSettings, 'version'>;

export const changeRetentionSettings = retentionSettings.extend({ resolved });

/** One table, whose data lies in it, how long, and what erasing a person does with it. */
export const dataPlace = z.object({
  table: z.string(),
  words: z.string(),
  of: z.enum(['customers', 'colleagues', 'both', 'nobody']),
  /** How long it is kept, in words. */
  keptFor: z.string(),
  erasing: z.string(),
});

export type DataPlace = z.infer<typeof dataPlace>;

export const dataPlaces = z.object({ places: z.array(dataPlace) });
