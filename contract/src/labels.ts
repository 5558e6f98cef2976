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
  ignore: $localize`leave out`,
  givenName: $localize`given name`,
  familyName: $localize`family name`,
  fullName: $localize`full name`,
  company: $localize`company`,
  email: $localize`e-mail`,
  phone: $localize`phone`,
  country: $localize`country`,
  zone: $localize`time zone`,
  city: $localize`town`,
  street: $localize`street`,
  postcode: $localize`postcode`,
  website: $localize`website`,
  standing: $localize`standing`,
  ...contactPlainLabel,
  tags: $localize`tags`,
  owner: $localize`owner`,
  category: $localize`category`,
  checkInDays: $localize`own check-in interval`,
  note: $localize`note`,
};

export const journalKindLabel: Record<JournalKind, string> = {
  ...channelLabel,
  note: $localize`Note`,
  system: $localize`Changes`,
};

/** Names of what a cell holds, for the journal, bulk changes and merges. */
export const cellLabel: Record<Exclude<CellField, `custom:${string}`>, string> = {
  givenName: $localize`given name`,
  familyName: $localize`family name`,
  companyName: $localize`company`,
  email: $localize`e-mail`,
  phone: $localize`phone`,
  country: $localize`country`,
  zone: $localize`time zone`,
  standingId: $localize`standing`,
  checkInDays: $localize`own check-in`,
  ownerId: $localize`owner`,
  ...contactPlainLabel,
  category: $localize`category`,
  tags: $localize`tags`,
};

export const mergeFieldLabel: Record<MergeField, string> = {
  category: $localize`category`,
  givenName: $localize`given name`,
  familyName: $localize`family name`,
  company: $localize`company`,
  email: $localize`e-mail`,
  phone: $localize`phone`,
  country: $localize`country and zone`,
  standing: $localize`standing`,
  checkIn: $localize`own check-in`,
  owner: $localize`owner`,
  ...contactPlainLabel,
};

export { leadStatusLabel } from './leads/status-label';

export const dealRoleLabel: Record<DealRole, string> = {
  decides: $localize`decides`,
  signs: $localize`signs`,
  uses: $localize`uses`,
  advises: $localize`advises`,
};

/** What a stage may ask for; custom fields go by their own names. */
export const dealFactLabel: Record<Exclude<DealFact, `custom:${string}`>, string> = {
  amount: $localize`a value`,
  lines: $localize`product lines`,
  close: $localize`an expected close`,
  decision: $localize`a decision date`,
  decider: $localize`who decides`,
  signer: $localize`who signs`,
  competitor: $localize`a competitor`,
};
