import * as z from 'zod';
import { companyId, contactId, standingId, userId } from './ids';
import { countryCode, emailAddress, instant, line, notes, plainDate, version, zoneName } from './values';
import { channel, standingGroup, touchCount } from './words';

export const standing = z.object({
  id: standingId,
  name: z.string(),
  group: standingGroup,
  checkInDays: z.int().nullable(),
  position: z.int(),
});
export type Standing = z.infer<typeof standing>;

/** Last touch and next step of a person or deal: everything a tether draws. */
export const tetherFacts = z.object({
  lastTouchAt: instant.nullable(),
  lastTouchKind: z.string().nullable(),
  lastTouchCounts: touchCount.nullable(),
  nextStepOn: plainDate.nullable(),
  nextStepChannel: channel.nullable(),
});
export type TetherFacts = z.infer<typeof tetherFacts>;

export const contactRow = z.object({
  id: contactId,
  name: z.string(),
  jobTitle: z.string().nullable(),
  companyId: companyId.nullable(),
  companyName: z.string().nullable(),
  email: z.string().nullable(),
  phone: z.string().nullable(),
  country: z.string(),
  zone: z.string(),
  standingId,
  ownerId: userId.nullable(),
  ownerName: z.string().nullable(),
  tether: tetherFacts,
  checkInDueOn: plainDate.nullable(),
  version: z.int(),
});
export type ContactRow = z.infer<typeof contactRow>;

export const contactSort = z.enum(['name', 'company', 'last-touch', 'next-step', 'check-in']);
export type ContactSort = z.infer<typeof contactSort>;

export const listContacts = z.object({
  q: z.string().trim().max(100).default(''),
  sort: contactSort.default('name'),
  order: z.enum(['up', 'down']).default('up'),
  owner: z.enum(['mine', 'unowned', 'all']).default('all'),
  standing: standingId.optional(),
  quiet: z.enum(['yes']).optional(),
  /** The opaque place where the page before ended. */
  after: z.string().max(400).optional(),
  limit: z.coerce.number().int().min(1).max(200).default(100),
});
export type ListContacts = z.infer<typeof listContacts>;

export const contactPage = z.object({
  rows: z.array(contactRow),
  /** Records that match; counted up to `foundAtLeast` only when `foundIsExact` is false. */
  found: z.int(),
  foundIsExact: z.boolean(),
  /** All contacts the person may see, so that the list can say what its filter hides. */
  total: z.int(),
  after: z.string().nullable(),
});
export type ContactPage = z.infer<typeof contactPage>;

export const standingCount = z.object({ standing, due: z.int(), all: z.int() });
export type StandingCount = z.infer<typeof standingCount>;

export const companyRow = z.object({
  id: companyId,
  name: z.string(),
  trade: z.string().nullable(),
  city: z.string().nullable(),
  country: z.string(),
  ownerName: z.string().nullable(),
  people: z.int(),
  openDeals: z.int(),
  openValueMinor: z.int(),
  lastTouchAt: instant.nullable(),
  version: z.int(),
});
export type CompanyRow = z.infer<typeof companyRow>;

export const companyPage = z.object({ rows: z.array(companyRow), found: z.int(), total: z.int() });

const channelMarks = z.array(channel).max(6);

const contactFields = {
  givenName: z.string().trim().max(80),
  familyName: z.string().trim().max(80),
  jobTitle: z.string().trim().max(120).nullable(),
  companyName: z.string().trim().max(160).nullable(),
  email: emailAddress.nullable(),
  phone: z.string().trim().max(40).nullable(),
  country: countryCode,
  zone: zoneName.nullable(),
  standingId,
  checkInDays: z.int().min(1).max(730).nullable(),
  doNotContact: channelMarks,
};

const hasName = (contact: { givenName?: string | undefined; familyName?: string | undefined }) =>
  Boolean(contact.givenName || contact.familyName);
const nameNeeded = { message: 'a person needs a given or a family name', path: ['familyName'] };

export const createContact = z
  .object({
    ...contactFields,
    jobTitle: contactFields.jobTitle.default(null),
    companyName: contactFields.companyName.default(null),
    email: contactFields.email.default(null),
    phone: contactFields.phone.default(null),
    zone: contactFields.zone.default(null),
    standingId: standingId.optional(),
    checkInDays: contactFields.checkInDays.default(null),
    doNotContact: channelMarks.default([]),
  })
  .refine(hasName, nameNeeded);

export const changeContact = z.object({ version, ...contactFields }).refine(hasName, nameNeeded);

export const contact = contactRow.extend({
  givenName: z.string(),
  familyName: z.string(),
  checkInDays: z.int().nullable(),
  doNotContact: z.array(z.object({ channel, since: instant, origin: z.string() })),
  lastConversationAt: instant.nullable(),
  /** Unanswered tries since the last conversation, by channel. */
  attempts: z.array(z.object({ channel, tries: z.int() })),
  /** How often each channel was tried and answered, ever. */
  answers: z.array(z.object({ channel, tried: z.int(), answered: z.int() })),
  source: z.string().nullable(),
  about: notes,
});
export type Contact = z.infer<typeof contact>;

export const contactDraft = z.object({ name: line(160), companyName: z.string().trim().max(160).nullable() });

export type CreateContactBody = z.output<typeof createContact>;
