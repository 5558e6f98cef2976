import type { CustomField, CustomFieldType } from '@kettle/contract';
import { companyPlain, dealPlain, leadPlain } from '@kettle/contract/base/catalogues';
import { importKinds, type ImportKind, type RecordKind } from '@kettle/contract/imports/kinds';
import { nameKey } from '../duplicates';

export interface ColumnChoice {
  readonly value: string;
  /** What a file may call it, beside the value itself. */
  readonly names: readonly string[];
}

/** What a column of a file can hold. */
export interface ImportColumn {
  readonly key: string;
  readonly name: string;
  /** What columns of files are called that hold it, in lower case without punctuation. */
  readonly names: readonly string[];
  readonly type:
    | 'text'
    | 'date'
    | 'amount'
    | 'number'
    | 'choice'
    | 'yes-no'
    | 'list'
    | 'email'
    | 'link'
    | 'currency'
    | 'country';
  /** Without it a row is none. */
  readonly isNeeded?: boolean;
  /** Of a text, its longest; of a number, its largest. */
  readonly most?: number;
  readonly least?: number;
  readonly choices?: readonly ColumnChoice[];
  /** Tells files of its kind from others. */
  readonly isTelling?: boolean;
}

/** What a file can name that is there already: stages, colleagues, reasons, and fields that an admin defined. */
export interface ColumnChoices {
  readonly owners: readonly string[];
  readonly stages: readonly ColumnChoice[];
  readonly channels: readonly ColumnChoice[];
  readonly custom: readonly CustomField[];
}

const words = (values: readonly string[]): ColumnChoice[] => values.map((value) => ({ value, names: [] }));
const text = (key: string, name: string, names: readonly string[], most = 160): ImportColumn => ({
  ...{ key, name, names, most },
  type: 'text',
});
const date = (key: string, name: string, names: readonly string[]): ImportColumn => ({
  key,
  name,
  names,
  type: 'date',
});
const number = (
  key: string,
  name: string,
  names: readonly string[],
  least: number,
  most: number,
): ImportColumn => ({
  ...{ key, name, names, least, most },
  type: 'number',
});
const needed = (column: ImportColumn): ImportColumn => ({ ...column, isNeeded: true });
const telling = (column: ImportColumn): ImportColumn => ({ ...column, isTelling: true });

const owner = ({ owners }: ColumnChoices): ImportColumn => ({
  ...{ key: 'owner', name: $localize`owner`, type: 'choice', choices: words(owners) },
  names: [
    'owner',
    'assigned to',
    'rep',
    'sales rep',
    'account owner',
    'deal owner',
    'lead owner',
    'salesperson',
  ],
});

/** Whom a row is about: by address, by name and company, or by a company with one person. */
const whom: readonly ImportColumn[] = [
  {
    ...{ key: 'email', name: $localize`e-mail of the person`, type: 'email' },
    names: [
      'e mail',
      'email',
      'mail',
      'email address',
      'contact email',
      'person email',
      'primary email',
      'e mail adresse',
    ],
  },
  text('person', $localize`name of the person`, [
    ...[
      'person',
      'contact',
      'contact name',
      'full name',
      'contact person',
      'ansprechpartner',
      'kontakt',
      'contactpersoon',
    ],
  ]),
  text('company', $localize`company`, [
    ...[
      'company',
      'company name',
      'organisation',
      'organization',
      'firm',
      'account',
      'account name',
      'customer',
    ],
    ...['client', 'firma', 'kunde', 'bedrijf', 'entreprise', 'empresa', 'azienda'],
  ]),
];

const catalogueColumns = (
  catalogue: {
    readonly keys: readonly string[];
    of(key: never): {
      readonly name: string;
      readonly type: string;
      readonly most?: number;
      readonly choices?: readonly string[];
      readonly choiceNames?: Readonly<Record<string, string>>;
    };
  },
  names: Readonly<Record<string, readonly string[]>>,
): ImportColumn[] =>
  catalogue.keys.map((key): ImportColumn => {
    const { name, type, most, choices, choiceNames } = catalogue.of(key as never);
    const column = { key, name, names: [nameKey(name), ...(names[key] ?? [])] };
    if (choices !== undefined)
      return {
        ...column,
        type: 'choice',
        choices: choices.map((value) => ({
          value,
          names: choiceNames?.[value] === undefined ? [] : [choiceNames[value]],
        })),
      };
    if (type === 'date' || type === 'link') return { ...column, type };
    return { ...column, type: 'text', most: most ?? 20_000 };
  });

