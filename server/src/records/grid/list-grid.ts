import type { GridCount, SortPart } from '@kettle/contract';
import type { Queryable, SqlValue } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import {
  type Clauses,
  type FilterSetting,
  type GridSql,
  orderOf,
  orderText,
  beyond,
  sortExpression,
} from './grid-sql';

/** A list: its fields, and the tables they lie in. */
export interface ListSql extends GridSql {
  /** FROM with its joins, of which those may be left out that none of the clauses names. */
  from(...clauses: readonly string[]): string;
  /** What a field adds up to, of those that are summed; money in the organisation's own currency. */
  readonly sums: Readonly<Record<string, string>>;
}

export interface PageAsked {
  readonly sort: readonly SortPart[];
  readonly group?: string | undefined;
  /** How many rows lie before the page. */
  readonly after: number;
  /** The row before the page, where it is known: the page is found by it, however far down it is. */
  readonly follows?: string | undefined;
  readonly limit: number;
}

/** Ids of one page of a view, in its order: those that follow a row of it, or, where that is not in it any more, by their place. */
export async function readPageIds<Id extends IdBytes>(
  db: Queryable,
  list: ListSql,
  { where, parameters }: Clauses,
  { sort, group, after, follows, limit }: PageAsked,
  setting: FilterSetting,
): Promise<Id[]> {
  const order = orderOf(list, sort, group, setting);
  const by = orderText(order);
  const given = { ...parameters, ...order.parameters };
  const read = async (more: Clauses, offset: number) => {
    const rows = await db.rows<{ id: Id }>(
      `SELECT ${list.id} AS id ${list.from(where, by)} ${where}${more.where}
        ORDER BY ${by} LIMIT ${limit} OFFSET ${offset}`,
      { ...given, ...more.parameters },
    );
    return rows.map(({ id }) => id);
  };
  if (follows !== undefined) {
    const keys = order.parts.map(({ sql }, at) => `${sql} AS k${at}`).join(', ');
    const [row] = await db.rows<Record<string, SqlValue>>(
      `SELECT ${keys} ${list.from(where, by)} ${where} AND ${list.id} = :follows`,
      { ...given, follows: bytesOf(follows) },
    );
    if (row !== undefined) {
      const next = beyond(
        order,
        order.parts.map((_, at) => row[`k${at}`]!),
      );
      return read({ where: ` AND ${next.where}`, parameters: next.parameters }, 0);
    }
  }
  return read({ where: '', parameters: {} }, after);
}

const mostGroups = 500;

/** Counts and sums of a view, whole and by group, in the order in which the list shows the groups. */
export async function readCount(
  db: Queryable,
  list: ListSql,
  { where, parameters }: Clauses,
  group: string | undefined,
  setting: FilterSetting,
): Promise<Omit<GridCount, 'total'>> {
  const sums = Object.entries(list.sums);
  const columns = ['COUNT(*) AS count', ...sums.map(([, sql], at) => `SUM(${sql}) AS sum${at}`)].join(', ');
  type Counted = Record<`sum${number}`, string | null> & { count: string };
  const read = (row: Counted | undefined) => ({
    count: wholeNumber(row?.count ?? 0),
    sums: Object.fromEntries(sums.map(([field], at) => [field, wholeNumber(row?.[`sum${at}`] ?? 0)])),
  });
  const [whole] = await db.rows<Counted>(
    `SELECT ${columns} ${list.from(where, columns)} ${where}`,
    parameters,
  );
  const found = read(whole);
  if (group === undefined) return { found: found.count, sums: found.sums, groups: [] };
  const all = { ...parameters };
  const order = sortExpression(list, group, setting, all);
  const key = list.columns[group] || order;
  const rows = await db.rows<Counted & { grouping: IdBytes | string | number | null }>(
    `SELECT ${key} AS grouping, ${columns} ${list.from(where, columns, key, order)} ${where}
      GROUP BY 1${key === order ? '' : `, ${order}`} ORDER BY ${order} IS NULL, ${order} LIMIT ${mostGroups}`,
    all,
  );
  const names = await readNames(db, list.fields[group]?.type);
  return {
    found: found.count,
    sums: found.sums,
    groups: rows.map(({ grouping, ...row }) => {
      const value = Buffer.isBuffer(grouping)
        ? idOf<string>(grouping)
        : grouping === null
          ? null
          : String(grouping);
      const field = list.fields[group];
      const name =
        value === null || value === ''
          ? 'empty'
          : (names.get(value) ??
            field?.choiceNames?.[value] ??
            (field?.type === 'yes-no' ? yesNo(value) : value));
      return { key: value, name, ...read(row as Counted) };
    }),
  };
}

const yesNo = (value: string) => (value === '1' ? 'yes' : 'no');

/** Tables whose names stand for their ids. */
const named = { user: 'app_user', standing: 'standing', stage: 'stage', pipeline: 'pipeline' } as const;

/** Names behind the ids that fields of a type hold. */
export async function readNames(
  db: Queryable,
  type: string | undefined,
): Promise<ReadonlyMap<string, string>> {
  const table = named[type as keyof typeof named] as (typeof named)[keyof typeof named] | undefined;
  if (table === undefined) return new Map();
  const rows = await db.rows<Row<'app_user', 'id' | 'name'>>(`SELECT id, name FROM ${table} ORDER BY id`);
  return new Map(rows.map(({ id, name }) => [idOf<string>(id), name]));
}
