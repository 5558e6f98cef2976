import { type Counted, type CountedKey, type CountedValues, measures } from '@kettle/contract/base/counted';
import { localMoment, minutesBetween } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import { instantOf, wholeNumber } from '../../platform/database/values';
import type { IdBytes } from '../../platform/ids';
import { isLimited, reachParameters, withinReach } from '../rights/index';
import type { SignedIn } from '../users/index';
import { columnOf, countedTables, measureSql } from './measures';

/** Who reads, and on which day: what is late, and how long ago something was, counts from there. */
export interface Reader {
  readonly who: SignedIn;
  readonly today: string;
}

/** The record's alias in the lists' statements. */
const aliases: Readonly<Record<Counted, string>> = { contact: 'c', company: 'co', deal: 'd' };

const isPartOf = (of: Counted, { who }: Reader) => of === 'company' && isLimited(who, 'entry', 'reads');

/** Of a company its open deals are its own figures. */
const dealStatuses = (of: Counted) => (of === 'company' ? ['won', 'lost'] : ['open', 'won', 'lost']);

/** Days are those of the reader's clock as it goes today. */
function daysSince(moment: string, { who, today }: Reader): string {
  const shift = minutesBetween(localMoment(today, 0, who.zone), `${today}T00:00:00.000Z`);
  return `DATEDIFF('${today}', ${moment} + INTERVAL ${shift} MINUTE)`;
}

/**
 * What is counted, as expressions of a list's statement, with the parameters of `reachParameters`. Where the reader may not read every entry
 * of a company, theirs are counted from the journal; else what is kept is looked up by its key.
 */
export function countedColumns<Of extends Counted>(
  of: Of,
  { who, today }: Reader,
): Readonly<Record<CountedKey<Of>, string>> {
  const [alias, { table, named }] = [aliases[of], countedTables[of]];
  const reader = { who, today };
  const isPart = isPartOf(of, reader);
  const columns: Record<string, string> = {};
  for (const measure of measures) {
    const kept = (part: string) =>
      `(SELECT n.${columnOf(measure)}_${part} FROM ${table} n WHERE n.id = ${alias}.id)`;
    const counted = (what: string) =>
      `(SELECT ${what} FROM journal_entry e WHERE e.${named} = ${alias}.id AND e.removed_at IS NULL AND e.kind <> 'system'
          AND ${measureSql(measure)} AND ${withinReach(who, 'entry', 'e')})`;
    columns[`${measure}-many`] = `COALESCE(${isPart ? counted('COUNT(*)') : kept('many')}, 0)`;
    columns[`${measure}-first`] = isPart ? counted('MIN(e.at)') : kept('first');
    columns[`${measure}-last`] = isPart ? counted('MAX(e.at)') : kept('last');
    columns[`${measure}-days`] = daysSince(columns[`${measure}-last`]!, reader);
  }
  // Its question looks at the last of each that counts.
  columns.contacted = 'NULL';
  columns.mails = `(${columns['mail-in-many']} + ${columns['mail-out-many']})`;
  const tasks = (also: string) =>
    `(SELECT COUNT(*) FROM task t WHERE t.${named} = ${alias}.id AND t.state = 'open'${also} AND ${withinReach(who, 'task', 't')})`;
  columns['open-tasks'] = tasks('');
  columns['late-tasks'] = tasks(` AND t.due_on < '${today}'`);
  if (of !== 'deal') {
    const deals = (what: string, status: string) =>
      `(SELECT ${what} FROM deal od WHERE od.${named} = ${alias}.id AND od.status = '${status}' AND od.archived_at IS NULL
          AND ${withinReach(who, 'deal', 'od')})`;
    for (const status of dealStatuses(of)) {
      columns[`deals-${status}`] = deals('COUNT(*)', status);
      columns[`deals-${status}-value`] = deals('COALESCE(SUM(od.home_minor), 0)', status);
    }
    const agreements = (what: string) =>
      `(SELECT ${what} FROM agreement oa WHERE oa.${named} = ${alias}.id AND oa.archived_at IS NULL
          AND oa.state IN ('ahead', 'running') AND ${withinReach(who, 'agreement', 'oa')})`;
    columns.agreements = agreements('COUNT(*)');
    columns['yearly-value'] = agreements('COALESCE(SUM(oa.yearly_home_minor), 0)');
  }
  return columns as Readonly<Record<CountedKey<Of>, string>>;
}

/**
 * What is counted of the records of a page, by their ids in hex: a statement for each table it lies in, as looking each figure up for each
 * record takes ten times as long.
 */
