import type {
  CustomField,
  FilterGroup,
  FilterRule,
  GridField,
  GridFieldType,
  SortPart,
} from '@kettle/contract';
import { mostFilterDays, questionKindOf, questions } from '@kettle/contract';
import { usualContact } from '@kettle/contract/base/counted';
import { nameKey } from '@kettle/core/duplicates';
import { minorOf } from '@kettle/core/money';
import { addDays, localMoment } from '@kettle/core/time';
import type { SqlValue } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { SignedIn } from '../users/index';

export interface FilterSetting {
  readonly who: SignedIn;
  /** The reader's day: relative dates count from it. */
  readonly today: string;
  /** The organisation's, in which amounts are asked for. */
  readonly currency: string;
  readonly fields: readonly CustomField[];
}

export interface Clauses {
  readonly where: string;
  readonly parameters: Record<string, SqlValue>;
}

/** A field that holds many texts in a table of its own, such as tags. */
interface ManyTexts {
  readonly table: string;
  readonly owner: string;
  readonly text: string;
}

/** Where a list's fields lie in SQL. */
export interface GridSql {
  readonly fields: Readonly<Record<string, GridField>>;
  readonly columns: Readonly<Record<string, string>>;
  /** What it is sorted and grouped by where that is not the column itself. */
  readonly sortColumns: Readonly<Record<string, string>>;
  readonly id: string;
  readonly manyTexts: Readonly<Record<string, ManyTexts>>;
  /** Columns that hold names as they are compared: without case and accents. */
  readonly nameKeys: readonly string[];
  /** Fields whose index goes on with another column: ordered so, equal ones need no sorting of their own. */
  readonly goesOn: Readonly<Record<string, string>>;
}

/** A filter as a condition; its values are added to the parameters. Null when it asks nothing. */
export function filterSql(
  grid: GridSql,
  group: FilterGroup,
  setting: FilterSetting,
  parameters: Record<string, SqlValue>,
): string | null {
  const parts = group.rules
    .map((rule) =>
      'join' in rule ? filterSql(grid, rule, setting, parameters) : ruleSql(grid, rule, setting, parameters),
    )
    .filter((part) => part !== null);
  return parts.length === 0 ? null : `(${parts.join(group.join === 'all' ? ' AND ' : ' OR ')})`;
}

function ruleSql(
  grid: GridSql,
  rule: FilterRule,
  setting: FilterSetting,
  parameters: Record<string, SqlValue>,
): string {
  const { type, column, wrap } = fieldOf(grid, rule.field, setting, parameters);
  const kind = questionKindOf(type);
  if (!(rule.ask in questions[kind]))
    throw refuse($localize`“${rule.ask}:ask:” cannot be asked of this field`);
  const name = `f${Object.keys(parameters).length}`;
  const bind = (value: SqlValue): string => {
    parameters[name] = value;
    return `:${name}`;
  };
  if (type === 'contacted') return contactedSql(grid, rule, bind, setting);
  const many = Object.hasOwn(grid.manyTexts, rule.field) ? grid.manyTexts[rule.field] : undefined;
  if (many) return manySql(grid, many, rule, bind);
  return wrap(conditionSql(rule, { type, column, isNameKey: grid.nameKeys.includes(column) }, bind, setting));
}

/** Whether anything that counts happened since a day, by the asker's own choice of what counts. */
function contactedSql(
  { columns }: GridSql,
  { ask, value, of = usualContact }: FilterRule,
  bind: Bind,
  { who, today }: FilterSetting,
): string {
  const since = bind(sqlInstant(localMoment(addDays(today, -daysOf(value)), 0, who.zone)));
  const happened = of.map((measure) => `${columns[`${measure}-last`]} >= ${since}`).join(' OR ');
  return ask === 'within-past' ? `COALESCE(${happened}, FALSE)` : `NOT COALESCE(${happened}, FALSE)`;
}

type Bind = (value: SqlValue) => string;

function manySql(
  grid: GridSql,
  { table, owner, text }: ManyTexts,
  { ask, value }: FilterRule,
  bind: Bind,
): string {
  const some = (condition: string) =>
    `EXISTS (SELECT 1 FROM ${table} t WHERE t.${owner} = ${grid.id}${condition})`;
  if (ask === 'empty') return `NOT ${some('')}`;
  if (ask === 'filled') return some('');
  return `${ask === 'is-not' ? 'NOT ' : ''}${some(` AND t.${text} = ${bind(textOf(value).toLowerCase())}`)}`;
}

/** A field of the list itself; what every object has, such as `constructor`, is none. */
const builtIn = ({ fields }: GridSql, key: string): GridField | undefined =>
  Object.hasOwn(fields, key) ? fields[key] : undefined;

interface FieldSql {
  readonly type: GridFieldType;
  readonly column: string;
  /** Puts a condition where the field's value is; custom values lie in their own table. */
  readonly wrap: (condition: string) => string;
}

