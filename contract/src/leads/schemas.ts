import * as z from 'zod';
import { leadPlain } from '../base/catalogues';
import { companyId, contactId, customFieldId, dealId, formId, leadId, standingId, userId } from '../base/ids';
import { gridCount, gridFilter, gridPage, grouping } from '../base/grid';
import { newPlainShape, plainShape } from '../base/plain-shape';
import { countryCode, instant, line, plainDate, resolved, version } from '../base/values';
import { tetherState, warmth } from '../base/words';
import { createContact, customValue, tag, tetherFacts } from '../contacts';
import { dealFields, dealRow } from '../deals';
import { similarContact } from '../duplicates';
import { nextStep } from '../journal';

/** Where a lead stands. The first three follow from what happens; the last two are decided. */
export const leadStatuses = ['untried', 'trying', 'in-talks', 'qualified', 'set-aside'] as const;

export const leadStatus = z.enum(leadStatuses);

export type LeadStatus = z.infer<typeof leadStatus>;

const plain = plainShape(leadPlain);

const tags = z.array(tag).max(30);
const custom = z.record(customFieldId, customValue);

export const leadRow = z.object({
  id: leadId,
  contactId,
  contactName: z.string(),
  jobTitle: z.string().nullable(),
  companyId: companyId.nullable(),
  companyName: z.string().nullable(),
  email: z.string().nullable(),
  phone: z.string().nullable(),
  zone: z.string(),
  ownerId: userId.nullable(),
  ownerName: z.string().nullable(),
  status: leadStatus,
  warmth: plain.warmth,
  /** What they want, in a line. */
  subject: plain.subject,
  source: plain.source,
  campaign: plain.campaign,
  followUpOn: plain.followUpOn,
  tags: z.array(z.string()),
  custom: z.record(z.string(), customValue),
  wakeOn: plainDate.nullable(),
  asideReason: z.string().nullable(),
  archivedAt: instant.nullable(),
  dealId: dealId.nullable(),
  tether: tetherFacts,
  tetherState,
  createdAt: instant,
  version: z.int(),
});

export type LeadRow = z.infer<typeof leadRow>;

export const lead = leadRow.extend({
  ...plain,
  /** The consent a web form asked for, word for word, and when it was given. */
  consent: z
    .object({
      words: z.string(),
      at: instant,
      /** The form asks for it to be confirmed by mail; until then nothing is sent to them by itself. */
      mustBeConfirmed: z.boolean(),
      confirmedAt: instant.nullable(),
    })
    .nullable(),
  formName: z.string().nullable(),
  statusSince: instant,
  deal: dealRow.nullable(),
  /** Whether its qualifying can still be undone. */
  canUnqualify: z.boolean(),
});

export type Lead = z.infer<typeof lead>;

/** Which leads a list or a count is about. */
export const leadQuery = z.object({
  owner: z.enum(['mine', 'unowned', 'all']).default('mine'),
  status: leadStatus.optional(),
  source: z.string().max(160).optional(),
  campaign: z.string().max(160).optional(),
  warmth: warmth.optional(),
  archived: z.enum(['yes']).optional(),
  contactId: contactId.optional(),
  companyId: companyId.optional(),
  q: z.string().trim().max(100).default(''),
  filter: gridFilter.optional(),
});

export type LeadQuery = z.output<typeof leadQuery>;

export const listLeads = leadQuery.extend({
  /** Left out, by status and then the newest. */
  ...gridPage,
  limit: z.coerce.number().int().min(1).max(500).default(200),
});

export const leadPage = z.object({ rows: z.array(leadRow) });

export const countLeads = leadQuery.extend({ group: grouping.optional() });

export const leadCount = gridCount.extend({
  /** By status, of the owner that was asked for: what is live, or was decided and is not archived. */
  counts: z.array(z.object({ status: leadStatus, count: z.int(), due: z.int() })),
  sources: z.array(z.string()),
  campaigns: z.array(z.string()),
});

export type LeadCount = z.infer<typeof leadCount>;

export const dropOffQuery = z
  .object({
    /** Leads that began between these days, both included. */
    from: plainDate,
    to: plainDate,
    owner: z.enum(['mine', 'all']).default('mine'),
  })
  .refine(({ from, to }) => from <= to, { message: $localize`must not lie after the end`, path: ['from'] });

const dropOffSteps = z.object({
  began: z.int(),
  /** Somebody tried to reach them since. */
  tried: z.int(),
  /** Both sides spoke since. */
  talked: z.int(),
  qualified: z.int(),
  aside: z.int(),
});

export type DropOffSteps = z.infer<typeof dropOffSteps>;

export const dropOff = z.object({
  total: dropOffSteps,
  /** Null: no source is known. */
  sources: z.array(dropOffSteps.extend({ source: z.string().nullable() })),
  /** Why they were set aside, with how many of them had been tried and spoken with. */
  reasons: z.array(
    z.object({ reason: z.string().nullable(), count: z.int(), tried: z.int(), talked: z.int() }),
  ),
});

export type DropOff = z.infer<typeof dropOff>;

