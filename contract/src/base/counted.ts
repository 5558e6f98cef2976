import type { GridFieldOf } from './grid-fields';

/** What happens with somebody and is counted by itself, for each contact, company and deal. */
export const measures = ['mail-in', 'mail-out', 'call', 'text', 'meeting', 'conversation', 'note'] as const;
export type Measure = (typeof measures)[number];

/** Records that it is counted for. */
export type Counted = 'contact' | 'company' | 'deal';

/** What is counted of somebody, by the key of its field: a number, money in minor units of the organisation's currency, or a moment. */
export type CountedValues = Readonly<Record<string, number | string | null>>;

interface WithCounted {
  readonly counted?: CountedValues | undefined;
}

/** What each is called, where it was last asked of, and when it was first or last. */
export const measureNames: Readonly<
  Record<
    Measure,
    { readonly many: string; readonly first: string; readonly last: string; readonly days: string }
  >
> = {
  'mail-in': {
    many: $localize`mails in`,
    first: $localize`first mail in`,
    last: $localize`last mail in`,
    days: $localize`days since a mail in`,
  },
  'mail-out': {
    many: $localize`mails out`,
    first: $localize`first mail out`,
    last: $localize`last mail out`,
    days: $localize`days since a mail out`,
  },
  call: {
    many: $localize`calls`,
    first: $localize`first call`,
    last: $localize`last call`,
    days: $localize`days since a call`,
  },
  text: {
    many: $localize`texts`,
    first: $localize`first text`,
    last: $localize`last text`,
    days: $localize`days since a text`,
  },
  meeting: {
    many: $localize`meetings held`,
    first: $localize`first meeting held`,
    last: $localize`last meeting held`,
    days: $localize`days since a meeting`,
  },
  conversation: {
    many: $localize`conversations`,
    first: $localize`first conversation`,
    last: $localize`latest conversation`,
    days: $localize`days since a conversation`,
  },
  note: {
    many: $localize`notes`,
    first: $localize`first note`,
    last: $localize`last note`,
    days: $localize`days since a note`,
  },
};

type Part = 'many' | 'first' | 'last' | 'days';
type OfWork = 'open-tasks' | 'late-tasks';
/** Deals and agreements of a contact or a company. */
type OfBusiness =
  | `deals-${'open' | 'won' | 'lost'}`
  | `deals-${'open' | 'won' | 'lost'}-value`
  | 'agreements'
  | 'yearly-value';

/** What the list of companies has had all along. */
type KnownOfCompany = 'deals-open' | 'deals-open-value';

/** Keys of the fields of what is counted, as lists know them. */
export type CountedKey<Of extends Counted> =
  | `${Measure}-${Part}`
  | 'mails'
  | 'contacted'
  | OfWork
  | (Of extends 'contact' ? OfBusiness : Of extends 'company' ? Exclude<OfBusiness, KnownOfCompany> : never);

const partTypes = { many: 'number', first: 'instant', last: 'instant', days: 'number' } as const;

const ofWork: Readonly<Record<OfWork, string>> = {
  'open-tasks': $localize`open tasks`,
  'late-tasks': $localize`late tasks`,
};

const ofBusiness: Readonly<Record<OfBusiness, string>> = {
  'deals-open': $localize`deals open`,
  'deals-open-value': $localize`value of open deals`,
  'deals-won': $localize`deals won`,
  'deals-won-value': $localize`value of won deals`,
  'deals-lost': $localize`deals lost`,
  'deals-lost-value': $localize`value of lost deals`,
  agreements: $localize`agreements`,
  'yearly-value': $localize`yearly value of agreements`,
};

/** What counts as contact until a filter says otherwise. */
export const usualContact: readonly Measure[] = measures.filter((measure) => measure !== 'note');

/** The fields of what is counted, for the list of a kind of record. */
export function countedFields<Of extends Counted, Row extends WithCounted>(
  of: Of,
): Readonly<Record<CountedKey<Of>, GridFieldOf<Row>>> {
  const fields: Record<string, GridFieldOf<Row>> = {};
  const add = (key: string, name: string, type: GridFieldOf<Row>['type']) => {
    fields[key] = {
      ...{ name, type, canSort: true, isCounted: true },
      // As wide as its head: a figure is short.
      width: Math.max(type === 'instant' ? 130 : 90, 24 + name.length * 7),
      of: (row) => row.counted?.[key] ?? null,
    };
  };
  fields.contacted = {
    ...{ name: $localize`contacted`, type: 'contacted', isCounted: true, isOnlyAsked: true },
    of: () => null,
  };
  add('mails', $localize`mails`, 'number');
  for (const measure of measures)
    for (const part of ['many', 'first', 'last', 'days'] as const)
      add(`${measure}-${part}`, measureNames[measure][part], partTypes[part]);
  for (const [key, name] of Object.entries(ofWork)) add(key, name, 'number');
  if (of !== 'deal')
    for (const [key, name] of Object.entries(ofBusiness).filter(
      ([key]) => of === 'contact' || !/^deals-open/.test(key),
    ))
      add(key, name, key.endsWith('value') ? 'money' : 'number');
  return fields as Readonly<Record<CountedKey<Of>, GridFieldOf<Row>>>;
}