const customTypes: Readonly<Record<Exclude<CustomFieldType, 'person'>, ImportColumn['type']>> = {
  ...{ text: 'text', number: 'number', money: 'amount', date: 'date', choice: 'choice' },
  ...{ 'yes-no': 'yes-no', link: 'link' },
};

/** Fields that an admin defined, but for those that name a person. */
const own = (subject: CustomField['subject'], { custom }: ColumnChoices): ImportColumn[] =>
  custom.flatMap(({ id, subject: of, name, type, choices }): ImportColumn[] =>
    of !== subject || type === 'person'
      ? []
      : [
          {
            ...{ key: `custom:${id}`, name, names: [nameKey(name)], type: customTypes[type] },
            ...(type === 'text' && { most: 500 }),
            ...(type === 'number' && { least: -1e15, most: 1e15 }),
            ...(type === 'choice' && { choices: words(choices) }),
          },
        ],
  );

const kinds: Readonly<Record<RecordKind, (choices: ColumnChoices) => readonly ImportColumn[]>> = {
  companies: (choices) => [
    needed(
      text('name', $localize`name`, [
        'company',
        'company name',
        'name',
        'organisation',
        'organization',
        'firm',
        'account',
        'account name',
        'firma',
        'bedrijf',
      ]),
    ),
    ...catalogueColumns(companyPlain, {
      trade: ['industry', 'sector', 'branche', 'line of business'],
      website: ['web', 'url', 'homepage', 'web site', 'webseite'],
      about: ['notes', 'note', 'description', 'comment'],
    }),
    text('street', $localize`street`, [
      'street',
      'address',
      'address line 1',
      'strasse',
      'straat',
      'adresse',
    ]),
    text(
      'postcode',
      $localize`postcode`,
      ['postcode', 'post code', 'zip', 'zip code', 'postal code', 'plz'],
      20,
    ),
    text('city', $localize`town`, ['city', 'town', 'place', 'ort', 'stad', 'plaats', 'ville']),
    {
      key: 'country',
      name: $localize`country`,
      names: ['country', 'country code', 'land', 'pays', 'pais'],
      type: 'country',
    },
    ...own('company', choices),
  ],
  products: () => [
    needed(
      text('name', $localize`name`, [
        'product',
        'product name',
        'name',
        'item',
        'article',
        'artikel',
        'produkt',
        'description',
      ]),
    ),
    telling(
      needed({
        key: 'price',
        name: $localize`price`,
        names: ['price', 'unit price', 'list price', 'preis', 'prijs', 'prix', 'precio'],
        type: 'amount',
      }),
    ),
    {
      ...{
        key: 'billing',
        name: $localize`billed`,
        names: ['billing', 'billed', 'charged', 'recurring'],
        type: 'choice',
      },
      choices: [
        { value: 'once', names: ['one off', 'one time', 'single', 'no'] },
        { value: 'yearly', names: ['year', 'annual', 'annually', 'per year', 'a year', 'yes'] },
      ],
    },
    {
      key: 'isRetired',
      name: $localize`retired`,
      names: ['retired', 'discontinued', 'inactive'],
      type: 'yes-no',
    },
  ],
  leads: (choices) => [
    ...whom,
    text(
      'phone',
      $localize`phone of the person`,
      ['phone', 'telephone', 'mobile', 'phone number', 'telefon'],
      40,
    ),
    ...catalogueColumns(leadPlain, {
      subject: [
        'subject',
        'interest',
        'interested in',
        'enquiry',
        'inquiry',
        'request',
        'lead',
        'lead name',
        'title',
        'betreff',
      ],
      about: ['note', 'notes', 'message', 'description', 'comment', 'details'],
      warmth: ['temperature', 'rating'],
      followUpOn: ['follow up', 'follow up on', 'next contact', 'due'],
      source: ['lead source', 'origin'],
      link: ['link', 'url'],
    }).map((column) =>
      column.key === 'subject' ? needed(column) : column.key === 'campaign' ? telling(column) : column,
    ),
    { key: 'tags', name: $localize`tags`, names: ['tags', 'tag', 'labels', 'keywords'], type: 'list' },
    owner(choices),
    ...own('lead', choices),
  ],
  deals: (choices) => [
    needed(
      text('name', $localize`name`, [
        'deal',
        'deal name',
        'name',
        'opportunity',
        'title',
        'subject',
        'project',
      ]),
    ),
    ...whom,
    {
      key: 'amount',
      name: $localize`value`,
      names: [
        'value',
        'amount',
        'deal value',
        'deal size',
        'revenue',
        'total',
        'wert',
        'betrag',
        'waarde',
        'montant',
      ],
      type: 'amount',
    },
    {
      key: 'currency',
      name: $localize`currency`,
      names: ['currency', 'currency code', 'wahrung', 'valuta', 'devise'],
      type: 'currency',
    },
    telling({
      key: 'stage',
      name: $localize`stage`,
      names: ['stage', 'deal stage', 'phase', 'sales stage', 'step'],
      type: 'choice',
      choices: choices.stages,
    }),
    telling(
      date('expectedCloseOn', $localize`expected close`, [
        'close',
        'close date',
        'closing',
        'expected close',
        'expected close date',
        'closes on',
        'abschluss',
        'sluitdatum',
      ]),
    ),
    number(
      'winProbability',
      $localize`chance of winning, %`,
      ['probability', 'chance', 'win probability', 'likelihood', 'wahrscheinlichkeit'],
      0,
      100,
    ),
    ...catalogueColumns(dealPlain, {
      type: ['deal type', 'kind'],
      priority: ['importance'],
      decisionOn: ['decision', 'decision date', 'decides on'],
      source: ['lead source', 'origin'],
    }),
    {
      ...{
        key: 'status',
        name: $localize`open, won or lost`,
        names: ['status', 'state', 'result', 'outcome', 'won lost'],
        type: 'choice',
      },
      choices: [
        { value: 'open', names: ['in progress', 'offen', 'ongoing'] },
        { value: 'won', names: ['closed won', 'gewonnen', 'gagne', 'ganado'] },
        { value: 'lost', names: ['closed lost', 'verloren', 'perdu', 'perdido'] },
      ],
    },
    date('closedOn', $localize`closed on`, [
      'closed',
      'closed on',
      'closed at',
      'won on',
      'lost on',
      'actual close',
      'date closed',
    ]),
    {
      key: 'reason',
      name: $localize`reason`,
      names: ['reason', 'close reason', 'lost reason', 'loss reason', 'win reason'],
      type: 'text',
      most: 300,
    },
    text('next', $localize`next step`, ['next step', 'next action', 'to do', 'next'], 200),
    date('nextOn', $localize`day of the next step`, [
      'next step on',
      'next step date',
      'next action date',
      'due',
      'due date',
    ]),
    owner(choices),
    ...own('deal', choices),
  ],
  agreements: (choices) => [
    needed(
      text('name', $localize`name`, [
        'agreement',
        'agreement name',
        'name',
        'contract',
        'contract name',
        'subscription',
        'service',
        'vertrag',
      ]),
    ),
    ...whom,
    telling(
      needed(
        date('startsOn', $localize`start`, [
          'start',
          'starts',
          'starts on',
          'start date',
          'from',
          'begin',
          'beginn',
          'since',
        ]),
      ),
    ),
    telling(
      needed(
        number(
          'termMonths',
          $localize`term in months`,
          [
            'term',
            'term months',
            'months',
            'term in months',
            'duration',
            'duration months',
            'laufzeit',
            'looptijd',
          ],
          1,
          120,
        ),
      ),
    ),
    needed({
      key: 'value',
      name: $localize`value of a term`,
      names: ['value', 'amount', 'price', 'term value', 'contract value', 'wert', 'betrag'],
      type: 'amount',
    }),
    {
      key: 'currency',
      name: $localize`currency`,
      names: ['currency', 'currency code', 'wahrung', 'valuta'],
      type: 'currency',
    },
    number(
      'noticeDays',
      $localize`notice, days before the end`,
      ['notice', 'notice days', 'notice period', 'notice period days', 'kundigungsfrist', 'opzegtermijn'],
      0,
      730,
    ),
    number(
      'leadDays',
      $localize`talk, days before the last day for notice`,
      ['lead days', 'talk', 'lead time', 'reminder days'],
      0,
      730,
    ),
    {
      key: 'renewsItself',
      name: $localize`renews itself`,
      names: ['renews itself', 'auto renew', 'auto renewal', 'automatic renewal', 'renews'],
      type: 'yes-no',
    },
    number(
      'upliftPercent',
      $localize`dearer the next term, %`,
      ['uplift', 'uplift percent', 'increase', 'price increase', 'indexation'],
      -99,
      1000,
    ),
    number(
      'checkInMonths',
      $localize`check-in, months`,
      ['check in', 'check in months', 'review months'],
      1,
      24,
    ),
    owner(choices),
  ],
  tasks: (choices) => [
    needed(
      text(
        'purpose',
        $localize`what for`,
        ['task', 'purpose', 'what for', 'subject', 'title', 'to do', 'activity', 'aufgabe', 'taak'],
        200,
      ),
    ),
    ...whom,
    text('deal', $localize`deal`, ['deal', 'deal name', 'opportunity']),
    telling(
      needed(
        date('dueOn', $localize`due on`, [
          'due',
          'due on',
          'due date',
          'deadline',
          'date',
          'fallig',
          'fallig am',
          'vervaldatum',
        ]),
      ),
    ),
    {
      key: 'channel',
      name: $localize`how`,
      names: ['how', 'channel', 'type', 'kind', 'task type', 'activity type'],
      type: 'choice',
      choices: choices.channels,
    },
    number('minutes', $localize`minutes`, ['minutes', 'duration', 'length'], 1, 480),
    owner(choices),
  ],
  notes: () => [
    needed(
      text(
        'body',
        $localize`note`,
        ['note', 'notes', 'text', 'comment', 'body', 'content', 'notiz', 'opmerking'],
        20_000,
      ),
    ),
    ...whom,
    text('deal', $localize`deal`, ['deal', 'deal name', 'opportunity']),
    date('on', $localize`written on`, ['date', 'on', 'created', 'created at', 'written on', 'datum', 'day']),
  ],
};

