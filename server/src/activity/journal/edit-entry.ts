import type {
  JournalEntry,
  editEntry,
  entryHistory,
  removeEntry as removing,
  writeComment,
  writeNote,
} from '@kettle/contract';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { instantOf, sqlInstant } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf, idOrNull, type IdBytes } from '../../platform/ids';
import { notify } from '../../records/notifications/index';
import { assertMayChange, assertMayShare, readableIds } from '../../records/rights/index';
import { readEntries } from './list-journal';
import { cleanRichText } from './rich-text';
import { tellNamed } from './tell-named';
import { insertEntries } from '../../records/entries/index';
import { mergeChange, type FieldsAt } from '../../platform/work/merge-change';
import type { PersonWork } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

/** Writes a note about people, a company or a deal; sent again by its id it changes nothing. */
export async function addNote(w: PersonWork, body: z.output<typeof writeNote>): Promise<void> {
  const now = w.now;
  if (body.at !== null && body.at > now) throw new Problem('in-the-future');
  const about = await readAbout(w, body);
  await assertMayChange(w, w.who, about.ownerId);
  const isKnown = await w.rows('SELECT 1 FROM journal_entry WHERE id = :id', { id: bytesOf(body.id) });
  if (isKnown.length > 0) return;
  await assertMayShare(w, body);
  const nothing = {
    direction: null,
    outcomeId: null,
    outcomeLabel: null,
    minutes: null,
    taskId: null,
    runId: null,
  };
  const text = body.isRich ? cleanRichText(body.body) : body.body;
  if (text.trim() === '')
    throw new Problem(
      'invalid-request',
      {},
      { fields: [{ path: 'body', message: $localize`must not be empty` }] },
    );
  const entry = {
    ...nothing,
    ...body,
    body: text,
    at: body.at ?? now,
    kind: 'note',
    counts: 'none',
  } as const;
  await insertEntries(w, [{ ...entry, userId: w.who.id, companyId: body.companyId ?? about.companyId }]);
  await tellMentioned(w, body.id, plainText(text, body.isRich));
}

/** The words of a text without its shape. */
const plainText = (text: string, isRich: boolean) =>
  isRich
    ? text
        .replace(/<[^>]*>/g, ' ')
        .replace(/\s+/g, ' ')
        .trim()
    : text;

/** Tells colleagues who are named with an @ in an entry or a comment on it, and whoever else is to hear of it. */
async function tellMentioned(
  w: PersonWork,
  entryId: string,
  text: string,
  also: readonly string[] = [],
): Promise<void> {
  await tellNamed(w, {
    text,
    also,
    mayRead: async (reader) => (await readableIds(w, reader, 'entry', [bytesOf(entryId)])).length > 0,
    place: async () => placeOfEntry((await readEntries(w, [bytesOf(entryId)]))[0]),
  });
}

/** What an entry is about, and where it stands. */
const placeOfEntry = (entry: JournalEntry | undefined) => ({
  about: entry?.contactName ?? entry?.dealName ?? entry?.companyName ?? $localize`an entry`,
  path: entry?.contactId
    ? `/people/${entry.contactId}`
    : entry?.dealId
      ? `/deals/${entry.dealId}`
      : `/companies/${entry?.companyId ?? ''}`,
});

async function readAbout(
  tx: Queryable,
  about: { contactId: string | null; companyId: string | null; dealId: string | null },
) {
  const id = about.dealId ?? about.contactId ?? about.companyId;
  const [row] = await tx.rows<Row<'deal', 'company_id'> & { owner_id: IdBytes | null }>(
    about.dealId !== null
      ? 'SELECT owner_id, company_id FROM deal WHERE id = :id'
      : about.contactId !== null
        ? 'SELECT owner_id, company_id FROM contact WHERE id = :id'
        : 'SELECT owner_id, id AS company_id FROM company WHERE id = :id',
    { id: bytesOf(id) },
  );
  if (!row) throw new Problem('not-found');
  return { ownerId: idOrNull<string>(row.owner_id), companyId: idOrNull<string>(row.company_id) };
}

type LockedEntry = Row<
  'journal_entry',
  'body' | 'at' | 'kind' | 'is_rich' | 'removed_at' | 'user_id' | 'version'
>;

/** Whoever wrote an entry may change it, and managers and admins; the system's own entries nobody. */
async function lockEntry(w: PersonWork, id: string): Promise<LockedEntry> {
  const [entry] = await w.rows<LockedEntry>(
    `SELECT body, at, kind, is_rich, removed_at, user_id, version FROM journal_entry WHERE id = :id FOR UPDATE`,
    { id: bytesOf(id) },
  );
  if (!entry) throw new Problem('not-found');
  if (entry.kind === 'system') throw new Problem('not-allowed');
  await assertMayChange(w, w.who, entry.user_id && idOf(entry.user_id));
  return entry;
}

/** Where the fields of an edit are kept, so that two people's edits meet field by field. */
const fields: FieldsAt<z.output<typeof editEntry>> = {
  body: { column: 'body' },
  at: { column: 'at', read: (text) => (text === null ? null : instantOf(text)) },
  minutes: { column: 'minutes' },
};

/**
 * Changes what an entry says, when it was and how long it took; what it said before is kept, touch facts follow.
 * @throws Problem `stale`, `in-the-future`, `not-yours`, `not-allowed` for the system's own
 */
