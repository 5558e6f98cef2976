import { catalogueOf, type ColumnsOf, type GridKeyOf, type ValuesOf } from './plain-fields';

// The contract's schemas, rows, cells, grid, filter, forms, facts, merge, import, export and journal follow from these.

export const contactPlain = catalogueOf({
  jobTitle: {
    column: 'job_title',
    name: $localize`job title`,
    grid: 'job-title',
    type: 'text',
    most: 120,
    isOfPeople: true,
    importNames: ['job title', 'title', 'position', 'role', 'function', 'job'],
  },
  source: {
    column: 'source',
    name: $localize`source`,
    grid: 'source',
    type: 'text',
    most: 160,
    canGroup: true,
    importNames: ['source', 'lead source', 'origin'],
  },
  warmth: {
    column: 'warmth',
    name: $localize`warmth`,
    grid: 'warmth',
    type: 'choice',
    choices: ['hot', 'warm', 'cool'],
    canGroup: true,
    importNames: ['warmth', 'temperature', 'lead warmth'],
  },
});
export type ContactPlain = ValuesOf<typeof contactPlain.fields>;
export type ContactPlainColumns = ColumnsOf<typeof contactPlain.fields>;
export type ContactPlainKey = keyof ContactPlain;
/** As the grid calls them. */
export type ContactPlainGridKey = GridKeyOf<typeof contactPlain.fields>;
export const contactPlainLabel = contactPlain.each((_, field) => field.name);

export const companyPlain = catalogueOf({
  trade: { column: 'trade', name: $localize`trade`, type: 'text', most: 80 },
  website: { column: 'website', name: $localize`website`, type: 'text', most: 200 },
  about: { column: 'about', name: $localize`about`, type: 'notes', otherwise: '' },
});
export type CompanyPlain = ValuesOf<typeof companyPlain.fields>;
export type CompanyPlainColumns = ColumnsOf<typeof companyPlain.fields>;

export const dealPlain = catalogueOf({
  type: {
    column: 'type',
    name: $localize`type`,
    grid: 'type',
    type: 'choice',
    choices: ['new', 'more', 'renewal'],
    choiceNames: { new: $localize`new business`, more: $localize`more for a customer` },
    otherwise: 'new',
    canGroup: true,
  },
  priority: {
    column: 'priority',
    name: $localize`priority`,
    grid: 'priority',
    type: 'choice',
    choices: ['high', 'usual', 'low'],
    otherwise: 'usual',
    canGroup: true,
  },
  decisionOn: { column: 'decision_on', name: $localize`decision`, grid: 'decision', type: 'date' },
  source: {
    column: 'source',
    name: $localize`source`,
    grid: 'source',
    type: 'text',
    most: 160,
    canGroup: true,
  },
});
export type DealPlain = ValuesOf<typeof dealPlain.fields>;
export type DealPlainColumns = ColumnsOf<typeof dealPlain.fields>;

export const leadPlain = catalogueOf({
  subject: { column: 'subject', name: $localize`what they want`, type: 'text', most: 160, isRequired: true },
  about: { column: 'about', name: $localize`more about it`, type: 'notes', otherwise: '' },
  warmth: { column: 'warmth', name: $localize`warmth`, type: 'choice', choices: ['hot', 'warm', 'cool'] },
  followUpOn: { column: 'follow_up_on', name: $localize`follow-up`, type: 'date' },
  source: { column: 'source', name: $localize`source`, type: 'text', most: 160 },
  campaign: { column: 'campaign', name: $localize`campaign`, type: 'text', most: 160 },
  link: { column: 'link', name: $localize`address of an outside discussion`, type: 'link', most: 500 },
});
export type LeadPlain = ValuesOf<typeof leadPlain.fields>;
export type LeadPlainColumns = ColumnsOf<typeof leadPlain.fields>;