/** What the columns of a file of a kind can hold. */
export const columnsOf = (kind: RecordKind, choices: ColumnChoices): readonly ImportColumn[] =>
  kinds[kind](choices);

/** Proposes what each column holds, by its name; each thing once, to the first that asks for it. Null is left out. */
export function proposeColumns(
  names: readonly string[],
  columns: readonly ImportColumn[],
): (string | null)[] {
  const given = new Set<string>();
  const byName = new Map<string, string>();
  for (const { key, names: known } of columns)
    for (const name of known) if (!byName.has(nameKey(name))) byName.set(nameKey(name), key);
  return names.map((name) => {
    const key = byName.get(nameKey(name));
    if (key === undefined || given.has(key)) return null;
    given.add(key);
    return key;
  });
}

const fileWords: Readonly<Record<ImportKind, RegExp>> = {
  people: /\b(people|persons?|contacts?|kontakte)\b/,
  companies: /\b(compan(y|ies)|firms?|organi[sz]ations?|accounts?|firmen)\b/,
  products: /\b(products?|items?|articles?|price ?list)\b/,
  leads: /\b(leads?|enquir(y|ies))\b/,
  deals: /\b(deals?|opportunit(y|ies)|pipeline)\b/,
  agreements: /\b(agreements?|contracts?|subscriptions?|renewals?)\b/,
  tasks: /\b(tasks?|to ?dos?|activities)\b/,
  notes: /\bnotes?\b/,
};

