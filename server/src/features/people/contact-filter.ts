import type {
  ContactQuery,
  CustomField,
  FilterGroup,
  FilterRule,
  GridFieldKey,
  GridFieldType,
  SortPart,
} from '@kettle/contract';
import { gridFields, questionKindOf, questions } from '@kettle/contract';
import { nameKey } from '@kettle/core/identity';
import { addDays, localMoment } from '@kettle/core/time';
import type { SqlValue } from '../../db/database';
import { sqlInstant } from '../../db/values';
import { bytesOf } from '../../ids';
import { Problem } from '../../http/problem';
import type { SignedIn } from '../session/session';

export interface FilterSetting {
  readonly who: SignedIn;
  /** The reader's day: relative dates count from it. */
  readonly today: string;
  readonly fields: readonly CustomField[];
}

/** Columns of the contact table behind each field; the owner's and standing's own names come by join. */
const columns: Record<GridFieldKey, string> = {
  name: 'c.sort_name',
  company: 'c.company_name',
  'last-touch': 'c.last_touch_at',
  'next-step': 'c.next_step_on',
  'check-in': 'c.next_touch_due',
  standing: 'c.standing_id',
  owner: 'c.owner_id',
  'job-title': 'c.job_title',
  email: 'c.email',
  phone: 'c.phone',
  country: 'c.country',
  zone: 'c.zone',
  source: 'c.source',
  warmth: 'c.warmth',
  tags: '',
  category: 'c.category',
  'last-conversation': 'c.last_conversation_at',
  created: 'c.created_at',
};

/** What a list is sorted by: the undated come last, standings go by their order, owners by their names. */
const sortColumns: Partial<Record<GridFieldKey, string>> = {
  'next-step': 'c.next_step_sort',
  'check-in': 'c.check_in_sort',
  standing: '(SELECT s.position FROM standing s WHERE s.id = c.standing_id)',
  owner: '(SELECT o.name FROM app_user o WHERE o.id = c.owner_id)',
};

export interface Clauses {
  readonly where: string;
  readonly parameters: Record<string, SqlValue>;
}

/** The WHERE clause of a view. Every value is a parameter; fields come from the table above or by their id. */
export function contactClauses(query: ContactQuery, setting: FilterSetting): Clauses {
  const parameters: Record<string, SqlValue> = {};
  const where: string[] = [];
  if (query.owner === 'mine') {
    where.push('c.owner_id = :me');
    parameters.me = bytesOf(setting.who.id);
  }
  if (query.owner === 'unowned') where.push('c.owner_id IS NULL');
  if (query.standing !== undefined) {
    where.push('c.standing_id = :standing');
    parameters.standing = bytesOf(query.standing);
  }
  if (query.quiet === 'yes') {
    where.push('c.next_touch_due < :today');
    parameters.today = setting.today;
  }
  addSearch(query.q, where, parameters);
  if (query.filter !== undefined) {
    const text = groupSql(query.filter, setting, parameters);
    if (text !== null) where.push(text);
  }
  return { where: where.length ? `WHERE ${where.join(' AND ')}` : '', parameters };
}

/** Every word must begin some word of the contact; one letter alone asks for family names that begin with it. */
function addSearch(q: string, where: string[], parameters: Record<string, SqlValue>): void {
  const words = searchWords(q);
  if (words.length > 0) {
    where.push('MATCH (c.search_text) AGAINST (:words IN BOOLEAN MODE)');
    parameters.words = matchAll(words);
  } else if (nameKey(q)) {
    where.push('c.sort_name LIKE :prefix');
    parameters.prefix = `${nameKey(q)}%`;
  }
}

/** Words as the full-text index is asked for all of them, each from its beginning. */
export const matchAll = (words: readonly string[]): string => words.map((word) => `+${word}*`).join(' ');

/** Words of at least two letters or digits; digits typed with spaces or dashes are one number. */
export function searchWords(q: string): string[] {
  if (/^[+\d][\d\s()./-]{3,}$/.test(q)) return [q.replace(/\D/g, '').replace(/^00/, '')];
  return nameKey(q)
    .split(' ')
    .filter((word) => word.length >= 2)
    .slice(0, 8);
}

