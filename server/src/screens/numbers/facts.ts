import {
  halfFigure,
  meanFigure,
  middleFigure,
  shareFigure,
  withinFigure,
  type Figure,
} from '@kettle/core/numbers';
import type { Watched } from '@kettle/core/stats';
import type { ReportColumn } from '@kettle/contract';
import type { Queryable, SqlParameters } from '../../platform/database/database';
import { wholeNumber } from '../../platform/database/values';
import type { RecordKind } from './records';
import { rowKey } from './scope';

/** A column over facts `f`, each of one record; what is counted and summed is SQL over them. */
export interface FactColumn {
  readonly key: string;
  readonly words: string;
  readonly how: string;
  /** Which facts count. */
  readonly of: string;
  readonly as:
    | { readonly kind: 'count' }
    | { readonly kind: 'money' | 'mean-money' | 'minutes'; readonly amount: string }
    /** A part of those that `in` names. */
    | { readonly kind: 'share'; readonly in: string }
    /** Days: the middle one, or after which half went on and what the mean of those is; `happened` are those that went on. */
    | { readonly kind: 'middle'; readonly days: string }
    | { readonly kind: 'half' | 'mean'; readonly days: string; readonly happened: string }
    /** The chance that it happened within so many days. */
    | { readonly kind: 'within'; readonly days: string; readonly happened: string; readonly within: number };
}

/** Facts of records: the SELECT gives `id`, `row_key` and what its columns name. */
export interface Facts {
  readonly record: RecordKind;
  readonly sql: string;
  readonly parameters?: SqlParameters;
  /** Where one record may be in several rows: the same with each record once. */
  readonly whole?: string;
  readonly columns: readonly FactColumn[];
}

export const typeOf = ({ as }: FactColumn): ReportColumn['type'] => {
  switch (as.kind) {
    case 'count':
      return 'count';
    case 'money':
    case 'mean-money':
      return 'money';
    case 'minutes':
      return 'minutes';
    case 'share':
    case 'within':
      return 'share';
    case 'middle':
    case 'half':
    case 'mean':
      return 'days';
  }
};

interface Counted {
  readonly count: number;
  readonly whole: number;
  readonly amount: number;
  readonly cases: readonly Watched[];
}

const nothing: Counted = { count: 0, whole: 0, amount: 0, cases: [] };

/** Figures by row, those of all rows together, and how many amounts are in no sum for want of a rate. */
export interface Lines {
  readonly rows: ReadonlyMap<string, readonly Figure[]>;
  readonly total: readonly Figure[];
  readonly unconverted: number;
}

/** Counts facts by their rows: one statement, and one more for each column of days. */
export async function readLines(db: Queryable, facts: Facts, asked: SqlParameters): Promise<Lines> {
  const parameters = { ...asked, ...facts.parameters };
  const { rows, unconverted } = await countRows(db, facts, facts.sql, parameters);
  const all = facts.whole === undefined ? null : await countRows(db, facts, facts.whole, parameters);
  const total = facts.columns.map((_, at) =>
    added([...(all?.rows ?? rows).values()].map((each) => each[at]!)),
  );
  const figures = (counted: readonly Counted[]) =>
    counted.map((each, at) => figureOf(facts.columns[at]!, each));
  return {
    rows: new Map([...rows].map(([key, counted]) => [key, figures(counted)])),
    total: figures(total),
    unconverted: all?.unconverted ?? unconverted,
  };
}

const isDays = ({ as }: FactColumn) =>
  as.kind === 'half' || as.kind === 'mean' || as.kind === 'middle' || as.kind === 'within';

async function countRows(
  db: Queryable,
  { columns }: Facts,
  sql: string,
  parameters: SqlParameters,
): Promise<{ rows: Map<string, Counted[]>; unconverted: number }> {
  const sums = columns.flatMap(({ of, as }, at) => [
    `SUM(IF(${of}, 1, 0)) AS n${at}`,
    ...(as.kind === 'share' ? [`SUM(IF(${as.in}, 1, 0)) AS w${at}`] : []),
    ...('amount' in as
      ? [`SUM(IF(${of}, ${as.amount}, 0)) AS a${at}`, `SUM(IF(${of}, ${as.amount} IS NULL, FALSE)) AS u${at}`]
      : []),
  ]);
  const read = await db.rows<Record<string, string | null> & { row_key: string }>(
    `SELECT ${rowKey} AS row_key, ${sums.join(', ')} FROM (${sql}) f GROUP BY 1 ORDER BY 1`,
    parameters,
  );
  const cases = new Map<number, ReadonlyMap<string, readonly Watched[]>>();
  for (const [at, column] of columns.entries())
    if (isDays(column)) cases.set(at, await readCases(db, column, sql, parameters));
  const rows = new Map(
    read.map((row) => [
      row.row_key,
      columns.map((column, at): Counted => {
        const count = wholeNumber(row[`n${at}`] ?? 0);
        const amount = wholeNumber(row[`a${at}`] ?? 0);
        return {
          // A mean is of those whose amount is known.
          count: column.as.kind === 'mean-money' ? count - wholeNumber(row[`u${at}`] ?? 0) : count,
          whole: wholeNumber(row[`w${at}`] ?? 0),
          amount,
          cases: cases.get(at)?.get(row.row_key) ?? [],
        };
      }),
    ]),
  );
  const unconverted = Math.max(
    0,
    ...columns.map((column, at) =>
      column.as.kind === 'money' ? read.reduce((sum, row) => sum + wholeNumber(row[`u${at}`] ?? 0), 0) : 0,
    ),
  );
  return { rows, unconverted };
}

/** Days by row as counts of each: however many facts there are, as many lines as there are different days. */
async function readCases(
  db: Queryable,
  { of, as }: FactColumn,
  sql: string,
  parameters: SqlParameters,
): Promise<ReadonlyMap<string, readonly Watched[]>> {
  if (!('days' in as)) return new Map();
  const happened = 'happened' in as ? as.happened : 'TRUE';
  const read = await db.rows<{ row_key: string; days: number; happened: number; many: string }>(
    `SELECT ${rowKey} AS row_key, ${as.days} AS days, IF(${happened}, 1, 0) AS happened, COUNT(*) AS many
       FROM (${sql}) f WHERE ${of} AND ${as.days} IS NOT NULL GROUP BY 1, 2, 3 ORDER BY 1, 2, 3`,
    parameters,
  );
  const cases = new Map<string, Watched[]>();
  for (const { row_key: key, days, happened: did, many } of read) {
    const known = cases.get(key) ?? [];
    known.push({ time: Number(days), happened: did === 1, count: wholeNumber(many) });
    cases.set(key, known);
  }
  return cases;
}

const added = (all: readonly Counted[]): Counted =>
  all.reduce(
    (sum, { count, whole, amount, cases }) => ({
      ...{ count: sum.count + count, whole: sum.whole + whole, amount: sum.amount + amount },
      cases: [...sum.cases, ...cases],
    }),
    nothing,
  );

function figureOf({ as }: FactColumn, { count, whole, amount, cases }: Counted): Figure {
  switch (as.kind) {
    case 'count':
      return { value: count };
    case 'money':
    case 'minutes':
      return { value: amount };
    case 'mean-money':
      return { value: count === 0 ? null : Math.round(amount / count) };
    case 'share':
      return shareFigure(count, whole);
    case 'middle':
      return middleFigure(cases);
    case 'half':
      return halfFigure(cases);
    case 'mean':
      return meanFigure(cases);
    case 'within':
      return withinFigure(cases, as.within);
  }
}
