import type { Contact, ContactId, MergeField, MergeId, mergeContacts } from '@kettle/contract';
import { mergeFieldLabel } from '@kettle/contract';
import { nameKey } from '@kettle/core/duplicates';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { jsonOf, instantOf, sqlInstant } from '../../platform/database/values';
import { Problem } from '../../platform/http/problem';
import { bytesOf, idOf, newId, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { noteChange } from '../../platform/change-feed/feed';
import { refreshNextSteps } from '../../activity/touch/next-steps';
import { refreshTouchFacts } from '../../activity/touch/touch-facts';
import { insertEntries } from '../../activity/journal/write-entry';
import { readContact } from '../../records/contacts/contact-rows';
import { searchText } from '../../records/contacts/write-contact';
import { assertMayChange } from '../../records/users/rights';
import type { SignedIn } from '../../records/users/session';
import { freeze, type FrozenRow, type LiveRow, thaw } from './frozen-rows';

/** Columns of a contact that are its own; those derived from journal and tasks are derived again. */
const ownColumns = [
  'category',
  'given_name',
  'family_name',
  'sort_name',
  'job_title',
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
  'source',
  'warmth',
  'about',
  'import_id',
  'search_text',
  'created_at',
] as const;

const columnsOf: Record<MergeField, readonly (typeof ownColumns)[number][]> = {
  category: ['category'],
  givenName: ['given_name'],
  familyName: ['family_name'],
  jobTitle: ['job_title'],
  company: ['company_id', 'company_name', 'site_id'],
  email: ['email', 'email_label', 'email_unusable'],
  phone: ['phone', 'phone_label', 'phone_unusable'],
  country: ['country', 'zone', 'zone_by_hand'],
  standing: ['standing_id', 'standing_set_at'],
  checkIn: ['check_in_days'],
  owner: ['owner_id'],
  source: ['source'],
  warmth: ['warmth'],
};
/** Fields that a gap in the kept contact takes over by itself. */
const fillsGaps: readonly MergeField[] = [
  'jobTitle',
  'company',
  'email',
  'phone',
  'checkIn',
  'source',
  'warmth',
];

/** Tables whose rows are about one contact and simply go over to the kept one. */
const movedTables = [
  'journal_entry',
  'task',
  'run',
  'deal',
  'sales_lead',
  'agreement',
  'meeting',
  'stored_file',
  'mail',
  'text_message',
  'phone_call',
  'stirring',
] as const;
type MovedTable = (typeof movedTables)[number];

/** What hangs on a contact and has no id of its own to move: kept whole, as it was on both sides. */
const childTables = {
  contact_point: ['id', 'contact_id', 'kind', 'label', 'value', 'position'],
  contact_company: ['contact_id', 'company_id', 'role'],
  contact_tag: ['contact_id', 'tag'],
  do_not_contact: ['contact_id', 'channel', 'since', 'origin'],
  custom_value: ['record_id', 'field_id', 'text_value', 'number_value', 'date_value', 'person_id'],
  entry_person: ['entry_id', 'contact_id', 'at'],
  deal_person: ['deal_id', 'contact_id', 'role'],
} as const;
type ChildTable = keyof typeof childTables;
type Children = Record<ChildTable, FrozenRow[]>;

const keyOf = (table: ChildTable) => (table === 'custom_value' ? 'record_id' : 'contact_id');

interface MergeState {
  readonly keptBefore: FrozenRow;
  readonly keptAfter: FrozenRow;
  readonly gone: FrozenRow;
  readonly keptChildren: Children;
  readonly keptChildrenAfter: Partial<Children>;
  readonly goneChildren: Children;
  /** Ids as hex. */
  readonly moved: Partial<Record<MovedTable, string[]>>;
  /** Values of person fields, of other records, that named the contact that went. */
  readonly namedIn: { record: string; field: string }[];
  /** Runs and their tasks that ended because both were on the same cadence: rows as they were. */
  readonly ended: { run: FrozenRow[]; task: FrozenRow[] };
  readonly entryId: string;
  readonly goneName: string;
}

export const undoDays = 30;

/**
 * Makes two contacts one. Everything of both is kept: rows go over, addresses and firms become further ones, what only
 * one can hold and was not chosen is said in the journal. The whole state before is stored, so that it can be undone.
 * @throws Problem `stale` when either was changed since, `not-yours`, `not-found`
 */
export async function merge(
  services: Services,
  who: SignedIn,
  body: z.output<typeof mergeContacts>,
): Promise<MergeId> {
  const id = await services.database.transaction((tx) => mergeInside(tx, services, who, body));
  services.feed.poke();
  return id;
}

/** The same inside a transaction that does more. */
export async function mergeInside(
  tx: Queryable,
  services: Services,
  who: SignedIn,
  body: z.output<typeof mergeContacts>,
): Promise<MergeId> {
  const id = newId<MergeId>();
  if (body.keepId === body.goneId) throw new Problem('not-found');
  const now = services.clock.now();
  await tx.rows('SELECT 1 FROM contact WHERE id IN (:ids) ORDER BY id FOR UPDATE', {
    ids: [bytesOf(body.keepId), bytesOf(body.goneId)],
  });
  const kept = await readContact(tx, body.keepId);
  const gone = await readContact(tx, body.goneId);
  await assertMayChange(tx, who, kept.ownerId);
  await assertMayChange(tx, who, gone.ownerId);
  if (kept.version !== body.keepVersion) throw new Problem('stale', {}, { current: kept });
  if (gone.version !== body.goneVersion) throw new Problem('stale', {}, { current: gone });
  const state = await mergeRows(tx, kept, gone, body.take, who, now);
  await tx.change(
    `INSERT INTO contact_merge (id, kept_id, gone_id, user_id, before_state, merged_at)
     VALUES (:id, :kept, :gone, :user, :state, :now)`,
    {
      id: bytesOf(id),
      kept: bytesOf(kept.id),
      gone: bytesOf(gone.id),
      user: bytesOf(who.id),
      state: JSON.stringify(state),
      now: sqlInstant(now),
    },
  );
  await refreshBoth(tx, services, [kept.id]);
  await noteChange(tx, 'contact', kept.id, who.id);
  await noteChange(tx, 'contact', gone.id, who.id);
  return id;
}

async function mergeRows(
  tx: Queryable,
  kept: Contact,
  gone: Contact,
  take: readonly MergeField[],
  who: SignedIn,
  now: string,
): Promise<MergeState> {
  const [keep, drop] = [bytesOf(kept.id), bytesOf(gone.id)];
  const keptRow = await readOwn(tx, keep);
  const goneRow = await readOwn(tx, drop);
  const keptChildren = await readChildren(tx, keep);
  const goneChildren = await readChildren(tx, drop);
  const taken = new Set([...take, ...fillsGaps.filter((field) => keptRow[columnsOf[field][0]!] === null)]);
  const ended = await endSharedRuns(tx, keep, drop, kept.name, now);
  const moved = await moveRows(tx, keep, drop);
  const namedIn = await moveNames(tx, keep, drop);
  await uniteChildren(tx, keep, drop, { keptRow, goneRow, taken, goneChildren });
  await tx.change('DELETE FROM custom_value WHERE record_id = :drop', { drop });
  await tx.change('DELETE FROM contact WHERE id = :drop', { drop });
  await writeKept(tx, keep, keptRow, goneRow, taken);
  const entryId = newId<string>();
  await insertEntries(tx, [mergeEntry(entryId, kept, gone, taken, who, now)], now);
  return {
    keptBefore: freeze(keptRow),
    keptAfter: freeze(await readOwn(tx, keep)),
    gone: freeze(goneRow),
    keptChildren,
    keptChildrenAfter: await readChildren(tx, keep),
    goneChildren,
    moved,
    namedIn,
    ended,
    entryId,
    goneName: gone.name,
  };
}

function mergeEntry(
  id: string,
  kept: Contact,
  gone: Contact,
  taken: ReadonlySet<MergeField>,
  who: SignedIn,
  now: string,
) {
  // Addresses, numbers and firms become further ones; what has room once only is said here.
  const keptBeside: readonly MergeField[] = ['company', 'email', 'phone'];
  const single = (Object.keys(columnsOf) as MergeField[]).filter((field) => !keptBeside.includes(field));
  const lost = single.flatMap((field) => {
    const [was, other] = taken.has(field)
      ? [valueOf(kept, field), valueOf(gone, field)]
      : [valueOf(gone, field), valueOf(kept, field)];
    return was && was !== other ? [`${mergeFieldLabel[field]} was ${was}`] : [];
  });
  return {
    id,
    at: now,
    kind: 'system' as const,
    direction: null,
    outcomeId: null,
    outcomeLabel: null,
    counts: 'none' as const,
    minutes: null,
    body: [`Merged with ${gone.name}`, ...lost].join('; '),
    userId: who.id,
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
      return contact.checkInDays === null ? '' : `${contact.checkInDays} days`;
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

async function readChildren(tx: Queryable, id: Buffer): Promise<Children> {
  const children = {} as Children;
  for (const table of Object.keys(childTables) as ChildTable[]) {
    const columns = childTables[table].join(', ');
    const rows = await tx.rows<LiveRow>(
      `SELECT ${columns} FROM ${table} WHERE ${keyOf(table)} = :id ORDER BY ${columns}`,
      { id },
    );
    children[table] = rows.map(freeze);
  }
  return children;
}

/** Both on one cadence: the run of the contact that goes ends, its open step is dropped; rows as they were are returned. */
async function endSharedRuns(
  tx: Queryable,
  keep: Buffer,
  drop: Buffer,
  keptName: string,
  now: string,
): Promise<MergeState['ended']> {
  const runs = await tx.rows<LiveRow>(
    `SELECT r.id, r.status, r.next_on, r.exit_reason FROM run r
      WHERE r.contact_id = :drop AND r.status IN ('running', 'paused') AND r.cadence_id IN
            (SELECT k.cadence_id FROM run k WHERE k.contact_id = :keep AND k.status IN ('running', 'paused'))`,
    { keep, drop },
  );
  if (runs.length === 0) return { run: [], task: [] };
  const ids = runs.map((run) => run.id as Buffer);
  const tasks = await tx.rows<LiveRow>(
    "SELECT id, state, drop_reason, finished_at FROM task WHERE run_id IN (:ids) AND state = 'open'",
    { ids },
  );
  const reason = `merged with ${keptName}, who is on it already`.slice(0, 300);
  await tx.change(
    "UPDATE run SET status = 'stopped', next_on = NULL, exit_reason = :reason, version = version + 1 WHERE id IN (:ids)",
    { ids, reason },
  );
  await tx.change(
    `UPDATE task SET state = 'dropped', drop_reason = :reason, finished_at = :now, version = version + 1
      WHERE run_id IN (:ids) AND state = 'open'`,
    { ids, reason, now: sqlInstant(now) },
  );
  return { run: runs.map(freeze), task: tasks.map(freeze) };
}

async function moveRows(tx: Queryable, keep: Buffer, drop: Buffer): Promise<MergeState['moved']> {
  const moved: MergeState['moved'] = {};
  for (const table of movedTables) {
    const rows = await tx.rows<{ id: IdBytes }>(
      `SELECT id FROM ${table} WHERE contact_id = :drop ORDER BY id`,
      {
        drop,
      },
    );
    moved[table] = rows.map((row) => row.id.toString('hex'));
    await tx.change(`UPDATE ${table} SET contact_id = :keep WHERE contact_id = :drop`, { keep, drop });
  }
  return moved;
}

async function moveNames(tx: Queryable, keep: Buffer, drop: Buffer): Promise<MergeState['namedIn']> {
  const rows = await tx.rows<{ record_id: IdBytes; field_id: IdBytes }>(
    'SELECT record_id, field_id FROM custom_value WHERE person_id = :drop ORDER BY record_id, field_id',
    { drop },
  );
  await tx.change('UPDATE custom_value SET person_id = :keep WHERE person_id = :drop', { keep, drop });
  return rows.map((row) => ({ record: row.record_id.toString('hex'), field: row.field_id.toString('hex') }));
}

interface Uniting {
  readonly keptRow: LiveRow;
  readonly goneRow: LiveRow;
  readonly taken: ReadonlySet<MergeField>;
  readonly goneChildren: Children;
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
      `INSERT IGNORE INTO ${table} (${keyOf(table)}, ${columns})
       SELECT :keep, ${columns} FROM ${table} WHERE ${keyOf(table)} = :drop`,
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
  await unitePoints(tx, keep, uniting);
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

async function unitePoints(tx: Queryable, keep: Buffer, { keptRow, goneRow, taken, goneChildren }: Uniting) {
  const existing = await tx.rows<{ kind: string; value: string }>(
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
  const further = goneChildren.contact_point.map(thaw).map((point) => ({
    kind: String(point.kind),
    label: point.label ?? null,
    value: String(point.value),
  }));
  const rows: (Buffer | string | number | null)[][] = [];
  for (const point of [...left, ...further]) {
    const key = `${point.kind} ${point.value}`;
    if (known.has(key)) continue;
    known.add(key);
    const position = existing.length + rows.length;
    rows.push([
      bytesOf(newId<string>()),
      keep,
      point.kind,
      point.label as string | null,
      point.value,
      position,
    ]);
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
  const also = [
    ...contact.otherPoints.map((point) => point.value),
    ...contact.otherCompanies.map((each) => each.name),
  ];
  await tx.change('UPDATE contact SET search_text = :text, sort_name = :sort WHERE id = :keep', {
    keep,
    text: searchText({ ...contact, alsoFoundBy: also }),
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

async function refreshBoth(tx: Queryable, services: Services, ids: readonly string[]): Promise<void> {
  const settings = await services.settings.read(tx);
  for (const id of ids) await refreshTouchFacts(tx, services, settings, id);
  const deals = await tx.rows<{ id: IdBytes }>(
    "SELECT id FROM deal WHERE contact_id IN (:ids) AND status = 'open' ORDER BY id",
    { ids: ids.map((id) => bytesOf(id)) },
  );
  await refreshNextSteps(
    tx,
    { contactIds: ids, dealIds: deals.map((row) => idOf<string>(row.id)) },
    services.clock.now(),
  );
}

/**
 * Takes a merge apart: the contact that went comes back with all that was its own, the kept one gets back what it had.
 * A value that somebody changed since the merge stays as they left it.
 * @throws Problem `not-found`, `already-done`, `undo-expired` after 30 days
 */
export async function undoMerge(services: Services, who: SignedIn, mergeId: string): Promise<void> {
  await services.database.transaction((tx) => undoMergeInside(tx, services, who, mergeId));
  services.feed.poke();
}

/** The same inside a transaction that does more. */
export async function undoMergeInside(
  tx: Queryable,
  services: Services,
  who: SignedIn,
  mergeId: string,
): Promise<void> {
  const now = services.clock.now();
  const [row] = await tx.rows<{
    kept_id: IdBytes;
    gone_id: IdBytes;
    before_state: string;
    merged_at: string;
    undone_at: string | null;
  }>(
    'SELECT kept_id, gone_id, before_state, merged_at, undone_at FROM contact_merge WHERE id = :id FOR UPDATE',
    {
      id: bytesOf(mergeId),
    },
  );
  if (!row) throw new Problem('not-found');
  if (row.undone_at !== null) throw new Problem('already-done');
  if (Date.parse(now) - Date.parse(instantOf(row.merged_at)) > undoDays * 86_400_000)
    throw new Problem('undo-expired');
  const [keep, drop] = [row.kept_id, row.gone_id];
  const kept = await readContact(tx, idOf(keep));
  await assertMayChange(tx, who, kept.ownerId);
  await takeApart(tx, keep, drop, jsonOf(row.before_state) as MergeState, now);
  await tx.change('UPDATE contact_merge SET undone_at = :now WHERE id = :id', {
    id: bytesOf(mergeId),
    now: sqlInstant(now),
  });
  await refreshBoth(tx, services, [idOf(keep), idOf(drop)]);
  await noteChange(tx, 'contact', idOf(keep), who.id);
  await noteChange(tx, 'contact', idOf(drop), who.id);
}

async function takeApart(
  tx: Queryable,
  keep: Buffer,
  drop: Buffer,
  state: MergeState,
  now: string,
): Promise<void> {
  const { version, ...gone } = thaw(state.gone);
  await tx.change(
    `INSERT INTO contact (id, version, ${Object.keys(gone).join(', ')})
     VALUES (:id, :version, ${Object.keys(gone)
       .map((name) => `:${name}`)
       .join(', ')})`,
    { ...gone, id: drop, version: Number(version) + 1 },
  );
  await restoreKept(tx, keep, state);
  const current = await readChildren(tx, keep);
  for (const table of Object.keys(childTables) as ChildTable[]) {
    // A merge of before a table was there knows nothing of it.
    if (state.keptChildrenAfter[table] === undefined) continue;
    if (JSON.stringify(current[table]) === JSON.stringify(state.keptChildrenAfter[table])) {
      await tx.change(`DELETE FROM ${table} WHERE ${keyOf(table)} = :keep`, { keep });
      await insertChildren(tx, table, state.keptChildren[table]);
    }
    await insertChildren(tx, table, state.goneChildren[table]);
  }
  for (const table of movedTables) {
    const ids = (state.moved[table] ?? []).map((id) => Buffer.from(id, 'hex'));
    if (ids.length > 0)
      await tx.change(`UPDATE ${table} SET contact_id = :drop WHERE id IN (:ids) AND contact_id = :keep`, {
        keep,
        drop,
        ids,
      });
  }
  for (const { record, field } of state.namedIn)
    await tx.change(
      'UPDATE custom_value SET person_id = :drop WHERE record_id = :record AND field_id = :field AND person_id = :keep',
      { keep, drop, record: Buffer.from(record, 'hex'), field: Buffer.from(field, 'hex') },
    );
  for (const table of ['run', 'task'] as const)
    for (const frozen of state.ended[table]) {
      const { id, ...columns } = thaw(frozen);
      const names = Object.keys(columns);
      await tx.change(
        `UPDATE ${table} SET ${names.map((name) => `${name} = :${name}`).join(', ')}, version = version + 1 WHERE id = :id`,
        { ...columns, id: id as Buffer },
      );
    }
  await tx.change('UPDATE journal_entry SET removed_at = :now WHERE id = :id', {
    id: bytesOf(state.entryId),
    now: sqlInstant(now),
  });
}

/** Puts back the columns that still are as the merge left them. */
async function restoreKept(tx: Queryable, keep: Buffer, state: MergeState): Promise<void> {
  const current = freeze(await readOwn(tx, keep));
  const before = thaw(state.keptBefore);
  const back: LiveRow = {};
  for (const column of ownColumns)
    if (JSON.stringify(current[column]) === JSON.stringify(state.keptAfter[column]))
      back[column] = before[column] ?? null;
  await updateOwn(tx, keep, back);
}

async function insertChildren(tx: Queryable, table: ChildTable, rows: readonly FrozenRow[]): Promise<void> {
  if (rows.length === 0) return;
  const columns = childTables[table];
  await tx.change(`INSERT IGNORE INTO ${table} (${columns.join(', ')}) VALUES :rows`, {
    rows: rows.map(thaw).map((row) => columns.map((column) => row[column] ?? null)) as (string | Buffer)[][],
  });
}