function fieldOf(
  grid: GridSql,
  key: string,
  { fields }: FilterSetting,
  parameters: Record<string, SqlValue>,
): FieldSql {
  const known = builtIn(grid, key);
  if (known !== undefined)
    return { type: known.type, column: grid.columns[key] ?? '', wrap: (condition) => condition };
  const field = customFieldOf(key, fields);
  const id = `c${Object.keys(parameters).length}`;
  parameters[id] = bytesOf(field.id);
  return {
    type: field.type,
    column: valueColumn(field),
    // A record without the value is one whose value is empty.
    wrap: (condition) =>
      `EXISTS (SELECT 1 FROM (SELECT 1) one LEFT JOIN custom_value v ON v.record_id = ${grid.id} AND v.field_id = :${id} WHERE ${condition})`,
  };
}

function customFieldOf(
  key: string,
  fields: readonly CustomField[],
  path: 'filter' | 'sort' = 'filter',
): CustomField {
  const field = fields.find((each) => `custom:${each.id}` === key);
  if (!field) throw refuse($localize`this list has no such field`, path);
  return field;
}

function valueColumn(field: CustomField): string {
  if (field.type === 'number' || field.type === 'money' || field.type === 'yes-no') return 'v.number_value';
  if (field.type === 'date') return 'v.date_value';
  return field.type === 'person' ? 'v.person_id' : 'v.text_value';
}

function conditionSql(
  { ask, value }: FilterRule,
  { type, column, isNameKey }: { type: GridFieldType; column: string; isNameKey: boolean },
  bind: Bind,
  { who, today, currency }: FilterSetting,
): string {
  /** The beginning of a day, as the column counts: a moment in the reader's zone, or the date itself. */
  const day = (date: string): SqlValue =>
    type === 'instant' ? sqlInstant(localMoment(date, 0, who.zone)) : date;
  /** A number as the column holds it: people type whole units and per cent, money is kept in minor units and a chance from 0 to 1. */
  const asked = () => {
    const number = numberOf(value);
    if (type === 'money') return minorOf(number, currency);
    return type === 'percent' ? number / 100 : number;
  };
  const isId = idTypes.includes(type);
  const exact = (): SqlValue => {
    if (type === 'user' && value === 'me') return bytesOf(who.id);
    if (isId) return idBytes(textOf(value));
    return questionKindOf(type) === 'number' ? asked() : isNameKey ? nameKey(textOf(value)) : textOf(value);
  };
  switch (ask) {
    case 'empty':
      return isText(type) ? `(${column} IS NULL OR ${column} = '')` : `${column} IS NULL`;
    case 'filled':
      return isText(type) ? `(${column} IS NOT NULL AND ${column} <> '')` : `${column} IS NOT NULL`;
    case 'is':
      return `${column} = ${bind(exact())}`;
    case 'is-not':
      return `NOT (${column} <=> ${bind(exact())})`;
    case 'has': {
      const text = isNameKey ? nameKey(textOf(value)) : textOf(value);
      if (text === '') return 'FALSE';
      return `${column} LIKE ${bind(likeText(text))}`;
    }
    case 'before':
      return `${column} < ${bind(day(dateOf(value)))}`;
    case 'after':
      return `${column} >= ${bind(day(addDays(dateOf(value), 1)))}`;
    case 'within-past':
      return `(${column} >= ${bind(day(addDays(today, -daysOf(value))))} AND ${column} < '${String(day(addDays(today, 1)))}')`;
    case 'not-within-past':
      return `(${column} IS NULL OR ${column} < ${bind(day(addDays(today, -daysOf(value))))})`;
    case 'within-next':
      return `(${column} >= '${String(day(today))}' AND ${column} < ${bind(day(addDays(today, daysOf(value) + 1)))})`;
    case 'more':
      return `${column} > ${bind(asked())}`;
    case 'less':
      return `${column} < ${bind(asked())}`;
    case 'yes':
      return `${column} = 1`;
    case 'no':
      return `(${column} IS NULL OR ${column} = 0)`;
  }
}

/** A text as LIKE finds it anywhere. */
export const likeText = (text: string) => `%${escaped(text)}%`;

/**
 * A text as LIKE finds it at the end of another, in a column that holds that one backwards: an index finds it, which it cannot behind a `%`.
 * @example likeEnd('@linde.example') // 'elpmaxe.ednil@%'
 */
export const likeEnd = (text: string) => `${escaped([...text].reverse().join(''))}%`;

const escaped = (text: string) => text.replace(/[\\%_]/g, '\\$&');

const idTypes: readonly GridFieldType[] = ['standing', 'user', 'person', 'stage', 'pipeline'];
const isText = (type: GridFieldType) => type === 'text' || type === 'link';

function textOf(value: FilterRule['value']): string {
  if (value === undefined || value === '') throw refuse($localize`one of its questions has no value`);
  return String(value);
}

