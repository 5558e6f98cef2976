import type { CellField, CustomField, GridField, GridFieldType } from '@kettle/contract';
import { gridFields } from '@kettle/contract/base/grid-fields';

export interface Column {
  readonly key: string;
  readonly name: string;
  readonly type: GridFieldType;
  readonly choices: readonly string[];
  /** Values that go by names of their own, such as stages. */
  readonly options?: readonly { readonly value: string; readonly name: string }[];
  /** The field a change of the cell writes; null for what is computed. */
  readonly cell: CellField | null;
  readonly canSort: boolean;
  readonly canGroup: boolean;
  readonly width: number;
}

const widths: Partial<Record<string, number>> = {
  name: 210,
  company: 170,
  'last-touch': 130,
  'next-step': 110,
  'check-in': 110,
  standing: 120,
  owner: 120,
  email: 200,
  tags: 140,
  warmth: 76,
  category: 100,
  country: 76,
};
const usualWidth = 130;
const narrowest = 60;
const widest = 600;
export const usualColumns = 'name,company,last-touch,next-step,check-in,standing,owner';

/** Every field the grid can show: built-in ones in their order, then those an admin defined. */
export const allColumns = (custom: readonly CustomField[]): Column[] => columnsOf(gridFields, custom);

/** Columns of a list over its built-in fields and those an admin defined. */
export function columnsOf(
  fields: Readonly<Record<string, GridField>>,
  custom: readonly CustomField[],
): Column[] {
  const builtIn = Object.entries(fields).map(([key, field]): Column => ({
    key,
    name: field.name,
    type: field.type,
    choices: field.choices ?? [],
    cell: (field.cell ?? null) as CellField | null,
    canSort: field.canSort === true,
    canGroup: field.canGroup === true,
    width: widths[key] ?? usualWidth,
  }));
  const own = custom.map((field): Column => ({
    key: `custom:${field.id}`,
    name: field.name,
    type: field.type,
    choices: field.choices,
    cell: `custom:${field.id}`,
    canSort: field.type !== 'person',
    canGroup: field.type === 'choice' || field.type === 'yes-no',
    width: usualWidth,
  }));
  return [...builtIn, ...own];
}

/** Columns as the address names them, `name:240,company`: in order, each with its width when it is not the usual one. */
export function shownColumns(text: string | undefined, all: readonly Column[]): Column[] {
  const chosen = (text || usualColumns).split(',').flatMap((part) => {
    const found = /^((?:custom:)?[^:]+)(?::(\d+))?$/.exec(part);
    const column = all.find((each) => each.key === found?.[1]);
    if (!column) return [];
    const width = found?.[2] ? clampWidth(Number(found[2])) : column.width;
    return [{ ...column, width }];
  });
  return chosen.length > 0 ? chosen : shownColumns(usualColumns, all);
}

export function sayColumns(columns: readonly Column[], all: readonly Column[]): string | null {
  const text = columns
    .map((column) => {
      const usual = all.find((each) => each.key === column.key)?.width;
      return usual === column.width ? column.key : `${column.key}:${column.width}`;
    })
    .join(',');
  return text === usualColumns ? null : text;
}

export const clampWidth = (width: number) => Math.round(Math.min(widest, Math.max(narrowest, width)));

export interface SortPart {
  readonly field: string;
  readonly order: 'up' | 'down';
}

export function readSort(text: string | undefined): SortPart[] {
  return (text || 'name')
    .split(',')
    .filter(Boolean)
    .map((part) =>
      part.startsWith('-') ? { field: part.slice(1), order: 'down' } : { field: part, order: 'up' },
    );
}

export function saySort(parts: readonly SortPart[]): string | null {
  const text = parts.map(({ field, order }) => (order === 'down' ? `-${field}` : field)).join(',');
  return text === 'name' || text === '' ? null : text;
}

/** Sorts by a field alone, or as one more below the others; a field that is there already turns round. */
export function sortedBy(parts: readonly SortPart[], field: string, isFurther: boolean): SortPart[] {
  const known = parts.find((part) => part.field === field);
  const turned: SortPart = { field, order: known?.order === 'up' ? 'down' : 'up' };
  if (!isFurther) return [turned];
  return known ? parts.map((part) => (part === known ? turned : part)) : [...parts, turned].slice(0, 4);
}
