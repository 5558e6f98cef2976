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
  | 'percent'
  | 'yes-no'
  | 'person'
  | 'link'
  | 'contacted';

export interface GridField {
  readonly name: string;
  readonly type: GridFieldType;
  readonly choices?: readonly string[];
  /** What choices are called, where that is not the choice itself. */
  readonly choiceNames?: Readonly<Record<string, string>>;
  /** The field a change of its cell writes; fields without one are computed. */
  readonly cell?: string;
  readonly canSort?: boolean;
  readonly canGroup?: boolean;
  /** Added up below the list, and for each group. */
  readonly isSummed?: boolean;
  /** Filters ask for it; it is no column. */
  readonly isOnlyAsked?: boolean;
  /** Counted by itself of what happened: offered after the record's own fields. */
  readonly isCounted?: boolean;
  /** Pixels of a column of it; left out, as wide as most. */
  readonly width?: number;
}

/** What a cell holds: a day or a moment as ISO text, money in minor units, a standing, stage or pipeline as its id, a user as their name. */
export type GridValue = string | number | boolean | readonly string[] | null;

/** A field of a list with where a row of the list has it. */
export interface GridFieldOf<Row> extends GridField {
  of(row: Row): GridValue;
  /** What stands in columns of its own beside it in a file: the parts that it is made of. */
  readonly parts?: readonly { readonly name: string; of(row: Row): string }[];
  /** Of money that is not in the organisation's own currency. */
  currencyOf?(row: Row): string;
}

/**
 * The fields of a list, in the order in which they are offered; those that an admin defined are `custom:<id>`.
 * @example gridOf<Task>()({ purpose: { name: 'purpose', type: 'text', of: (row) => row.purpose } })
 */
export const gridOf =
  <Row>() =>
  <const Fields extends Readonly<Record<string, GridFieldOf<Row>>>>(fields: Fields): Fields =>
    fields;

/** The fields of a catalogue as a list has them. */
export const inGrid = <Fields extends PlainFields, Row extends object>(
  catalogue: Catalogue<Fields>,
  { withCells = false } = {},
) =>
  Object.fromEntries(
    catalogue.keys.flatMap((key) => {
      const { grid, name, type, choices, choiceNames, canGroup } = catalogue.of(key);
      const field: GridFieldOf<Row> = {
        name,
        type: type === 'notes' ? 'text' : type,
        canSort: true,
        ...(withCells && { cell: key }),
        ...(choices && { choices }),
        ...(choiceNames && { choiceNames }),
        ...(canGroup && { canGroup }),
        of: (row) => (row as Readonly<Record<string, GridValue>>)[key] ?? null,
      };
      return grid === undefined ? [] : [[grid, field]];
    }),
  ) as Readonly<Record<GridKeyOf<Fields>, GridFieldOf<Row>>>;

/** The most days that a question of a filter may look back or ahead: a hundred years. */
export const mostFilterDays = 36_500;

/** Questions by what a field holds, in words a person reads. Days count from the reader's today. */
export const questions = {
  text: {
    has: $localize`contains`,
    is: $localize`is`,
    'is-not': $localize`is not`,
    empty: $localize`is empty`,
    filled: $localize`is filled`,
  },
  choice: {
    is: $localize`is`,
    'is-not': $localize`is not`,
    empty: $localize`is empty`,
    filled: $localize`is filled`,
  },
  date: {
    before: $localize`is before`,
    after: $localize`is after`,
    'within-past': $localize`lies within the past (days)`,
    'not-within-past': $localize`does not lie within the past (days)`,
    'within-next': $localize`lies within the next (days)`,
    empty: $localize`is empty`,
    filled: $localize`is filled`,
  },
  contacted: {
    'not-within-past': $localize`not within the past (days)`,
    'within-past': $localize`within the past (days)`,
  },
  number: {
    is: $localize`is`,
    more: $localize`is more than`,
    less: $localize`is less than`,
    empty: $localize`is empty`,
    filled: $localize`is filled`,
  },
  'yes-no': { yes: $localize`is yes`, no: $localize`is not yes` },
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
    case 'percent':
      return 'number';
    case 'yes-no':
      return 'yes-no';
    case 'contacted':
      return 'contacted';
    default:
      return 'choice';
  }
}
