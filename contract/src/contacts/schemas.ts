import * as z from 'zod';
import { countedValues } from '../base/counted-values';
import { gridFilter, gridPage, grouping } from '../base/grid';
import { companyId, contactId, customFieldId, siteId, standingId, userId } from '../base/ids';
import {
  countryCode,
  emailAddress,
  instant,
  line,
  notes,
  plainDate,
  resolved,
  version,
  zoneName,
} from '../base/values';
import { contactPlain } from '../base/catalogues';
import { plainShape } from '../base/plain-shape';
import { channel, contactCategory, standingGroup, touchCount } from '../base/words';

export const standing = z.object({
  id: standingId,
  name: z.string(),
  group: standingGroup,
  checkInDays: z.int().nullable(),
  position: z.int(),
  isDefault: z.boolean(),
});

export type Standing = z.infer<typeof standing>;

/** Last touch and next step of a person or deal: everything a tether draws. */
export const tetherFacts = z.object({
  lastTouchAt: instant.nullable(),
  lastTouchKind: z.string().nullable(),
  lastTouchCounts: touchCount.nullable(),
  nextStepOn: plainDate.nullable(),
  nextStepChannel: channel.nullable(),
  /** Where the step was promised for a time. */
  nextStepAt: instant.nullable(),
});

export type TetherFacts = z.infer<typeof tetherFacts>;

/** A custom field's value as JSON carries it; null is empty. */
export const customValue = z.union([z.string().max(500), z.number(), z.boolean(), z.null()]);

export type CustomValue = z.infer<typeof customValue>;

export const contactRow = z.object({
  id: contactId,
  name: z.string(),
  givenName: z.string(),
  familyName: z.string(),
  companyId: companyId.nullable(),
  companyName: z.string().nullable(),
  email: z.string().nullable(),
  phone: z.string().nullable(),
  country: z.string(),
  zone: z.string(),
  standingId,
  ownerId: userId.nullable(),
  ownerName: z.string().nullable(),
  category: contactCategory,
  ...plainShape(contactPlain),
  tags: z.array(z.string()),
  lastConversationAt: instant.nullable(),
  createdAt: instant,
  archivedAt: instant.nullable(),
  /** Values of custom fields by field id; money in minor units, a person as their contact id. */
  custom: z.record(z.string(), customValue),
  tether: tetherFacts,
  checkInDueOn: plainDate.nullable(),
  /** Their own check-in interval, which goes before the standing's. */
  checkInDays: z.int().nullable(),
  counted: countedValues.optional(),
  version: z.int(),
});

export type ContactRow = z.infer<typeof contactRow>;

/** Which contacts a list, a count, a selection or an export is about. */
export const contactQuery = z.object({
  q: z.string().trim().max(100).default(''),
  owner: z.enum(['mine', 'unowned', 'all']).default('all'),
  standing: standingId.optional(),
  quiet: z.enum(['yes']).optional(),
  /** The archived ones, and only those; left out, those that are not. */
  archived: z.enum(['yes']).optional(),
  filter: gridFilter.optional(),
});

export type ContactQuery = z.infer<typeof contactQuery>;

export const listContacts = contactQuery.extend({
  /** Left out, by name. */
  ...gridPage,
  limit: z.coerce.number().int().min(1).max(200).default(100),
});

export type ListContacts = z.infer<typeof listContacts>;

export const contactPage = z.object({ rows: z.array(contactRow) });

export type ContactPage = z.infer<typeof contactPage>;

/** How many match, how many there are: so that a list can say what its filter hides. */
export const countContacts = contactQuery.extend({ group: grouping.optional() });

export const standingCount = z.object({ standing, due: z.int(), all: z.int() });

export type StandingCount = z.infer<typeof standingCount>;

const channelMarks = z.array(channel).max(6);

export const otherPoint = z.object({
  kind: z.enum(['email', 'phone', 'link']),
  label: z.string().trim().max(40).nullable(),
  value: line(254),
});

export type OtherPoint = z.infer<typeof otherPoint>;

const otherCompany = z.object({ name: line(160), role: z.string().trim().max(120).nullable() });

/** A word of one's own to sort people and leads by; written small, so that one tag is one. */
export const tag = z
  .string()
  .trim()
  .toLowerCase()
  .min(1)
  .max(40)
  .regex(/^[^,;]*$/, $localize`must not contain a comma`);

