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

/** Counts facts by their rows, in one statement, and one more where a record may be in several rows. */
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

/** The days that a column is about, and which of them went on; all of a report's columns are about the same. */
const daysOf = ({ as }: FactColumn): string[] =>
  'days' in as ? [as.days, 'happened' in as ? as.happened : 'TRUE'] : [];

/** One pass over the facts: grouped by row, and by days where a column is about them, however many facts there are. */
async function countRows(
  db: Queryable,
  { columns }: Facts,
  sql: string,
  parameters: SqlParameters,
): Promise<{ rows: Map<string, Counted[]>; unconverted: number }> {
  const [days = 'NULL', happened = 'FALSE'] = columns.flatMap(daysOf);
  const sums = columns.flatMap(({ of, as }, at) => [
    `SUM(IF(${of}, 1, 0)) AS n${at}`,
    ...(as.kind === 'share' ? [`SUM(IF(${as.in}, 1, 0)) AS w${at}`] : []),
    ...('amount' in as
      ? [`SUM(IF(${of}, ${as.amount}, 0)) AS a${at}`, `SUM(IF(${of}, ${as.amount} IS NULL, FALSE)) AS u${at}`]
      : []),
  ]);
  const read = await db.rows<
    Record<string, string | null> & { row_key: string; days: number | null; happened: number }
  >(
    `SELECT ${rowKey} AS row_key, ${days} AS days, IF(${happened}, 1, 0) AS happened, ${sums.join(', ')}
       FROM (${sql}) f GROUP BY 1, 2, 3 ORDER BY 1, 2, 3`,
    parameters,
  );
  const rows = new Map<string, Counted[]>();
  let unconverted = 0;
  for (const group of read) {
    const known = rows.get(group.row_key);
    const found = columns.map((column, at) => countedOf(group, column, at));
    rows.set(group.row_key, known === undefined ? found : known.map((each, at) => added([each, found[at]!])));
    unconverted += Math.max(
      0,
      ...columns.map(({ as }, at) => (as.kind === 'money' ? wholeNumber(group[`u${at}`] ?? 0) : 0)),
    );
  }
  return { rows, unconverted };
}

function countedOf(
  group: Record<string, string | null> & { days: number | null; happened: number },
  { as }: FactColumn,
  at: number,
): Counted {
  const number = (key: string) => wholeNumber(group[`${key}${at}`] ?? 0);
  const count = number('n');
  const isOfDays = 'days' in as && group.days !== null && count > 0;
  return {
    // A mean is of those whose amount is known.
    count: as.kind === 'mean-money' ? count - number('u') : count,
    ...{ whole: number('w'), amount: number('a') },
    cases: isOfDays ? [{ time: Number(group.days), happened: group.happened === 1, count }] : [],
  };
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
