import { contactPlain } from '../base/catalogues';
import { countedFields } from '../base/counted';
import { gridOf, inGrid } from '../base/grid-fields';
import type { ContactRow } from '../contacts';

/** Built-in fields of the list of contacts, in the order a new view shows them. */
export const gridFields = gridOf<ContactRow>()({
  name: {
    name: $localize`name`,
    type: 'text',
    canSort: true,
    width: 210,
    of: (row) => row.name,
    // Which word of a name is the family's, no file can tell afterwards.
    parts: [
      { name: $localize`given name`, of: (row) => row.givenName },
      { name: $localize`family name`, of: (row) => row.familyName },
    ],
  },
  company: {
    name: $localize`company`,
    type: 'text',
    cell: 'companyName',
    canSort: true,
    canGroup: true,
    width: 170,
    of: (row) => row.companyName,
  },
  'last-touch': {
    name: $localize`last touch`,
    type: 'instant',
    canSort: true,
    of: (row) => row.tether.lastTouchAt,
  },
  'next-step': {
    name: $localize`next step`,
    type: 'date',
    canSort: true,
    width: 110,
    of: (row) => row.tether.nextStepOn,
  },
  'check-in': {
    name: $localize`check-in`,
    type: 'date',
    canSort: true,
    width: 110,
    of: (row) => row.checkInDueOn,
  },
  standing: {
    name: $localize`standing`,
    type: 'standing',
    cell: 'standingId',
    canSort: true,
    canGroup: true,
    width: 120,
    of: (row) => row.standingId,
  },
  owner: {
    name: $localize`owner`,
    type: 'user',
    cell: 'ownerId',
    canSort: true,
    canGroup: true,
    width: 120,
    of: (row) => row.ownerName,
  },
  email: {
    name: $localize`e-mail`,
    type: 'text',
    cell: 'email',
    canSort: true,
    width: 200,
    of: (row) => row.email,
  },
  phone: { name: $localize`phone`, type: 'text', cell: 'phone', canSort: true, of: (row) => row.phone },
  country: {
    name: $localize`country`,
    type: 'text',
    cell: 'country',
    canSort: true,
    canGroup: true,
    width: 76,
    of: (row) => row.country,
  },
  zone: {
    name: $localize`time zone`,
    type: 'text',
    cell: 'zone',
    canSort: true,
    canGroup: true,
    of: (row) => row.zone,
  },
  ...inGrid<typeof contactPlain.fields, ContactRow>(contactPlain, { withCells: true }),
  tags: { name: $localize`tags`, type: 'tags', cell: 'tags', width: 140, of: (row) => row.tags },
  category: {
    name: $localize`category`,
    type: 'choice',
    cell: 'category',
    canSort: true,
    canGroup: true,
    choices: ['person', 'organisation'],
    width: 100,
    of: (row) => row.category,
  },
  'last-conversation': {
    name: $localize`last conversation`,
    type: 'instant',
    canSort: true,
    of: (row) => row.lastConversationAt,
  },
  created: { name: $localize`added`, type: 'instant', canSort: true, of: (row) => row.createdAt },
  'check-in-days': {
    name: $localize`own check-in interval`,
    type: 'number',
    cell: 'checkInDays',
    canSort: true,
    canGroup: true,
    width: 110,
    of: (row) => row.checkInDays,
  },
  ...countedFields<'contact', ContactRow>('contact'),
});

export type GridFieldKey = keyof typeof gridFields;