/** How often somebody is to be looked after. */
export const checkInDays = z
  .int($localize`must be a whole number of days`)
  .min(1, $localize`must be at least one day`)
  .max(730, $localize`must be at most 730 days`);

const contactFields = {
  givenName: z.string().trim().max(80),
  familyName: z.string().trim().max(80),
  companyName: z.string().trim().max(160).nullable(),
  email: emailAddress.nullable(),
  phone: z.string().trim().max(40).nullable(),
  /** Null takes it from the site or the number. */
  country: countryCode.nullable(),
  /** Null takes the zone from the site, the number or the country. */
  zone: zoneName.nullable(),
  standingId,
  checkInDays: checkInDays.nullable(),
  doNotContact: channelMarks,
};

/** What a caller may leave out: on a change it stays as it is. */
const furtherFields = {
  category: contactCategory,
  /** Which company of that name is meant; left out, the one in the person's country, made where there is none. */
  companyId: companyId.nullable(),
  emailLabel: z.string().trim().max(40).nullable(),
  phoneLabel: z.string().trim().max(40).nullable(),
  otherPoints: z.array(otherPoint).max(30),
  otherCompanies: z.array(otherCompany).max(20),
  siteId: siteId.nullable(),
  ...plainShape(contactPlain),
  tags: z.array(tag).max(30),
  about: notes,
  custom: z.record(customFieldId, customValue),
};

interface Named {
  givenName?: string | undefined;
  familyName?: string | undefined;
  companyName?: string | null | undefined;
  category?: string | undefined;
}

const hasName = (contact: Named) =>
  Boolean(
    contact.givenName || contact.familyName || (contact.category === 'organisation' && contact.companyName),
  );

const nameNeeded = {
  message: $localize`a person needs a given or a family name, an organisation the name of its company`,
  path: ['familyName'],
};

export const createContact = z
  .object({
    ...contactFields,
    companyName: contactFields.companyName.default(null),
    email: contactFields.email.default(null),
    phone: contactFields.phone.default(null),
    country: contactFields.country.default(null),
    zone: contactFields.zone.default(null),
    standingId: standingId.optional(),
    checkInDays: contactFields.checkInDays.default(null),
    doNotContact: channelMarks.default([]),
    ...z.object(furtherFields).partial().shape,
  })
  .refine(hasName, nameNeeded);

export type CreateContactBody = z.output<typeof createContact>;

export const changeContact = z
  .object({ version, resolved, ...contactFields, ...z.object(furtherFields).partial().shape })
  .refine(hasName, nameNeeded);

export type ChangeContactBody = z.output<typeof changeContact>;

export const contact = contactRow.extend({
  /** Mail to the address came back for good. */
  emailUnusable: z.boolean(),
  emailLabel: z.string().nullable(),
  phoneLabel: z.string().nullable(),
  otherPoints: z.array(otherPoint),
  otherCompanies: z.array(z.object({ companyId, name: z.string(), role: z.string().nullable() })),
  siteId: siteId.nullable(),
  siteName: z.string().nullable(),
  zoneByHand: z.boolean(),
  doNotContact: z.array(z.object({ channel, since: instant, origin: z.string() })),
  /** Unanswered tries since the last conversation, by channel. */
  attempts: z.array(z.object({ channel, tries: z.int() })),
  /** How often each channel was tried and answered, ever. */
  answers: z.array(z.object({ channel, tried: z.int(), answered: z.int() })),
  about: notes,
});

export type Contact = z.infer<typeof contact>;

/** Fields that one cell of the grid, or a bulk change, writes. */
export const cellField = z.union([
  z.enum([
    'givenName',
    'familyName',
    'companyName',
    'email',
    'phone',
    'country',
    'zone',
    'standingId',
    'checkInDays',
    'ownerId',
    ...contactPlain.keys,
    'category',
    'tags',
  ]),
  z.templateLiteral(['custom:', z.uuid()]),
]);

export type CellField = z.infer<typeof cellField>;

export const cellValue = z.union([customValue, z.array(tag).max(30)]);

export type CellValue = z.infer<typeof cellValue>;

export const changeCell = z.object({ version, field: cellField, value: cellValue });

export const handOver = z.object({
  version,
  /** Null gives the contact back to the pool. */
  ownerId: userId.nullable(),
});

export const contactDraft = z.object({ name: line(160), companyName: z.string().trim().max(160).nullable() });