export async function changeEntry(
  w: PersonWork,
  id: string,
  asked: z.output<typeof editEntry>,
): Promise<void> {
  const entry = await lockEntry(w, id);
  const [record] = await readEntries(w, [bytesOf(id)]);
  if (!record) throw new Problem('not-found');
  const body = await mergeChange(w, { table: 'journal_entry', id, fields, asked, record });
  if (body.at > w.now) throw new Problem('in-the-future');
  const text = entry.is_rich === 1 ? cleanRichText(body.body) : body.body;
  await w.change(
    `INSERT INTO entry_before (entry_id, number, body, at, edited_by, edited_at)
     SELECT :id, COUNT(*) + 1, :body, :at, :user, :now FROM entry_before WHERE entry_id = :id`,
    { id: bytesOf(id), body: entry.body, at: entry.at, user: bytesOf(w.who.id), now: sqlInstant(w.now) },
  );
  const moved = { id: bytesOf(id), at: sqlInstant(body.at) };
  await w.change(
    `UPDATE journal_entry SET body = :body, at = :at, minutes = :minutes, edited_at = :now, version = version + 1
      WHERE id = :id`,
    { ...moved, body: text, minutes: body.minutes, now: sqlInstant(w.now) },
  );
  await w.change('UPDATE entry_person SET at = :at WHERE entry_id = :id', moved);
}

/** Marks an entry as removed: it counts for nothing and is shown only when asked for. */
export async function removeEntry(
  w: PersonWork,
  id: string,
  { version }: z.output<typeof removing>,
): Promise<void> {
  const entry = await lockAsSeen(w, id, version);
  if (entry.removed_at !== null) throw new Problem('already-done');
  await w.change(
    'UPDATE journal_entry SET removed_at = :now, removed_by = :user, version = version + 1 WHERE id = :id',
    { id: bytesOf(id), now: sqlInstant(w.now), user: bytesOf(w.who.id) },
  );
}

/** Undoes a removal. */
export async function restoreEntry(w: PersonWork, id: string): Promise<void> {
  await lockEntry(w, id);
  await w.change(
    'UPDATE journal_entry SET removed_at = NULL, removed_by = NULL, version = version + 1 WHERE id = :id',
    { id: bytesOf(id) },
  );
}

async function lockAsSeen(w: PersonWork, id: string, version: number): Promise<LockedEntry> {
  const entry = await lockEntry(w, id);
  if (entry.version !== version)
    throw new Problem('stale', {}, { current: (await readEntries(w, [bytesOf(id)]))[0] });
  return entry;
}

/** What an entry said before each of its edits, oldest first. */
export async function readHistory(db: Queryable, id: string): Promise<z.output<typeof entryHistory>> {
  const rows = await db.rows<
    Row<'entry_before', 'body' | 'at' | 'edited_at'> &
      Row<'journal_entry', 'is_rich'> &
      Row<'app_user', 'name'>
  >(
    `SELECT b.body, j.is_rich, b.at, u.name, b.edited_at FROM entry_before b
       JOIN journal_entry j ON j.id = b.entry_id JOIN app_user u ON u.id = b.edited_by
      WHERE b.entry_id = :id ORDER BY b.number`,
    { id: bytesOf(id) },
  );
  return {
    before: rows.map((row) => ({
      body: row.body,
      isRich: row.is_rich === 1,
      at: instantOf(row.at),
      editedBy: row.name,
      editedAt: instantOf(row.edited_at),
    })),
  };
}

/** Comments on an entry; whoever is named with an @ is told, and who wrote the entry. */
export async function addComment(
  w: PersonWork,
  entryId: string,
  body: z.output<typeof writeComment>,
): Promise<void> {
  const now = w.now;
  const [entry] = await readEntries(w, [bytesOf(entryId)]);
  if (!entry) throw new Problem('not-found');
  const added = await w.change(
    'INSERT IGNORE INTO entry_comment (id, entry_id, user_id, body, created_at) VALUES (:id, :entry, :user, :body, :now)',
    {
      id: bytesOf(body.id),
      entry: bytesOf(entryId),
      user: bytesOf(w.who.id),
      body: body.body,
      now: sqlInstant(now),
    },
  );
  if (added === 0) return;
  await tellMentioned(w, entryId, body.body, entry.userId ? [entry.userId] : []);
}

/** Thanks whoever logged an entry, who is told, or takes the thanks back. Of one's own nothing happens. @throws Problem `not-found` */
export async function giveThanks(w: PersonWork, entryId: string, isGiven: boolean): Promise<void> {
  const [entry] = await readEntries(w, [bytesOf(entryId)]);
  if (entry === undefined || entry.removedAt !== null) throw new Problem('not-found');
  if (entry.userId === null || entry.userId === w.who.id) return;
  const key = { entry: bytesOf(entryId), me: bytesOf(w.who.id) };
  if (!isGiven) {
    await w.change('DELETE FROM entry_thanks WHERE entry_id = :entry AND user_id = :me', key);
    return;
  }
  const given = await w.change(
    'INSERT IGNORE INTO entry_thanks (entry_id, user_id, created_at) VALUES (:entry, :me, :now)',
    { ...key, now: sqlInstant(w.now) },
  );
  const { about, path } = placeOfEntry(entry);
  if (given > 0)
    await notify(
      w,
      'mention',
      [entry.userId],
      $localize`${w.who.name}:name: thanks you for what you logged with ${about}:about:.`,
      path,
    );
}
