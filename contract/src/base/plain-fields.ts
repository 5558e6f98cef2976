/** A field of a record that is one value in one column: everything else that has to know it is made from this. */
export interface PlainField {
  /** As the database calls it. */
  readonly column: string;
  /** As people call it. */
  readonly name: string;
  /** `notes` are texts of many lines, `link` is a web address. */
  readonly type: 'text' | 'notes' | 'choice' | 'date' | 'link';
  /** What a field that is never empty holds when nothing is said; left out, the field may be empty. */
  readonly otherwise?: string;
  /** Must be said, and is never empty. */
  readonly isRequired?: boolean;
  /** Of a text, its longest. */
  readonly most?: number;
  readonly choices?: readonly string[];
  /** What choices are called, where that is not the choice itself. */
  readonly choiceNames?: Readonly<Record<string, string>>;
  /** As the grid's address and its filters call it; left out, it is not in the grid. */
  readonly grid?: string;
  readonly canGroup?: boolean;
  /** An organisation has none. */
  readonly isOfPeople?: boolean;
  /** What columns of files are called that hold it, in lower case without punctuation. */
  readonly importNames?: readonly string[];
}

export type PlainFields = Readonly<Record<string, PlainField>>;

type Filled<Field extends PlainField> = Field extends { readonly choices: readonly (infer Choice)[] }
  ? Choice
  : string;

/** What a field holds: one of its choices or a text; null is empty. A date is `2026-11-24`. */
export type PlainValue<Field extends PlainField> = Field extends
  { readonly otherwise: string } | { readonly isRequired: true }
  ? Filled<Field>
  : Filled<Field> | null;

/** The fields as a record has them. */
export type ValuesOf<Fields extends PlainFields> = {
  readonly [Key in keyof Fields]: PlainValue<Fields[Key]>;
};

/** The fields as a row has them. */
export type ColumnsOf<Fields extends PlainFields> = {
  [Key in keyof Fields as Fields[Key]['column']]: PlainValue<Fields[Key]>;
};

export interface Catalogue<Fields extends PlainFields> {
  readonly fields: Fields;
  readonly keys: readonly (keyof Fields & string)[];
  of(key: keyof Fields): PlainField;
  /** The same of each field, by its key. */
  each<Made>(
    make: (key: keyof Fields & string, field: PlainField) => Made,
  ): Record<keyof Fields & string, Made>;
  /** The fields of a record, and of nothing else it has. */
  valuesOf(record: ValuesOf<Fields>): ValuesOf<Fields>;
  /** A row's columns as a record's fields. */
  read(row: ColumnsOf<Fields>): ValuesOf<Fields>;
  /** A record's fields as columns; what was left out is empty, or what it is otherwise. */
  write(record: Partial<ValuesOf<Fields>>): Record<string, string | null>;
  /** `d.type, d.source`, for a SELECT. */
  select(alias: string): string;
  /** `type = :type, source = :source`, for an UPDATE with what `write` gives. */
  readonly sets: string;
  /** `type, source` and `:type, :source`, for an INSERT of the same. */
  readonly columns: string;
  readonly placeholders: string;
  /** Name and words of each field, for the journal. */
  say(record: ValuesOf<Fields>): (readonly [string, string])[];
}

/**
 * A record's plain fields with what is made from them.
 * @example catalogueOf({ trade: { column: 'trade', name: 'trade', type: 'text', most: 80 } }).select('co') is 'co.trade'
 */
export function catalogueOf<const Fields extends PlainFields>(fields: Fields): Catalogue<Fields> {
  const keys = Object.keys(fields);
  const of = (key: keyof Fields): PlainField => fields[key]!;
  const columns = keys.map((key) => of(key).column);
  const each = <Made>(make: (key: keyof Fields & string, field: PlainField) => Made) =>
    Object.fromEntries(keys.map((key) => [key, make(key, of(key))])) as Record<keyof Fields & string, Made>;
  return {
    fields,
    keys,
    of,
    each,
    valuesOf: (record) => each((key) => record[key]) as ValuesOf<Fields>,
    read: (row) =>
      each((_, { column }) => (row as Record<string, string | null>)[column]) as unknown as ValuesOf<Fields>,
    write: (record) =>
      Object.fromEntries(
        keys.map((key) => [of(key).column, (record[key] as string | null) ?? of(key).otherwise ?? null]),
      ),
    sets: columns.map((column) => `${column} = :${column}`).join(', '),
    columns: columns.join(', '),
    placeholders: columns.map((column) => `:${column}`).join(', '),
    say: (record) =>
      keys.map((key) => [
        of(key).name.replace(/^./, (first) => first.toUpperCase()),
        sayPlain(of(key), record[key] as string | null) || 'none',
      ]),
    select: (alias) => keys.map((key) => `${alias}.${of(key).column}`).join(', '),
  };
}

/** A value as people read it; an empty one is `''`. */
export const sayPlain = ({ choiceNames }: PlainField, value: string | null): string =>
  (value !== null && choiceNames?.[value]) || (value ?? '');

/** The keys of a catalogue's fields in the grid. */
export type GridKeyOf<Fields extends PlainFields> = {
  [Key in keyof Fields]: Fields[Key] extends { readonly grid: infer Grid extends string } ? Grid : never;
}[keyof Fields];

/** Where the fields of a grid lie: `{ priority: 'd.priority' }`. */
export const columnsInGrid = <Fields extends PlainFields>({ keys, of }: Catalogue<Fields>, alias: string) =>
  Object.fromEntries(
    keys.flatMap((key) => {
      const { grid, column } = of(key);
      return grid === undefined ? [] : [[grid, `${alias}.${column}`]];
    }),
  ) as Record<GridKeyOf<Fields>, string>;