export async function readCounted(
  db: Queryable,
  of: Counted,
  ids: readonly IdBytes[],
  reader: Reader,
): Promise<ReadonlyMap<string, CountedValues>> {
  if (ids.length === 0) return new Map();
  const parameters = { ...reachParameters(reader.who), ids: [...ids], today: reader.today };
  const statements = [countsOf(of, reader), tasksOf(of, reader)];
  if (of !== 'deal') statements.push(dealsOf(of, reader), agreementsOf(of, reader));
  const parts = await Promise.all(statements.map((sql) => db.rows<CountedRow>(sql, parameters)));
  const found = new Map(ids.map((id) => [id.toString('hex'), { ...nothing[of] } as CountedValues]));
  for (const { id, ...values } of parts.flat()) {
    const counted = found.get(id.toString('hex'))! as Record<string, number | string | null>;
    for (const [key, value] of Object.entries(values)) counted[key] = valueOf(key, value);
  }
  for (const counted of found.values()) {
    const own = counted as Record<string, number>;
    own.mails = own['mail-in-many']! + own['mail-out-many']!;
  }
  return found;
}

const moments = new Set<string>(measures.flatMap((measure) => [`${measure}-first`, `${measure}-last`]));

function valueOf(key: string, value: string | number | null): number | string | null {
  if (value === null || typeof value === 'number') return value;
  return moments.has(key) ? instantOf(value) : wholeNumber(value);
}

type CountedRow = { readonly id: Buffer } & Readonly<Record<string, string | number | null>>;

const columnsOf = (columns: readonly (readonly [string, string])[]) =>
  columns.map(([key, sql]) => `${sql} AS \`${key}\``).join(', ');

/** What is kept of each measure; of companies whose entries the reader may not all read, counted from those they may. */
function countsOf(of: Counted, reader: Reader): string {
  const [alias, { table, subject }] = [aliases[of], countedTables[of]];
  if (isPartOf(of, reader)) {
    const all = Object.entries<string>(countedColumns(of, reader));
    const own = all.filter(([key]) => measures.some((measure) => key.startsWith(`${measure}-`)));
    return `SELECT ${alias}.id, ${columnsOf(own)} FROM ${subject} ${alias} WHERE ${alias}.id IN (:ids)`;
  }
  const columns = measures.flatMap((measure) => {
    const [many, first, last] = (['many', 'first', 'last'] as const).map(
      (part) => `n.${columnOf(measure)}_${part}`,
    );
    return [
      [`${measure}-many`, `COALESCE(${many}, 0)`],
      [`${measure}-first`, first!],
      [`${measure}-last`, last!],
      [`${measure}-days`, daysSince(last!, reader)],
    ] as const;
  });
  return `SELECT ${alias}.id, ${columnsOf(columns)} FROM ${subject} ${alias} LEFT JOIN ${table} n ON n.id = ${alias}.id WHERE ${alias}.id IN (:ids)`;
}

function tasksOf(of: Counted, { who }: Reader): string {
  const column = `t.${countedTables[of].named}`;
  return `SELECT ${column} AS id, COUNT(*) AS \`open-tasks\`, SUM(t.due_on < :today) AS \`late-tasks\` FROM task t
     WHERE ${column} IN (:ids) AND t.state = 'open' AND ${withinReach(who, 'task', 't')} GROUP BY ${column}`;
}

function dealsOf(of: 'contact' | 'company', { who }: Reader): string {
  const column = `od.${countedTables[of].named}`;
  const columns = dealStatuses(of).flatMap(
    (status) =>
      [
        [`deals-${status}`, `SUM(od.status = '${status}')`],
        [`deals-${status}-value`, `SUM(IF(od.status = '${status}', COALESCE(od.home_minor, 0), 0))`],
      ] as const,
  );
  return `SELECT ${column} AS id, ${columnsOf(columns)} FROM deal od
     WHERE ${column} IN (:ids) AND od.archived_at IS NULL AND ${withinReach(who, 'deal', 'od')} GROUP BY ${column}`;
}

function agreementsOf(of: 'contact' | 'company', { who }: Reader): string {
  const column = `oa.${countedTables[of].named}`;
  return `SELECT ${column} AS id, COUNT(*) AS agreements,
          COALESCE(SUM(oa.yearly_home_minor), 0) AS \`yearly-value\` FROM agreement oa
     WHERE ${column} IN (:ids) AND oa.archived_at IS NULL AND oa.state IN ('ahead', 'running') AND ${withinReach(who, 'agreement', 'oa')} GROUP BY ${column}`;
}

/** What a record has of which there are no rows. */
const zeros = (keys: readonly string[]) => Object.fromEntries(keys.map((key) => [key, 0]));
const noDeals = (of: 'contact' | 'company') =>
  zeros([
    ...dealStatuses(of).flatMap((status) => [`deals-${status}`, `deals-${status}-value`]),
    ...['agreements', 'yearly-value'],
  ]);
const noTasks = { contacted: null, 'open-tasks': 0, 'late-tasks': 0 };
const nothing: Readonly<Record<Counted, Readonly<Record<string, number | null>>>> = {
  contact: { ...noTasks, ...noDeals('contact') },
  company: { ...noTasks, ...noDeals('company') },
  deal: noTasks,
};
