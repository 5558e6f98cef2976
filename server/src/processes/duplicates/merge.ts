import type { Contact, ContactId, MergeField, MergeId, mergeContacts } from '@kettle/contract';
import { mergeFieldLabel } from '@kettle/contract';
import { contactPlain } from '@kettle/contract/base/catalogues';
import { nameKey } from '@kettle/core/duplicates';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf, newId } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { insertEntries } from '../../records/entries/index';
import { readContact } from '../../records/contacts/index';
import { findSet, undoSet } from '../../activity/changes/index';
import { type SignedIn } from '../../records/users/index';
import { assertMayChange } from '../../records/rights/index';

import { type PersonWork, work, type Work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

type LiveRow = Record<string, string | number | null | Buffer>;

/** Columns of a contact that are its own; those derived from journal and tasks are derived again. */
const ownColumns = [
  'category',
  'given_name',
  'family_name',
  'sort_name',
  'company_id',
  'company_name',
  'site_id',
  'email',
  'email_label',
  'email_unusable',
  'phone',
  'phone_label',
  'phone_unusable',
  'country',
  'zone',
  'zone_by_hand',
  'standing_id',
  'standing_set_at',
  'check_in_days',
  'owner_id',
  ...contactPlain.keys.map((key) => contactPlain.of(key).column),
  'about',
  'import_id',
  'created_at',
] as const;

const columnsOf: Record<MergeField, readonly string[]> = {
  category: ['category'],
  givenName: ['given_name'],
  familyName: ['family_name'],
  company: ['company_id', 'company_name', 'site_id'],
  email: ['email', 'email_label', 'email_unusable'],
  phone: ['phone', 'phone_label', 'phone_unusable'],
  country: ['country', 'zone', 'zone_by_hand'],
  standing: ['standing_id', 'standing_set_at'],
  checkIn: ['check_in_days'],
  owner: ['owner_id'],
  ...contactPlain.each((_, { column }) => [column]),
};
/** Fields that a gap in the kept contact takes over by itself. */
const fillsGaps: readonly MergeField[] = ['company', 'email', 'phone', 'checkIn', ...contactPlain.keys];

/** Tables whose rows are about one contact and simply go over to the kept one. */
const movedTables = [
  'journal_entry',
  'task',
  'run',
  'deal',
  'sales_lead',
  'agreement',
  'appointment',
  'invitation',
  'offered_times',
  'stored_file',
  'mail',
  'text_message',
  'phone_call',
  'stirring',
  'talk',
] as const;

/** What hangs on a contact and is united with what hangs on the other; what is left of the one that is removed is deleted. */
export const childTables = [
  ['contact_point', 'contact_id'],
  ['contact_company', 'contact_id'],
  ['contact_tag', 'contact_id'],
  ['do_not_contact', 'contact_id'],
  ['custom_value', 'record_id'],
  ['entry_person', 'contact_id'],
  ['deal_person', 'contact_id'],
  ['appointment_guest', 'contact_id'],
  ['not_duplicate', 'one_id'],
  ['not_duplicate', 'other_id'],
] as const;

/**
 * Makes two contacts one. Everything of both is kept: rows go over, addresses and firms become further ones, what only
 * one can hold and was not chosen is said in the journal. Undone as any change is.
 * @throws Problem `stale` when either was changed since, `not-yours`, `not-found`
 */
export async function merge(
  services: Services,
  who: SignedIn,
  body: z.output<typeof mergeContacts>,
): Promise<MergeId> {
  return work(services, who, (w) => mergeInside(w, body));
}

/** The same inside a transaction that does more. */
export async function mergeInside(w: PersonWork, body: z.output<typeof mergeContacts>): Promise<MergeId> {
  const id = newId<MergeId>();
  if (body.keepId === body.goneId) throw new Problem('not-found');
  await w.rows('SELECT 1 FROM contact WHERE id IN (:ids) ORDER BY id FOR UPDATE', {
    ids: [bytesOf(body.keepId), bytesOf(body.goneId)],
  });
  const kept = await readContact(w, body.keepId);
  const gone = await readContact(w, body.goneId);
  await assertMayChange(w, w.who, kept.ownerId);
  await assertMayChange(w, w.who, gone.ownerId);
  if (kept.version !== body.keepVersion) throw new Problem('stale', {}, { current: kept });
  if (gone.version !== body.goneVersion) throw new Problem('stale', {}, { current: gone });
  await mergeRows(w, kept, gone, body.take);
  await w.change(
    `INSERT INTO contact_merge (id, kept_id, gone_id, user_id, gone_name, merged_at) VALUES (:id, :kept, :gone, :user, :name, :now)`,
    {
      id: bytesOf(id),
      kept: bytesOf(kept.id),
      gone: bytesOf(gone.id),
      user: bytesOf(w.who.id),
      name: gone.name,
      now: sqlInstant(w.now),
    },
  );
  w.say($localize`${gone.name}:name: merged into ${kept.name}:name2:`);
  w.publish({
    kind: 'contacts-merged',
    topic: 'contact',
    recordId: kept.id,
    owners: [kept.ownerId, gone.ownerId],
    data: { goneId: gone.id, goneName: gone.name },
  });
  return id;
}

async function mergeRows(
  w: PersonWork,
  kept: Contact,
  gone: Contact,
  take: readonly MergeField[],
): Promise<void> {
  const [keep, drop] = [bytesOf(kept.id), bytesOf(gone.id)];
  const keptRow = await readOwn(w, keep);
  const goneRow = await readOwn(w, drop);
  const taken = new Set([...take, ...fillsGaps.filter((field) => keptRow[columnsOf[field][0]!] === null)]);
  await endSharedRuns(w, { keep, drop, keptName: kept.name });
  for (const table of movedTables)
    await w.change(`UPDATE ${table} SET contact_id = :keep WHERE contact_id = :drop`, { keep, drop });
  await w.change('UPDATE custom_value SET person_id = :keep WHERE person_id = :drop', { keep, drop });
  await w.change('UPDATE agreement SET signer_id = :keep WHERE signer_id = :drop', { keep, drop });
  await uniteChildren(w, keep, drop, { keptRow, goneRow, taken });
  for (const [table, column] of childTables)
    await w.change(`DELETE FROM ${table} WHERE ${column} = :drop`, { drop });
  // Whoever was not archived is not archived now.
  await w.change(
    `UPDATE contact k JOIN contact g ON g.id = :drop SET k.archived_at = NULL WHERE k.id = :keep AND g.archived_at IS NULL`,
    { keep, drop },
  );
  await w.change('DELETE FROM contact WHERE id = :drop', { drop });
  await writeKept(w, keep, keptRow, goneRow, taken);
  await insertEntries(w, [mergeEntry(w, { kept, gone, taken })]);
}

interface Merging {
  readonly kept: Contact;
  readonly gone: Contact;
  readonly taken: ReadonlySet<MergeField>;
}

function mergeEntry(w: PersonWork, { kept, gone, taken }: Merging) {
  // Addresses, numbers and firms become further ones; what has room once only is said here.
  const keptBeside: readonly MergeField[] = ['company', 'email', 'phone'];
  const single = (Object.keys(columnsOf) as MergeField[]).filter((field) => !keptBeside.includes(field));
  const lost = single.flatMap((field) => {
    const [was, other] = taken.has(field)
      ? [valueOf(kept, field), valueOf(gone, field)]
      : [valueOf(gone, field), valueOf(kept, field)];
    return was && was !== other
      ? [$localize`${mergeFieldLabel[field]}:mergeFieldLabel: was ${was}:was:`]
      : [];
  });
  return {
    id: newId<string>(),
    at: w.now,
    kind: 'system' as const,
    direction: null,
    outcomeId: null,
    outcomeLabel: null,
    counts: 'none' as const,
    minutes: null,
    body: [$localize`Merged with ${gone.name}:name:`, ...lost].join('; '),
    userId: w.who.id,
    contactId: kept.id,
    companyId: kept.companyId,
    dealId: null,
    taskId: null,
    runId: null,
  };
}

function valueOf(contact: Contact, field: MergeField): string {
  switch (field) {
    case 'company':
    case 'standing':
      return '';
    case 'checkIn':
      return contact.checkInDays === null ? '' : $localize`${contact.checkInDays}:checkInDays: days`;
    case 'owner':
      return contact.ownerName ?? '';
    case 'country':
      return `${contact.country}, ${contact.zone}`;
    default:
      return contact[field] ?? '';
  }
}

async function readOwn(tx: Queryable, id: Buffer): Promise<LiveRow> {
  const [row] = await tx.rows<LiveRow>(
    `SELECT ${ownColumns.join(', ')}, version FROM contact WHERE id = :id`,
    {
      id,
    },
  );
  if (!row) throw new Problem('not-found');
  return row;
}

/** Both on one cadence: the run of the contact that is removed ends, its open step is dropped. */
async function endSharedRuns(
  w: Work,
  { keep, drop, keptName }: { readonly keep: Buffer; readonly drop: Buffer; readonly keptName: string },
): Promise<void> {
  const runs = await w.rows<Row<'run', 'id'>>(
    `SELECT r.id FROM run r
      WHERE r.contact_id = :drop AND r.status IN ('running', 'paused') AND r.cadence_id IN
            (SELECT k.cadence_id FROM run k WHERE k.contact_id = :keep AND k.status IN ('running', 'paused'))`,
    { keep, drop },
  );
  if (runs.length === 0) return;
  const ids = runs.map((run) => run.id);
  const reason = $localize`merged with ${keptName}:keptName:, who is on it already`.slice(0, 300);
  await w.change(
    "UPDATE run SET status = 'stopped', next_on = NULL, exit_reason = :reason, version = version + 1 WHERE id IN (:ids)",
    { ids, reason },
  );
  await w.change(
    `UPDATE task SET state = 'dropped', drop_reason = :reason, finished_at = :now, version = version + 1
      WHERE run_id IN (:ids) AND state = 'open'`,
    { ids, reason, now: sqlInstant(w.now) },
  );
}

const ownerColumn = (table: string) => (table === 'custom_value' ? 'record_id' : 'contact_id');

interface Uniting {
  readonly keptRow: LiveRow;
  readonly goneRow: LiveRow;
  readonly taken: ReadonlySet<MergeField>;
}

/** Tags, marks, firms, further addresses and custom values of both; the kept one's go first where only one has room. */
async function uniteChildren(tx: Queryable, keep: Buffer, drop: Buffer, uniting: Uniting): Promise<void> {
  const { keptRow, goneRow, taken } = uniting;
  for (const [table, columns] of [
    ['contact_tag', 'tag'],
    ['do_not_contact', 'channel, since, origin'],
    ['contact_company', 'company_id, role'],
    ['deal_person', 'deal_id, role'],
    ['custom_value', 'field_id, text_value, number_value, date_value, person_id'],
  ] as const)
    await tx.change(
      `INSERT IGNORE INTO ${table} (${ownerColumn(table)}, ${columns})
       SELECT :keep, ${columns} FROM ${table} WHERE ${ownerColumn(table)} = :drop`,
      { keep, drop },
    );
  const leftCompany = taken.has('company') ? keptRow.company_id : goneRow.company_id;
  const company = taken.has('company') ? goneRow.company_id : keptRow.company_id;
  if (Buffer.isBuffer(leftCompany) && !(Buffer.isBuffer(company) && company.equals(leftCompany)))
    await tx.change(
      'INSERT IGNORE INTO contact_company (contact_id, company_id, role) VALUES (:keep, :company, :role)',
      {
        keep,
        company: leftCompany,
        role: String((taken.has('company') ? keptRow : goneRow).job_title ?? '') || null,
      },
    );
  if (Buffer.isBuffer(company))
    await tx.change('DELETE FROM contact_company WHERE contact_id = :keep AND company_id = :company', {
      keep,
      company,
    });
  await unitePoints(tx, keep, drop, uniting);
  await tx.change(
    `INSERT IGNORE INTO entry_person (entry_id, contact_id, at)
     SELECT p.entry_id, :keep, p.at FROM entry_person p JOIN journal_entry j ON j.id = p.entry_id
      WHERE p.contact_id = :drop AND NOT (j.contact_id <=> :keep)`,
    { keep, drop },
  );
  await tx.change(
    `DELETE p FROM entry_person p JOIN journal_entry j ON j.id = p.entry_id
      WHERE p.contact_id = :drop OR (p.contact_id = :keep AND j.contact_id = :keep)`,
    { keep, drop },
  );
}

async function unitePoints(
  tx: Queryable,
  keep: Buffer,
  drop: Buffer,
  { keptRow, goneRow, taken }: Uniting,
): Promise<void> {
  const existing = await tx.rows<Row<'contact_point', 'kind' | 'value'>>(
    'SELECT kind, value FROM contact_point WHERE contact_id = :keep',
    { keep },
  );
  const known = new Set(existing.map((point) => `${point.kind} ${point.value}`));
  for (const kind of ['email', 'phone'] as const)
    known.add(`${kind} ${String((taken.has(kind) ? goneRow : keptRow)[kind])}`);
  const left = (['email', 'phone'] as const).flatMap((kind) => {
    const row = taken.has(kind) ? keptRow : goneRow;
    return row[kind] === null
      ? []
      : [{ kind, label: row[`${kind}_label`] ?? null, value: String(row[kind]) }];
  });
  const further = await tx.rows<Row<'contact_point', 'kind' | 'label' | 'value'>>(
    'SELECT kind, label, value FROM contact_point WHERE contact_id = :drop ORDER BY position, id',
    { drop },
  );
  const rows: (Buffer | string | number | null)[][] = [];
  for (const point of [...left, ...further]) {
    const key = `${point.kind} ${point.value}`;
    if (known.has(key)) continue;
    known.add(key);
    const position = existing.length + rows.length;
    rows.push([bytesOf(newId<string>()), keep, point.kind, point.label, point.value, position]);
  }
  if (rows.length > 0)
    await tx.change('INSERT INTO contact_point (id, contact_id, kind, label, value, position) VALUES :rows', {
      rows,
    });
}

async function writeKept(
  tx: Queryable,
  keep: Buffer,
  keptRow: LiveRow,
  goneRow: LiveRow,
  taken: ReadonlySet<MergeField>,
): Promise<void> {
  const next: LiveRow = { ...keptRow };
  for (const field of taken) for (const column of columnsOf[field]) next[column] = goneRow[column] ?? null;
  next.about = [keptRow.about, goneRow.about].filter(Boolean).join('\n\n');
  if (String(goneRow.created_at) < String(keptRow.created_at)) next.created_at = goneRow.created_at ?? null;
  delete next.version;
  await updateOwn(tx, keep, next);
  const contact = await readContact(tx, idOf<ContactId>(keep));
  await tx.change('UPDATE contact SET sort_name = :sort WHERE id = :keep', {
    keep,
    sort: nameKey(`${contact.familyName} ${contact.givenName}`) || nameKey(contact.companyName ?? ''),
  });
}

async function updateOwn(tx: Queryable, id: Buffer, row: LiveRow): Promise<void> {
  const names = Object.keys(row);
  if (names.length === 0) return;
  await tx.change(
    `UPDATE contact SET ${names.map((name) => `${name} = :${name}`).join(', ')}, version = version + 1 WHERE id = :id`,
    { ...row, id },
  );
}

/**
 * Undoes a merge: the contact that was removed comes back with all that was its own, the kept one gets back what it had.
 * @throws Problem `not-found`, `already-done`, `undo-expired` after 30 days, `cannot-undo` when what it changed was changed since
 */
export async function undoMerge(services: Services, who: SignedIn, mergeId: string): Promise<void> {
  const setId = await findSet(services.database, { table: 'contact_merge', id: mergeId, op: 'insert' });
  if (setId === null) throw new Problem('not-found');
  await undoSet(services, who, setId);
}