function groupSql(
  group: FilterGroup,
  setting: FilterSetting,
  parameters: Record<string, SqlValue>,
): string | null {
  const parts = group.rules
    .map((rule) =>
      'join' in rule ? groupSql(rule, setting, parameters) : ruleSql(rule, setting, parameters),
    )
    .filter((part) => part !== null);
  return parts.length === 0 ? null : `(${parts.join(group.join === 'all' ? ' AND ' : ' OR ')})`;
}

function ruleSql(rule: FilterRule, setting: FilterSetting, parameters: Record<string, SqlValue>): string {
  const { type, column, wrap } = fieldOf(rule.field, setting, parameters);
  const kind = questionKindOf(type);
  if (!(rule.ask in questions[kind])) throw refuse(`“${rule.ask}” cannot be asked of this field`);
  const name = `f${Object.keys(parameters).length}`;
  const bind = (value: SqlValue): string => {
    parameters[name] = value;
    return `:${name}`;
  };
  if (type === 'tags') return tagSql(rule, bind);
  return wrap(conditionSql(rule, type, column, bind, setting));
}

type Bind = (value: SqlValue) => string;

function tagSql({ ask, value }: FilterRule, bind: Bind): string {
  const some = (condition: string) =>
    `EXISTS (SELECT 1 FROM contact_tag t WHERE t.contact_id = c.id${condition})`;
  if (ask === 'empty') return `NOT ${some('')}`;
  if (ask === 'filled') return some('');
  const tags = textOf(value).toLowerCase();
  return `${ask === 'is-not' ? 'NOT ' : ''}${some(` AND t.tag = ${bind(tags)}`)}`;
}

interface FieldSql {
  readonly type: GridFieldType;
  readonly column: string;
  /** Puts a condition where the field's value is; custom values lie in their own table. */
  readonly wrap: (condition: string) => string;
}

function fieldOf(key: string, { fields }: FilterSetting, parameters: Record<string, SqlValue>): FieldSql {
  if (key in gridFields) {
    const known = key as GridFieldKey;
    return { type: gridFields[known].type, column: columns[known], wrap: (condition) => condition };
  }
  const field = customFieldOf(key, fields);
  const id = `c${Object.keys(parameters).length}`;
  parameters[id] = bytesOf(field.id);
  return {
    type: field.type,
    column: valueColumn(field),
    // A contact without the value is one whose value is empty.
    wrap: (condition) =>
      `EXISTS (SELECT 1 FROM (SELECT 1) one LEFT JOIN custom_value v ON v.record_id = c.id AND v.field_id = :${id} WHERE ${condition})`,
  };
}

function customFieldOf(
  key: string,
  fields: readonly CustomField[],
  path: 'filter' | 'sort' = 'filter',
): CustomField {
  const field = fields.find((each) => `custom:${each.id}` === key);
  if (!field) throw refuse('this list has no such field', path);
  return field;
}

function valueColumn(field: CustomField): string {
  if (field.type === 'number' || field.type === 'money' || field.type === 'yes-no') return 'v.number_value';
  if (field.type === 'date') return 'v.date_value';
  return field.type === 'person' ? 'v.person_id' : 'v.text_value';
}

