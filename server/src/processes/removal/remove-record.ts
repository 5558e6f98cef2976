import { Rows } from '../../activity/changes/index';
import { customWith } from '../../records/fields/index';
import type { Queryable } from '../../platform/database/database';
import { Problem } from '../../platform/problem';
import { bytesOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { rowKeyOf } from '../../platform/work/written';
import { work } from '../../platform/work/work';
import type { SignedIn } from '../../records/users/index';
import { lockRecord, tableOf, type SeenRecord } from './lock-record';

/** What keeps a record from being deleted: money hangs on it, and whose it was would be lost. */
const keeps: Readonly<Record<string, readonly string[]>> = {
  contact: ['deal.contact_id', 'agreement.contact_id'],
  company: ['deal.company_id', 'agreement.company_id'],
  deal: ['agreement.deal_id', 'quote.deal_id', 'invoice.deal_id'],
};

/** What only names a record and is about something else as well: it names it no more. Everything else that refers to it is deleted with it. */
const detached = new Set([
  'agreement.signer_id',
  'agreement_term.deal_id',
  'agreement_term.renewal_deal_id',
  'appointment.contact_id',
  'appointment.deal_id',
  'contact.company_id',
  'contact.site_id',
  'deal.lead_id',
  'deal.origin_id',
  'deal.parent_id',
  'journal_entry.company_id',
  'journal_entry.deal_id',
  'journal_entry.run_id',
  'journal_entry.task_id',
  'mail.contact_id',
  'mail.deal_id',
  'mail.entry_id',
  'mail.run_id',
  'offered_times.deal_id',
  'phone_call.contact_id',
  'run.deal_id',
  'sales_lead.deal_id',
  'stirring.contact_id',
  'stirring.deal_id',
  'invoice.task_id',
  'quote.task_id',
  'stored_file.agreement_id',
  'stored_file.company_id',
  'stored_file.contact_id',
  'stored_file.deal_id',
  'task.company_id',
  'text_message.contact_id',
  'text_message.entry_id',
  'text_message.run_id',
]);

/**
 * Deletes a record with all that is only about it: of a contact its journal, tasks, cadences and leads; of a company its sites, not its people.
 * A change set like any other: for 30 days its undo brings everything back.
 * @throws Problem `not-found`, `not-yours`, `stale`, `in-use` when a deal or an agreement hangs on it
 */
export async function removeRecord(services: Services, who: SignedIn, asked: SeenRecord): Promise<string> {
  return work(services, who, async (w) => {
    const name = await lockRecord(w, asked);
    await assertFree(w, asked, name);
    const rows = await Rows.open(w, services.database);
    if (asked.kind === 'company')
      await w.change('UPDATE contact SET company_name = NULL, version = version + 1 WHERE company_id = :id', {
        id: bytesOf(asked.id),
      });
    if (asked.kind !== 'agreement')
      await w.change(`DELETE FROM custom_value WHERE ${customWith}`, { id: bytesOf(asked.id) });
    await removeRow(rows, { table: tableOf[asked.kind], key: rowKeyOf(asked.id) });
    w.say($localize`${name}:name: deleted`);
    return $localize`${name}:name: is deleted.`;
  });
}

async function assertFree(db: Queryable, { kind, id }: SeenRecord, name: string): Promise<void> {
  for (const reference of keeps[kind] ?? []) {
    const [table, column] = reference.split('.') as [string, string];
    const rows = await db.rows<{ name: string }>(
      `SELECT name FROM ${table} WHERE ${column} = :id ORDER BY name, id LIMIT 3`,
      { id: bytesOf(id) },
    );
    if (rows.length > 0)
      throw new Problem('in-use', { what: name, where: rows.map((row) => row.name).join(', ') });
  }
}

interface Removed {
  readonly table: string;
  readonly key: string;
  /** The references that only name it: they are emptied. */
  readonly names?: ReadonlySet<string>;
}

/** What refers to a row first, then the row. */
export async function removeRow(rows: Rows, removed: Removed): Promise<void> {
  await removeReferring(rows, removed);
  await rows.remove(removed.table, removed.key);
}

/** Only what refers to a row. It is read in parts, and none is left at the end. */
export async function removeReferring(
  rows: Rows,
  { table, key, names = detached }: Removed,
  isKept: (reference: string) => boolean = () => false,
): Promise<void> {
  for (;;) {
    const referring = (await rows.referring(table, key)).filter(
      (each) => !isKept(`${each.table}.${each.column}`),
    );
    if (referring.length === 0) return;
    for (const each of referring)
      if (names.has(`${each.table}.${each.column}`))
        await rows.update(each.table, each.key, { [each.column]: null });
      else await removeRow(rows, { table: each.table, key: each.key, names });
  }
}

/** What of a person's is about something else as well, so that it only names them. */
export const namesOnly: ReadonlySet<string> = detached;

/** For tests: whether a reference to a record is known to keep it, to be detached, or to be deleted with it. */
export const fateOf = (parent: string, reference: string) =>
  (keeps[parent] ?? []).includes(reference) ? 'keeps' : detached.has(reference) ? 'detached' : 'deleted';
