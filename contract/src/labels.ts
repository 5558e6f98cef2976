import { ofChannels } from './base/channels';
import { contactPlainLabel } from './base/catalogues';
import type { DealRole } from './deals/schemas';
import type { MergeField } from './duplicates/schemas';
import type { ImportField, importFields } from './imports/schemas';
import type { CellField } from './contacts/schemas';
import type { DealFact } from './pipelines/schemas';
import type { Channel, JournalKind } from './base/words';

/** Names for people to read, free of schemas so that the browser carries them cheaply. */
export const channelLabel: Record<Channel, string> = ofChannels(({ label }) => label);

export const importFieldLabel: Record<Extract<ImportField, (typeof importFields)[number]>, string> = {
  ignore: 'leave out',
  givenName: 'given name',
  familyName: 'family name',
  fullName: 'full name',
  company: 'company',
  email: 'e-mail',
  phone: 'phone',
  country: 'country',
  city: 'town',
  street: 'street',
  postcode: 'postcode',
  website: 'website',
  standing: 'standing',
  ...contactPlainLabel,
  tags: 'tags',
  owner: 'owner',
  note: 'note',
};

export const journalKindLabel: Record<JournalKind, string> = {
  ...channelLabel,
  note: 'Note',
  system: 'Changes',
};

/** Names of what a cell holds, for the journal, bulk changes and merges. */
export const cellLabel: Record<Exclude<CellField, `custom:${string}`>, string> = {
  givenName: 'given name',
  familyName: 'family name',
  companyName: 'company',
  email: 'e-mail',
  phone: 'phone',
  country: 'country',
  zone: 'time zone',
  standingId: 'standing',
  checkInDays: 'own check-in',
  ownerId: 'owner',
  ...contactPlainLabel,
  category: 'category',
  tags: 'tags',
};

export const mergeFieldLabel: Record<MergeField, string> = {
  category: 'category',
  givenName: 'given name',
  familyName: 'family name',
  company: 'company',
  email: 'e-mail',
  phone: 'phone',
  country: 'country and zone',
  standing: 'standing',
  checkIn: 'own check-in',
  owner: 'owner',
  ...contactPlainLabel,
};

export { leadStatusLabel } from './leads/status-label';

export const dealRoleLabel: Record<DealRole, string> = {
  decides: 'decides',
  signs: 'signs',
  uses: 'uses',
  advises: 'advises',
};

/** What a stage may ask for; custom fields go by their own names. */
export const dealFactLabel: Record<Exclude<DealFact, `custom:${string}`>, string> = {
  amount: 'a value',
  lines: 'product lines',
  close: 'an expected close',
  decision: 'a decision date',
  decider: 'who decides',
  signer: 'who signs',
  competitor: 'a competitor',
};
