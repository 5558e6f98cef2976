import * as z from 'zod';
import { channelNames, ofChannels } from './channels';

/** How a person is reached. */
export const channels = channelNames;

export const channel = z.enum(channels);

export type Channel = z.infer<typeof channel>;

const minutes = z
  .int($localize`must be a whole number of minutes`)
  .min(1, $localize`must be at least 1 minute`)
  .max(480, $localize`must be at most 480 minutes`);

/** How long each way of reaching somebody takes. */
export const minutesByChannel = z.object(ofChannels(() => minutes));

export const journalKinds = [...channels, 'note', 'system'] as const;

export const journalKind = z.enum(journalKinds);

export type JournalKind = z.infer<typeof journalKind>;

export const direction = z.enum(['out', 'in']);

export type Direction = z.infer<typeof direction>;

/** What a journal entry counts as: contact made by both sides, tried by one side, or neither. */
export const touchCount = z.enum(['conversation', 'attempt', 'none']);

export type TouchCount = z.infer<typeof touchCount>;

export const roles = ['rep', 'manager', 'admin'] as const;

export const role = z.enum(roles);

export type Role = z.infer<typeof role>;

export const standingGroup = z.enum(['prospect', 'customer', 'former']);

export type StandingGroup = z.infer<typeof standingGroup>;

/** The four states of a tether: next step overdue, due today, planned, none at all. */
export const tetherState = z.enum(['late', 'today', 'held', 'loose']);

export type TetherState = z.infer<typeof tetherState>;

/** What a contact is: somebody, or an organisation that is written to without a name. */
export const contactCategory = z.enum(['person', 'organisation']);

export type ContactCategory = z.infer<typeof contactCategory>;

export const warmth = z.enum(['hot', 'warm', 'cool']);

export type Warmth = z.infer<typeof warmth>;

export const customFieldType = z.enum([
  'text',
  'number',
  'money',
  'date',
  'choice',
  'yes-no',
  'link',
  'person',
]);

export type CustomFieldType = z.infer<typeof customFieldType>;