function conditionSql(
  { ask, value }: FilterRule,
  type: GridFieldType,
  column: string,
  bind: Bind,
  { who, today }: FilterSetting,
): string {
  /** The beginning of a day, as the column counts: a moment in the reader's zone, or the date itself. */
  const day = (date: string): SqlValue =>
    type === 'instant' ? sqlInstant(localMoment(date, 0, who.zone)) : date;
  const days = () => Math.max(0, Math.min(36_500, Math.round(numberOf(value))));
  const isId = type === 'standing' || type === 'user' || type === 'person';
  const exact = (): SqlValue => {
    if (type === 'user' && value === 'me') return bytesOf(who.id);
    if (isId) return idBytes(textOf(value));
    return questionKindOf(type) === 'number'
      ? numberOf(value)
      : column === 'c.sort_name'
        ? nameKey(textOf(value))
        : textOf(value);
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
      const text = column === 'c.sort_name' ? nameKey(textOf(value)) : textOf(value);
      if (text === '') return 'FALSE';
      return `${column} LIKE ${bind(`%${text.replace(/[\\%_]/g, '\\$&')}%`)}`;
    }
    case 'before':
      return `${column} < ${bind(day(dateOf(value)))}`;
    case 'after':
      return `${column} >= ${bind(day(addDays(dateOf(value), 1)))}`;
    case 'within-past':
      return `(${column} >= ${bind(day(addDays(today, -days())))} AND ${column} < '${String(day(addDays(today, 1)))}')`;
    case 'not-within-past':
      return `(${column} IS NULL OR ${column} < ${bind(day(addDays(today, -days())))})`;
    case 'within-next':
      return `(${column} >= '${String(day(today))}' AND ${column} < ${bind(day(addDays(today, days() + 1)))})`;
    case 'more':
      return `${column} > ${bind(numberOf(value))}`;
    case 'less':
      return `${column} < ${bind(numberOf(value))}`;
    case 'yes':
      return `${column} = 1`;
    case 'no':
      return `(${column} IS NULL OR ${column} = 0)`;
  }
}

const isText = (type: GridFieldType) => type === 'text' || type === 'link';

function textOf(value: FilterRule['value']): string {
  if (value === undefined || value === '') throw refuse('one of its questions has no value');
  return String(value);
}

function numberOf(value: FilterRule['value']): number {
  const number = Number(value);
  if (value === undefined || value === '' || !Number.isFinite(number))
    throw refuse('one of its questions needs a number');
  return number;
}

function dateOf(value: FilterRule['value']): string {
  const text = String(value ?? '');
  if (!/^\d{4}-\d{2}-\d{2}$/.test(text) || Number.isNaN(Date.parse(text)))
    throw refuse('one of its questions needs a date');
  return text;
}

function idBytes(text: string): Buffer {
  if (!/^[0-9a-f-]{36}$/i.test(text)) throw refuse('one of its questions names nobody');
  return bytesOf(text);
}

function refuse(message: string, path: 'filter' | 'sort' = 'filter'): Problem {
  return new Problem('invalid-request', {}, { fields: [{ path, message }] });
}

/** Fields whose index goes on with the name: ordered so, equal ones stand by name and the index serves alone. */
const thenByName: readonly string[] = ['company', 'country', 'source'];

/** ORDER BY of a view: its grouping first, then its sort fields, the id last so that the order is whole. */
export function contactOrder(
  sort: readonly SortPart[],
  group: string | undefined,
  setting: FilterSetting,
): Clauses {
  const parameters: Record<string, SqlValue> = {};
  const parts: string[] = [];
  if (group !== undefined) {
    const expression = sortExpression(group, setting, parameters);
    parts.push(`${expression} IS NULL`, expression);
  }
  let last: 'ASC' | 'DESC' = 'ASC';
  for (const { field, order } of sort) {
    last = order === 'up' ? 'ASC' : 'DESC';
    parts.push(`${sortExpression(field, setting, parameters)} ${last}`);
  }
  if (thenByName.includes(sort.at(-1)?.field ?? '')) parts.push(`c.sort_name ${last}`);
  return { where: [...parts, `c.id ${last}`].join(', '), parameters };
}

export function sortExpression(
  field: string,
  { fields }: FilterSetting,
  parameters: Record<string, SqlValue>,
): string {
  if (field in gridFields) {
    const known = field as GridFieldKey;
    if (!('canSort' in gridFields[known])) throw refuse('the list cannot be sorted by this field', 'sort');
    return sortColumns[known] ?? columns[known];
  }
  const custom = customFieldOf(field, fields, 'sort');
  const name = `s${Object.keys(parameters).length}`;
  parameters[name] = bytesOf(custom.id);
  return `(SELECT ${valueColumn(custom)} FROM custom_value v WHERE v.record_id = c.id AND v.field_id = :${name})`;
}
