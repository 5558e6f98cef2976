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

/**
 * What is counted, as expressions of a list's statement, with the parameters of `reachParameters`. Where the reader may not read every entry
 * of a company, theirs are counted from the journal; else what is kept is looked up by its key.
 */
export function countedColumns<Of extends Counted>(
  of: Of,
  { who, today }: Reader,
): Readonly<Record<CountedKey<Of>, string>> {
  const [alias, { table, named }] = [aliases[of], countedTables[of]];
  const isPart = of === 'company' && isLimited(who, 'entry', 'reads');
  const columns: Record<string, string> = {};
  // Days are those of the reader's clock as it goes today.
  const shift = minutesBetween(localMoment(today, 0, who.zone), `${today}T00:00:00.000Z`);
  for (const measure of measures) {
    const kept = (part: string) =>
      `(SELECT n.${columnOf(measure)}_${part} FROM ${table} n WHERE n.id = ${alias}.id)`;
    const counted = (what: string) =>
      `(SELECT ${what} FROM journal_entry e WHERE e.${named} = ${alias}.id AND e.removed_at IS NULL AND e.kind <> 'system'
          AND ${measureSql(measure)} AND ${withinReach(who, 'entry', 'e')})`;
    columns[`${measure}-many`] = `COALESCE(${isPart ? counted('COUNT(*)') : kept('many')}, 0)`;
    columns[`${measure}-first`] = isPart ? counted('MIN(e.at)') : kept('first');
    columns[`${measure}-last`] = isPart ? counted('MAX(e.at)') : kept('last');
    columns[`${measure}-days`] =
      `DATEDIFF('${today}', ${columns[`${measure}-last`]} + INTERVAL ${shift} MINUTE)`;
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
    for (const status of of === 'company' ? ['won', 'lost'] : ['open', 'won', 'lost']) {
      columns[`deals-${status}`] = deals('COUNT(*)', status);
      columns[`deals-${status}-value`] = deals('COALESCE(SUM(od.home_minor), 0)', status);
    }
    const agreements = (what: string) =>
      `(SELECT ${what} FROM agreement oa WHERE oa.${named} = ${alias}.id AND oa.archived_at IS NULL
          AND oa.ends_on > '${today}' AND ${withinReach(who, 'agreement', 'oa')})`;
    columns.agreements = agreements('COUNT(*)');
    columns['yearly-value'] = agreements('COALESCE(SUM(ROUND(oa.home_minor * 12 / oa.term_months)), 0)');
  }
  return columns as Readonly<Record<CountedKey<Of>, string>>;
}

/** What is counted of the records of a page, by their ids in hex. */
export async function readCounted(
  db: Queryable,
  of: Counted,
  ids: readonly IdBytes[],
  reader: Reader,
): Promise<ReadonlyMap<string, CountedValues>> {
  if (ids.length === 0) return new Map();
  const columns = Object.entries<string>(countedColumns(of, reader));
  const alias = aliases[of];
  const rows = await db.rows<Record<string, Buffer | string | number | null>>(
    `SELECT ${alias}.id, ${columns.map(([key, sql]) => `${sql} AS \`${key}\``).join(', ')}
       FROM ${countedTables[of].subject} ${alias} WHERE ${alias}.id IN (:ids)`,
    { ...reachParameters(reader.who), ids: [...ids] },
  );
  return new Map(
    rows.map(({ id, ...values }) => {
      const counted: Record<string, number | string | null> = {};
      for (const [key, value] of Object.entries(values))
        counted[key] =
          value === null
            ? null
            : /-(first|last)$/.test(key)
              ? instantOf(String(value))
              : wholeNumber(String(value));
      return [(id as Buffer).toString('hex'), counted] as const;
    }),
  );
}
