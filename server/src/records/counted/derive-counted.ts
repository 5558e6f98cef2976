import { type Counted, measures } from '@kettle/contract/base/counted';
import { bytesOf } from '../../platform/ids';
import { addTo } from '../../platform/add-to';
import type { SqlValue } from '../../platform/database/database';
import type { Deriver, Work } from '../../platform/work/work';
import { idOfHex, Written, type WrittenRow } from '../../platform/work/written';
import { columnOf, countedTables, measureSql, measuresOf } from './measures';

const kinds = Object.keys(countedTables) as Counted[];
const entryFields = [
  'at',
  'kind',
  'direction',
  'counts',
  'contact_id',
  'company_id',
  'deal_id',
  'removed_at',
];
const recordsAtOnce = 500;

/** Columns that keep what is counted, in the order in which statements name them. */
const columns = measures.flatMap((measure) =>
  (['many', 'first', 'last'] as const).map((part) => ({
    part,
    name: `${columnOf(measure)}_${part}`,
    measure,
  })),
);
const names = columns.map(({ name }) => name).join(', ');

/** What happened with records whose journal a unit of work wrote: what was added is added, anything else is counted anew. */
export const deriveCounted: Deriver = async (w, written) => {
  for (const kind of kinds) {
    const anew = await countedAnew(w, written, kind);
    const added = new Map<string, WrittenRow[]>();
    for (const row of written.of('journal_entry')) {
      const hex = row.refs[countedTables[kind].named];
      if (row.op === 'insert' && hex && row.refs.removed_at === null) addTo(added, idOfHex(hex), row);
    }
    for (const id of anew) added.delete(id);
    await addEntries(w, kind, added);
    await recount(w, kind, [...anew]);
  }
};

/** Records of which an entry was changed, removed, put back or shared. */
async function countedAnew(w: Work, written: Written, kind: Counted): Promise<Set<string>> {
  const changed = new Written(written.rows.filter(({ op }) => op !== 'insert'));
  const anew = new Set(changed.ids('journal_entry', countedTables[kind].named, entryFields));
  if (kind !== 'contact') return anew;
  const entries = changed.ids('journal_entry', 'id', entryFields);
  const shared =
    entries.length === 0
      ? []
      : await w.rows<{ id: Buffer }>(
          'SELECT DISTINCT contact_id AS id FROM entry_person WHERE entry_id IN (:entries) ORDER BY contact_id',
          { entries: entries.map((id) => bytesOf(id)) },
        );
  for (const { id } of shared) anew.add(idOfHex(id.toString('hex')));
  for (const id of written.ids('entry_person', 'contact_id')) anew.add(id);
  return anew;
}

/** Added to what is counted so far, whatever the length of the journal. */
async function addEntries(
  w: Pick<Work, 'later'>,
  kind: Counted,
  added: ReadonlyMap<string, readonly WrittenRow[]>,
): Promise<void> {
  const rows: SqlValue[][] = [];
  for (const [id, entries] of added) {
    const counted = entries.flatMap(({ refs }) => {
      const { kind: entryKind, direction = null, counts, at } = refs;
      return measuresOf({ kind: entryKind!, direction, counts: counts! }).map((measure) => ({
        measure,
        at: at!,
      }));
    });
    if (counted.length === 0) continue;
    const values = columns.map(({ measure, part }) => {
      const moments = counted.filter((each) => each.measure === measure).map(({ at }) => at);
      if (part === 'many') return moments.length;
      moments.sort();
      return (part === 'first' ? moments[0] : moments.at(-1)) ?? null;
    });
    rows.push([bytesOf(id), ...values]);
  }
  if (rows.length === 0) return;
  const join = ({ part, name }: (typeof columns)[number]) =>
    part === 'many'
      ? `${name} = ${name} + VALUES(${name})`
      : `${name} = ${part === 'first' ? 'LEAST' : 'GREATEST'}(COALESCE(${name}, VALUES(${name})), COALESCE(VALUES(${name}), ${name}))`;
  await w.later(
    `INSERT INTO ${countedTables[kind].table} (id, ${names}) VALUES :rows
     ON DUPLICATE KEY UPDATE ${columns.map(join).join(', ')}`,
    { rows },
  );
}

/** Counts the whole journal of records. One that nothing happened with has no row. Relies on journal_contact, journal_company, journal_deal. */
export async function recount(w: Pick<Work, 'later'>, kind: Counted, ids: readonly string[]): Promise<void> {
  const { table, subject, named } = countedTables[kind];
  const entries =
    kind === 'contact'
      ? `(SELECT contact_id AS of_id, id AS entry_id FROM journal_entry WHERE contact_id IN (:ids)
          UNION SELECT contact_id, entry_id FROM entry_person WHERE contact_id IN (:ids)) l
         JOIN journal_entry e ON e.id = l.entry_id`
      : `(SELECT ${named} AS of_id, id AS entry_id FROM journal_entry WHERE ${named} IN (:ids)) l
         JOIN journal_entry e ON e.id = l.entry_id`;
  const sums = columns.map(({ part, measure }) => {
    const is = measureSql(measure);
    if (part === 'many') return `SUM(${is})`;
    return `${part === 'first' ? 'MIN' : 'MAX'}(IF(${is}, e.at, NULL))`;
  });
  for (let from = 0; from < ids.length; from += recordsAtOnce) {
    const part = { ids: ids.slice(from, from + recordsAtOnce).map((id) => bytesOf(id)) };
    await w.later(`DELETE FROM ${table} WHERE id IN (:ids)`, part);
    await w.later(
      `INSERT INTO ${table} (id, ${names})
       SELECT s.id, ${sums.join(', ')} FROM ${entries} JOIN ${subject} s ON s.id = l.of_id
        WHERE e.removed_at IS NULL AND (${measures.map((each) => `(${measureSql(each)})`).join(' OR ')}) AND e.kind <> 'system'
        GROUP BY s.id`,
      part,
    );
  }
}