/** A lead on somebody known, or on somebody new who is added with it. */
export const createLead = z
  .object({
    ...newPlainShape(leadPlain),
    tags: tags.default([]),
    custom: custom.optional(),
    contactId: contactId.nullable().default(null),
    person: createContact.optional(),
    /** Left out, the organisation's rule decides; null is the pool. */
    ownerId: userId.nullable().optional(),
  })
  .refine((asked) => (asked.contactId === null) !== (asked.person === undefined), {
    message: $localize`choose somebody known, or say who is new`,
    path: ['contactId'],
  });

export type CreateLead = z.output<typeof createLead>;

export const changeLead = z.object({
  version,
  resolved,
  // What is left out stays as it is.
  ...z.object(plain).partial().shape,
  tags: tags.optional(),
  custom: custom.optional(),
  /** By hand; left out, it stays. Qualified comes by qualifying alone. */
  status: z.enum(['untried', 'trying', 'in-talks']).optional(),
  ownerId: userId.nullable().optional(),
});

export type ChangeLead = z.output<typeof changeLead>;

export const setLeadAside = z.object({
  reason: line(300),
  /** The day it comes back into the Round, if ever. */
  wakeOn: plainDate.nullable().default(null),
});

export const reviveLead = z.object({ status: z.enum(['untried', 'trying', 'in-talks']) });

/** What qualifying needs to know before anything is written. */
export const qualifyPlan = z.object({
  lead,
  /** Others who are likely the same person, strongest first. */
  people: z.array(similarContact),
  companies: z.array(
    z.object({ id: companyId, name: z.string(), city: z.string().nullable(), why: z.string() }),
  ),
  /** Deals that are open with the person or the company. */
  deals: z.array(dealRow),
  /** What comes along: counted. */
  brings: z.object({
    ...{ entries: z.int(), tasks: z.int(), runs: z.int(), files: z.int() },
    /** Names of its own fields that the deal, or else the person, takes over: those that have a field of that name and type. */
    fields: z.array(z.string()),
  }),
});

export type QualifyPlan = z.infer<typeof qualifyPlan>;

export const qualifyLead = z.object({
  version,
  /** The person it is: the lead's own, or somebody known with whom it is made one. */
  person: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('same') }),
    z.object({ kind: z.literal('merge'), contactId, version }),
  ]),
  /** The company it is for; none for somebody who buys for themselves. */
  company: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('none') }),
    z.object({ kind: z.literal('known'), companyId }),
    z.object({ kind: z.literal('new'), name: line(160), city: z.string().trim().max(160).nullable() }),
  ]),
  standingId: standingId.nullable().default(null),
  deal: z.object({ ...dealFields, next: nextStep }),
});

export type QualifyLead = z.output<typeof qualifyLead>;

const simpleRule = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('pool') }),
  z.object({
    kind: z.literal('in-turn'),
    userIds: z
      .array(userId)
      .min(1, $localize`choose at least one`)
      .max(100),
  }),
  z.object({
    kind: z.literal('load'),
    userIds: z
      .array(userId)
      .min(1, $localize`choose at least one`)
      .max(100),
  }),
]);

/** Who gets a new lead. */
export const ownerRule = z.discriminatedUnion('kind', [
  ...simpleRule.options,
  z.object({
    kind: z.literal('region'),
    regions: z
      .array(
        z.object({
          country: countryCode,
          /** Beginnings of postcodes, or towns; none is the whole country. */
          places: z.array(line(40)).max(60),
          userId,
        }),
      )
      .min(1, $localize`name at least one region`)
      .max(100),
    otherwise: simpleRule,
  }),
]);

export type OwnerRule = z.infer<typeof ownerRule>;

export const leadSettings = z.object({ version: z.int(), ownerRule });

export type LeadSettings = z.infer<typeof leadSettings>;

export const changeLeadSettings = leadSettings.extend({ resolved });

/** A web form that strangers fill in; whoever has its key may. */
export const webForm = z.object({
  id: formId,
  key: z.string(),
  name: z.string(),
  title: z.string(),
  asksPhone: z.boolean(),
  asksCompany: z.boolean(),
  asksPostcode: z.boolean(),
  consentWords: z.string(),
  confirmsConsent: z.boolean(),
  thanks: z.string(),
  source: z.string(),
  campaign: z.string().nullable(),
  isOpen: z.boolean(),
  /** Where the page that holds it may stand: origins, none for anywhere. */
  origins: z.array(z.string()),
  leads: z.int(),
  trapped: z.int(),
  /** Address of the page itself. */
  address: z.string(),
  version: z.int(),
});

export type WebForm = z.infer<typeof webForm>;

export const webFormList = z.object({ forms: z.array(webForm) });

const originText = z
  .string()
  .trim()
  .regex(/^https?:\/\/[^/\s;,'"]+$/, $localize`must be an origin such as https://www.firm.example`);

const formFields = {
  name: line(80),
  title: line(120),
  asksPhone: z.boolean(),
  asksCompany: z.boolean(),
  asksPostcode: z.boolean(),
  consentWords: line(600),
  /** The consent counts once it is confirmed by a link in a mail. */
  confirmsConsent: z.boolean().default(false),
  thanks: line(300),
  source: line(160),
  campaign: z.string().trim().max(160).nullable(),
  isOpen: z.boolean(),
  origins: z.array(originText).max(20),
};

export const createWebForm = z.object(formFields);

export const changeWebForm = z.object({ version, resolved, ...formFields });
