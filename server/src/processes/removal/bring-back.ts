import type { Queryable } from '../../platform/database/database';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import type { Reaction } from '../../platform/work/work';
import { idOfHex, type Written, type WrittenRow } from '../../platform/work/written';
import { writeSystemEntry } from '../../records/entries/index';
import type { Row } from '../../platform/database/schema.generated';

/** Rows that say something happens with a record again: new ones, or ones that are open again. */
const liveTables = ['agreement', 'contact', 'deal', 'journal_entry', 'run', 'sales_lead', 'task'] as const;
const liveStates = new Set(['open', 'parked', 'running', 'untried', 'trying', 'in-talks']);

const archivable = [
  { table: 'contact', column: 'contact_id', name: 'display_name' },
  { table: 'company', column: 'company_id', name: 'name' },
  { table: 'deal', column: 'deal_id', name: 'name' },
] as const;

/**
 * Whatever happens with an archived contact, company or deal takes it out of the archive: an entry, a task, a cadence, a lead, an agreement, a
 * deal that is made or opened again. The system's own entries do not.
 */
export const bringBack: Reaction = async (w, written) => {
  const live = w.isUndo ? [] : liveRows(written);
  if (live.length === 0) return;
  for (const { table, column, name } of archivable) {
    const ids = idsIn(live, table, column);
    if (ids.length === 0) continue;
    const archived = await w.rows<{ id: IdBytes; name: string }>(
      `SELECT id, ${name} AS name FROM ${table} WHERE id IN (:ids) AND archived_at IS NOT NULL ORDER BY id`,
      { ids: ids.map((id) => bytesOf(id)) },
    );
    if (archived.length === 0) continue;
    const bySystem = await systemEntries(w, live);
    const wanted = new Set(
      idsIn(
        live.filter((row) => !bySystem.has(row.key)),
        table,
        column,
      ),
    );
    for (const record of archived) {
      const id = idOf<string>(record.id);
      if (!wanted.has(id)) continue;
      await w.change(`UPDATE ${table} SET archived_at = NULL, version = version + 1 WHERE id = :id`, {
        id: record.id,
      });
      const subject = { contact: { contactId: id }, company: { companyId: id }, deal: { dealId: id } }[table];
      const body = `${record.name} is out of the archive: something happens here again`;
      await writeSystemEntry(w, { ...subject, body, userId: w.who?.id ?? null, now: w.now });
    }
  }
};

function liveRows(written: Written): WrittenRow[] {
  return written.of(...liveTables).filter(({ op, table, became }) => {
    if (op === 'insert') return true;
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

/** Keys of the rows that are the system's own entries. */
async function systemEntries(db: Queryable, rows: readonly WrittenRow[]): Promise<ReadonlySet<string>> {
  const entries = rows.filter(({ table }) => table === 'journal_entry');
  if (entries.length === 0) return new Set();
  const found = await db.rows<Row<'journal_entry', 'id'>>(
    "SELECT id FROM journal_entry WHERE id IN (:ids) AND kind = 'system' ORDER BY id",
    { ids: entries.map(({ refs }) => bytesOf(idOfHex(refs.id!))) },
  );
  const system = new Set(found.map(({ id }) => idOf<string>(id)));
  return new Set(entries.filter(({ refs }) => system.has(idOfHex(refs.id!))).map(({ key }) => key));
}
