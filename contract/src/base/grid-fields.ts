import { contactPlain, dealPlain } from './catalogues';
import type { Catalogue, GridKeyOf, PlainFields } from './plain-fields';

/** What a field holds decides which questions a filter can ask of it. */
export type GridFieldType =
  | 'text'
  | 'choice'
  | 'user'
  | 'standing'
  | 'stage'
  | 'pipeline'
  | 'tags'
  | 'competitor'
  | 'date'
  | 'instant'
  | 'number'
  | 'money'
  | 'yes-no'
  | 'person'
  | 'link';

export interface GridField {
  readonly name: string;
  readonly type: GridFieldType;
  readonly choices?: readonly string[];
  /** The field a change of its cell writes; fields without one are computed. */
  readonly cell?: string;
  readonly canSort?: boolean;
  readonly canGroup?: boolean;
}

/** The fields of a catalogue as the grid has them. */
const inGrid = <Fields extends PlainFields>(catalogue: Catalogue<Fields>, { withCells = false } = {}) =>
  Object.fromEntries(
    catalogue.keys.flatMap((key) => {
      const { grid, name, type, choices, canGroup } = catalogue.of(key);
      const field: GridField = {
        name,
        type: type === 'notes' ? 'text' : type,
        canSort: true,
        ...(withCells && { cell: key }),
        ...(choices && { choices }),
        ...(canGroup && { canGroup }),
      };
      return grid === undefined ? [] : [[grid, field]];
    }),
  ) as Readonly<Record<GridKeyOf<Fields>, GridField>>;

/** Built-in fields of the grid of contacts, in the order a new view shows them; custom ones are `custom:<id>`. */
export const gridFields = {
  name: { name: 'name', type: 'text', canSort: true },
  company: { name: 'company', type: 'text', cell: 'companyName', canSort: true, canGroup: true },
  'last-touch': { name: 'last touch', type: 'instant', canSort: true },
  'next-step': { name: 'next step', type: 'date', canSort: true },
  'check-in': { name: 'check-in', type: 'date', canSort: true },
  standing: { name: 'standing', type: 'standing', cell: 'standingId', canSort: true, canGroup: true },
  owner: { name: 'owner', type: 'user', cell: 'ownerId', canSort: true, canGroup: true },
  email: { name: 'e-mail', type: 'text', cell: 'email', canSort: true },
  phone: { name: 'phone', type: 'text', cell: 'phone', canSort: true },
  country: { name: 'country', type: 'text', cell: 'country', canSort: true, canGroup: true },
  zone: { name: 'time zone', type: 'text', cell: 'zone', canSort: true, canGroup: true },
  ...inGrid(contactPlain, { withCells: true }),
  tags: { name: 'tags', type: 'tags', cell: 'tags' },
  category: {
    name: 'category',
    type: 'choice',
    cell: 'category',
    canSort: true,
    canGroup: true,
    choices: ['person', 'organisation'],
  },
  'last-conversation': { name: 'last conversation', type: 'instant', canSort: true },
  created: { name: 'added', type: 'instant', canSort: true },
} as const satisfies Record<string, GridField>;

export type GridFieldKey = keyof typeof gridFields;

/** Built-in fields of the list of deals, in the order a new view shows them. */
export const dealGridFields = {
  name: { name: 'name', type: 'text', canSort: true },
  'next-step': { name: 'next step', type: 'date', canSort: true },
  close: { name: 'expected close', type: 'date', canSort: true },
  value: { name: 'value', type: 'money', canSort: true },
  probability: { name: 'probability (0 to 1)', type: 'number', canSort: true },
  stage: { name: 'stage', type: 'stage', canSort: true, canGroup: true },
  pipeline: { name: 'pipeline', type: 'pipeline', canGroup: true },
  owner: { name: 'owner', type: 'user', canSort: true, canGroup: true },
  company: { name: 'company', type: 'text', canSort: true, canGroup: true },
  contact: { name: 'person', type: 'text', canSort: true },
  ...inGrid(dealPlain),
  'last-touch': { name: 'last touch', type: 'instant', canSort: true },
  'stage-since': { name: 'in its stage since', type: 'instant', canSort: true },
  competitor: { name: 'competitor', type: 'competitor' },
  created: { name: 'made', type: 'instant', canSort: true },
  closed: { name: 'closed', type: 'date', canSort: true },
  reason: { name: 'reason', type: 'text', canSort: true, canGroup: true },
} as const satisfies Record<string, GridField>;

export type DealGridFieldKey = keyof typeof dealGridFields;

/** Questions by what a field holds, in words a person reads. Days count from the reader's today. */
export const questions = {
  text: { has: 'contains', is: 'is', 'is-not': 'is not', empty: 'is empty', filled: 'is filled' },
  choice: { is: 'is', 'is-not': 'is not', empty: 'is empty', filled: 'is filled' },
  date: {
    before: 'is before',
    after: 'is after',
    'within-past': 'lies within the past (days)',
    'not-within-past': 'does not lie within the past (days)',
    'within-next': 'lies within the next (days)',
    empty: 'is empty',
    filled: 'is filled',
  },
  number: { is: 'is', more: 'is more than', less: 'is less than', empty: 'is empty', filled: 'is filled' },
  'yes-no': { yes: 'is yes', no: 'is not yes' },
} as const;

export type QuestionKind = keyof typeof questions;

export function questionKindOf(type: GridFieldType): QuestionKind {
  switch (type) {
    case 'text':
    case 'link':
      return 'text';
    case 'date':
    case 'instant':
      return 'date';
    case 'number':
    case 'money':
      return 'number';
    case 'yes-no':
      return 'yes-no';
    default:
      return 'choice';
  }
}