function numberOf(value: FilterRule['value']): number {
  const number = Number(value);
  if (value === undefined || value === '' || !Number.isFinite(number))
    throw refuse($localize`one of its questions needs a number`);
  return number;
}

function daysOf(value: FilterRule['value']): number {
  const days = numberOf(value);
  if (!Number.isInteger(days) || days < 0 || days > mostFilterDays)
    throw refuse($localize`one of its questions needs whole days, from 0 to ${mostFilterDays}:days:`);
  return days;
}

function dateOf(value: FilterRule['value']): string {
  const text = String(value ?? '');
  if (!/^\d{4}-\d{2}-\d{2}$/.test(text) || Number.isNaN(Date.parse(text)))
    throw refuse($localize`one of its questions needs a date`);
  return text;
}

function idBytes(text: string): Buffer {
  if (!/^[0-9a-f-]{36}$/i.test(text)) throw refuse($localize`one of its questions names nobody`);
  return bytesOf(text);
}

function refuse(message: string, path: 'filter' | 'sort' = 'filter'): Problem {
  return new Problem('invalid-request', {}, { fields: [{ path, message }] });
}

/** What rows are ordered by, first first. */
export interface Order {
  readonly parts: readonly { readonly sql: string; readonly isDown: boolean }[];
  readonly parameters: Readonly<Record<string, SqlValue>>;
}

/** The order of a view: by group, by what it is sorted by, and by id, so that no two rows have the same place. */
export function orderOf(
  grid: GridSql,
  sort: readonly SortPart[],
  group: string | undefined,
  setting: FilterSetting,
): Order {
  const parameters: Record<string, SqlValue> = {};
  const parts: { sql: string; isDown: boolean }[] = [];
  if (group !== undefined) {
    const sql = sortExpression(grid, group, setting, parameters);
    parts.push({ sql: `${sql} IS NULL`, isDown: false }, { sql, isDown: false });
  }
  for (const { field, order } of sort)
    parts.push({ sql: sortExpression(grid, field, setting, parameters), isDown: order === 'down' });
  const isDown = sort.at(-1)?.order === 'down';
  const goesOn = grid.goesOn[sort.at(-1)?.field ?? ''];
  if (goesOn !== undefined) parts.push({ sql: goesOn, isDown });
  return { parts: [...parts, { sql: grid.id, isDown }], parameters };
}

/** As ORDER BY wants it. */
export const orderText = ({ parts }: Order): string =>
  parts.map(({ sql, isDown }) => `${sql} ${isDown ? 'DESC' : 'ASC'}`).join(', ');

const isColumn = /^[\w.`]+$/;

/**
 * What comes after a row in an order, by what it is ordered by there. NULL is less than everything, as the database sorts it.
 * @param keys the row's values of the order's parts
 * @example beyond({ parts: [{ sql: 'name', isDown: false }, { sql: 'id', isDown: false }] }, ['Holm', id])
 *   // name >= :k0 AND (name > :k0 OR (name <=> :k0 AND id > :k1))
 */
export function beyond({ parts: given }: Order, keys: readonly SqlValue[]): Clauses {
  const parameters = Object.fromEntries(keys.map((value, at) => [`k${at}`, value]));
  const parts = given.map((part) => ({ ...part, sql: isColumn.test(part.sql) ? part.sql : `(${part.sql})` }));
  const after = ({ sql, isDown }: Order['parts'][number], at: number) => {
    if (keys[at] === null) return isDown ? 'FALSE' : `${sql} IS NOT NULL`;
    return isDown ? `(${sql} < :k${at} OR ${sql} IS NULL)` : `${sql} > :k${at}`;
  };
  const where = parts.reduceRight(
    (rest, part, at) =>
      rest === '' ? after(part, at) : `(${after(part, at)} OR (${part.sql} <=> :k${at} AND ${rest}))`,
    '',
  );
  // Said once more for the whole, so that an index of the first part is begun where the row is.
  const [first] = parts;
  const from =
    first === undefined || keys[0] === null
      ? ''
      : first.isDown
        ? `(${first.sql} <= :k0 OR ${first.sql} IS NULL) AND `
        : `${first.sql} >= :k0 AND `;
  return { where: `${from}${where}`, parameters };
}

export function sortExpression(
  grid: GridSql,
  field: string,
  { fields }: FilterSetting,
  parameters: Record<string, SqlValue>,
): string {
  const known = builtIn(grid, field);
  if (known !== undefined) {
    if (known.canSort !== true && known.canGroup !== true)
      throw refuse($localize`the list cannot be sorted by this field`, 'sort');
    return grid.sortColumns[field] ?? grid.columns[field]!;
  }
  const custom = customFieldOf(field, fields, 'sort');
  const name = `s${Object.keys(parameters).length}`;
  parameters[name] = bytesOf(custom.id);
  return `(SELECT ${valueColumn(custom)} FROM custom_value v WHERE v.record_id = ${grid.id} AND v.field_id = :${name})`;
}
