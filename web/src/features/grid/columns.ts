import type { CustomField, GridFieldOf, GridFieldType } from '@kettle/contract';

/** A value that goes by a name of its own, such as a stage. */
export interface Option {
  readonly value: string;
  readonly name: string;
}

export interface Column<Row = never> {
  readonly key: string;
  readonly name: string;
  readonly type: GridFieldType;
  /** Of what is one of a few. */
  readonly options?: readonly Option[];
  /** The field a change of the cell writes; null for what is computed. */
  readonly cell: string | null;
  readonly canSort: boolean;
  readonly canGroup: boolean;
  readonly isSummed: boolean;
  /** Counted by itself of what happened. */
  readonly isCounted?: boolean;
  /** Filters ask for it; it is no column. */
  readonly isOnlyAsked?: boolean;
  readonly width: number;
  /** Of built-in fields: where a row has it. */
  readonly field?: GridFieldOf<Row>;
}

const usualWidth = 130;
const narrowest = 60;
const widest = 600;

/** Columns of a list over its built-in fields and those an admin defined. */
export function columnsOf<Row>(
  fields: Readonly<Record<string, GridFieldOf<Row>>>,
  custom: readonly CustomField[],
  options: Readonly<Record<string, readonly Option[]>> = {},
): Column<Row>[] {
  const builtIn = Object.entries(fields).map(([key, field]): Column<Row> => {
    const known =
      options[key] ?? field.choices?.map((value) => ({ value, name: field.choiceNames?.[value] ?? value }));
    return {
      key,
      name: field.name,
      type: field.type,
      ...(known && { options: known }),
      cell: field.cell ?? null,
      canSort: field.canSort === true,
      canGroup: field.canGroup === true,
      isSummed: field.isSummed === true,
      width: field.width ?? usualWidth,
      ...(field.isCounted && { isCounted: true }),
      ...(field.isOnlyAsked && { isOnlyAsked: true }),
      field,
    };
  });
  const own = custom.map((field): Column<Row> => ({
    key: `custom:${field.id}`,
    name: field.name,
    type: field.type,
    ...(field.type === 'choice' && { options: field.choices.map((value) => ({ value, name: value })) }),
    cell: `custom:${field.id}`,
    canSort: field.type !== 'person',
    canGroup: field.type === 'choice' || field.type === 'yes-no',
    isSummed: false,
    width: usualWidth,
  }));
  return [...builtIn, ...own];
}

/**
 * Columns as the address names them, `name:240,company`: in order, each with its width when it is not the usual one.
 * @param usual the columns of a view that names none, in the same words
 */
export function shownColumns<Row>(
  text: string | undefined,
  all: readonly Column<Row>[],
  usual: string,
): Column<Row>[] {
  const chosen = (text || usual).split(',').flatMap((part) => {
    const found = /^((?:custom:)?[^:]+)(?::(\d+))?$/.exec(part);
    const column = all.find(({ key, isOnlyAsked }) => key === found?.[1] && !isOnlyAsked);
    if (!column) return [];
    const width = found?.[2] ? clampWidth(Number(found[2])) : column.width;
    return [{ ...column, width }];
  });
  return chosen.length > 0 || text === undefined ? chosen : shownColumns(undefined, all, usual);
}

export function sayColumns<Row>(
  columns: readonly Column<Row>[],
  all: readonly Column<Row>[],
  usual: string,
): string | null {
  const text = columns
    .map((column) => {
      const known = all.find((each) => each.key === column.key)?.width;
      return known === column.width ? column.key : `${column.key}:${column.width}`;
    })
    .join(',');
  return text === usual ? null : text;
}

/** What stands at the right of its column, so that digits stand below each other. */
export const isNumber = ({ type }: Pick<Column, 'type'>): boolean =>
  type === 'number' || type === 'money' || type === 'percent';

export const clampWidth = (width: number) => Math.round(Math.min(widest, Math.max(narrowest, width)));

export interface SortPart {
  readonly field: string;
  readonly order: 'up' | 'down';
}

/** `-last-touch,name` as parts, first first. */
export function readSort(text: string): SortPart[] {
  return text
    .split(',')
    .filter(Boolean)
    .map((part) =>
      part.startsWith('-') ? { field: part.slice(1), order: 'down' } : { field: part, order: 'up' },
    );
}

/** The other way round; null for the usual order, which needs no words. */
export function saySort(parts: readonly SortPart[], usual: string): string | null {
  const text = parts.map(({ field, order }) => (order === 'down' ? `-${field}` : field)).join(',');
  return text === usual || text === '' ? null : text;
}

/** Sorts by a field alone, or as one more below the others; a field that is there already turns round. */
export function sortedBy(parts: readonly SortPart[], field: string, isFurther: boolean): SortPart[] {
  const known = parts.find((part) => part.field === field);
  const turned: SortPart = { field, order: known?.order === 'up' ? 'down' : 'up' };
  if (!isFurther) return [turned];
  return known ? parts.map((part) => (part === known ? turned : part)) : [...parts, turned].slice(0, 4);
}
