/** A field of a contact that is one value in one column: everything else that has to know it is made from this. */
export interface PlainField {
  /** As the database calls it. */
  readonly column: string;
  /** As people call it. */
  readonly name: string;
  /** As the grid's address and its filters call it. */
  readonly grid: string;
  readonly type: 'text' | 'choice';
  /** Of a text, its longest. */
  readonly most?: number;
  readonly choices?: readonly string[];
  readonly canGroup?: boolean;
  /** An organisation has none. */
  readonly isOfPeople?: boolean;
  /** What columns of files are called that hold it, in lower case without punctuation. */
  readonly importNames: readonly string[];
}

/** One catalogue: the contract's schemas, rows, cells, grid, filter, form, facts, merge, import, export and journal follow. */
export const plainContactFields = {
  jobTitle: {
    column: 'job_title',
    name: 'job title',
    grid: 'job-title',
    type: 'text',
    most: 120,
    isOfPeople: true,
    importNames: ['job title', 'title', 'position', 'role', 'function', 'job'],
  },
  source: {
    column: 'source',
    name: 'source',
    grid: 'source',
    type: 'text',
    most: 160,
    canGroup: true,
    importNames: ['source', 'lead source', 'origin'],
  },
  warmth: {
    column: 'warmth',
    name: 'warmth',
    grid: 'warmth',
    type: 'choice',
    choices: ['hot', 'warm', 'cool'],
    canGroup: true,
    importNames: ['warmth', 'temperature', 'lead warmth'],
  },
} as const satisfies Record<string, PlainField>;

type Catalogue = typeof plainContactFields;
export type PlainContactField = keyof Catalogue;
/** As the grid calls them. */
export type PlainGridKey = Catalogue[PlainContactField]['grid'];

/** What a field holds: one of its choices, or a text. */
export type PlainValue<Field extends PlainContactField> = Catalogue[Field] extends {
  readonly choices: readonly (infer Choice)[];
}
  ? Choice
  : string;

/** The fields as a contact has them. */
export type PlainValues = { readonly [Field in PlainContactField]: PlainValue<Field> | null };

/** The fields as a row has them. */
export type PlainColumns = {
  [Field in PlainContactField as Catalogue[Field]['column']]: PlainValue<Field> | null;
};

export const plainContactKeys = Object.keys(plainContactFields) as readonly PlainContactField[];

export const plainFieldOf = (key: PlainContactField): PlainField => plainContactFields[key];

/** The same of each field, by its key. */
export function ofPlainFields<Made>(make: (key: PlainContactField, field: PlainField) => Made) {
  return Object.fromEntries(plainContactKeys.map((key) => [key, make(key, plainFieldOf(key))])) as Record<
    PlainContactField,
    Made
  >;
}

export const plainFieldLabel = ofPlainFields((_, field) => field.name);