/**
 * What a file holds, by its name and the names of its columns: of the kinds that its name says, or whose needed columns are there with one
 * that tells them from others, the one that most columns fit; else people.
 */
export function guessKind(fileName: string, names: readonly string[], choices: ColumnChoices): ImportKind {
  const said = fileName.toLowerCase().replace(/[^a-z]+/g, ' ');
  let best: { kind: ImportKind; score: number } = { kind: 'people', score: 0 };
  if (fileWords.people.test(said)) return 'people';
  for (const kind of importKinds) {
    if (kind === 'people') continue;
    const columns = columnsOf(kind, choices);
    const fits = new Set(proposeColumns(names, columns).filter((key) => key !== null));
    const isNamed = fileWords[kind].test(said);
    const hasNeeded = columns.filter(({ isNeeded }) => isNeeded).every(({ key }) => fits.has(key));
    // A list of leads without what they want is people, each as a lead.
    if (!hasNeeded && (!isNamed || kind === 'leads')) continue;
    const tells = columns.filter(({ key, isTelling }) => isTelling === true && fits.has(key)).length;
    if (!isNamed && tells === 0) continue;
    const score = fits.size + tells + (isNamed ? 10 : 0);
    if (score > best.score) best = { kind, score };
  }
  return best.kind;
}
