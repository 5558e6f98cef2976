import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import type { Reaction } from '../../platform/work/work';
import { idOfHex, type Written, type WrittenRow } from '../../platform/work/written';
import { writeSystemEntry } from '../../records/entries/index';

/** Rows that say something happens with a record again: new ones, or ones that are open again. */
const liveTables = ['agreement', 'contact', 'deal', 'journal_entry', 'run', 'sales_lead', 'task'] as const;
const liveStates = new Set(['open', 'parked', 'running', 'untried', 'trying', 'in-talks']);

const archivable = [
  { table: 'contact', column: 'contact_id', name: 'display_name' },
  { table: 'company', column: 'company_id', name: 'name' },
  { table: 'deal', column: 'deal_id', name: 'name' },
] as const;
type Archivable = (typeof archivable)[number]['table'];

/**
 * Whatever happens with an archived contact, company or deal takes it out of the archive: an entry, a task, a cadence, a lead, an agreement, a
 * deal that is made or opened again. The system's own entries do not.
 */
export const bringBack: Reaction = async (w, written) => {
  const live = w.isUndo ? [] : liveRows(written);
  if (live.length === 0) return;
  const concerned = archivable
    .map((each) => ({ ...each, ids: idsIn(live, each.table, each.column) }))
    .filter(({ ids }) => ids.length > 0);
  if (concerned.length === 0) return;
  const archived = await w.rows<{ table: Archivable; id: IdBytes; name: string }>(
    concerned
      .map(
        ({ table, name }) =>
          `(SELECT '${table}' AS \`table\`, id, ${name} AS name FROM ${table} WHERE id IN (:${table}) AND archived_at IS NOT NULL ORDER BY id)`,
      )
      .join(' UNION ALL '),
    Object.fromEntries(concerned.map(({ table, ids }) => [table, ids.map((id) => bytesOf(id))])),
  );
  for (const { table, name, ...row } of archived) {
    const id = idOf<string>(row.id);
    await w.change(`UPDATE ${table} SET archived_at = NULL, version = version + 1 WHERE id = :id`, {
      id: row.id,
    });
    const subject = { contact: { contactId: id }, company: { companyId: id }, deal: { dealId: id } }[table];
    const body = $localize`${name}:name: is out of the archive: something happens here again`;
    await writeSystemEntry(w, { ...subject, body, userId: w.who?.id ?? null });
  }
};

function liveRows(written: Written): WrittenRow[] {
  return written.of(...liveTables).filter(({ op, table, refs, became }) => {
    if (op === 'insert') return table !== 'journal_entry' || refs.kind !== 'system';
    if (op === 'delete' || table === 'journal_entry') return false;
    if (table === 'contact') return became?.company_id !== undefined;
    return liveStates.has(became?.state ?? became?.status ?? '');
  });
}

/** Records of a table that rows name; a deal that is open again is one itself. */
function idsIn(rows: readonly WrittenRow[], table: string, column: string): string[] {
  const hexes = rows.flatMap((row) => {
    if (row.table === table) return table === 'deal' ? [row.refs.id] : [];
    return [row.refs[column]];
  });
  return [...new Set(hexes.filter((hex) => hex !== null && hex !== undefined))].map((hex) => idOfHex(hex));
}
