import type { CommentId, ContactId, JournalEntry, listJournal } from '@kettle/contract';
import { addDays, localMoment } from '@kettle/core/time';
import type * as z from 'zod';
import type { Queryable, SqlValue } from '../../platform/database/database';
import { instantOf, instantOrNull, textsOf, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull, type IdBytes } from '../../platform/ids';
import type { Row, Tables } from '../../platform/database/schema.generated';

export interface EntryRow extends Row<
  'journal_entry',
  | 'id'
  | 'at'
  | 'kind'
  | 'outcome_label'
  | 'counts'
  | 'minutes'
  | 'body'
  | 'is_rich'
  | 'done'
  | 'user_id'
  | 'contact_id'
  | 'company_id'
  | 'deal_id'
  | 'edited_at'
  | 'removed_at'
  | 'version'
> {
  contact_name: Tables['contact']['display_name'];
  direction: JournalEntry['direction'];
  user_name: string | null;
  company_name: string | null;
  deal_name: string | null;
  removed_by_name: string | null;
}

type PersonRow = { entry_id: IdBytes; name: string } & Row<'contact', 'id'>;
type CommentRow = { user_name: string } & Row<'entry_comment', 'entry_id' | 'user_id' | 'created_at'> & {
    /** Both null of thanks. */
    id: IdBytes<CommentId> | null;
    body: string | null;
  };

type Query = z.output<typeof listJournal>;

/**
 * The newest entries first; `before` is where the page before ended. A contact's journal holds its own entries and those it
 * shares. Each comes from one index (journal_contact, entry_person_time, journal_company, journal_deal): as one statement with a UNION they
 * take half as long again.
 */
export async function readJournal(db: Queryable, query: Query, zone = 'UTC') {
  const parameters: Record<string, SqlValue> = { id: subjectOf(query)[1] };
  const wheres = conditionsOf(query, zone, parameters);
  const limit = query.limit + 1;
  const [column] = subjectOf(query);
  const [own, shared] = await Promise.all([
    db.rows<EntryRow>(
      `SELECT ${entryColumns} FROM journal_entry j ${entryJoins} WHERE ${column} = :id ${wheres('j.at', 'j.id')}
        ORDER BY j.at DESC, j.id DESC LIMIT ${limit}`,
      parameters,
    ),
    query.contactId === undefined
      ? []
      : db.rows<EntryRow>(
          `SELECT ${entryColumns} FROM entry_person p JOIN journal_entry j ON j.id = p.entry_id ${entryJoins}
            WHERE p.contact_id = :id ${wheres('p.at', 'p.entry_id')} ORDER BY p.at DESC, p.entry_id DESC LIMIT ${limit}`,
          parameters,
        ),
  ]);
  const rows = merged(own, shared).slice(0, limit);
  return pageOf(await entriesOf(db, rows.slice(0, query.limit)), rows.length > query.limit);
}

/** A page of entries, and where the next one goes on. */
export function pageOf(entries: JournalEntry[], hasMore: boolean) {
  const last = entries.at(-1);
  return { entries, before: hasMore && last ? `${last.at}~${last.id}` : null };
}

/** Both newest first, each entry once. */
function merged(own: readonly EntryRow[], shared: readonly EntryRow[]): EntryRow[] {
  if (shared.length === 0) return [...own];
  const all = new Map([...own, ...shared].map((row) => [row.id.toString('hex'), row]));
  return [...all.values()].sort((one, other) =>
    one.at === other.at ? other.id.compare(one.id) : one.at < other.at ? 1 : -1,
  );
}

function subjectOf(query: Query): [string, Buffer | null] {
  if (query.dealId !== undefined) return ['j.deal_id', bytesOf(query.dealId)];
  if (query.companyId !== undefined) return ['j.company_id', bytesOf(query.companyId)];
  return ['j.contact_id', bytesOf(query.contactId ?? null)];
}

/** What narrows entries, as conditions over the columns that say when and which; its parameters are added to `parameters`. */
export function conditionsOf(
  query: Pick<Query, 'before' | 'kinds' | 'userId' | 'from' | 'to' | 'removed'>,
  zone: string,
  parameters: Record<string, SqlValue>,
) {
  const place = readPlace(query.before);
  if (place) Object.assign(parameters, { at: sqlInstant(place.at), placeId: bytesOf(place.id) });
  if (query.kinds?.length) parameters.kinds = query.kinds;
  if (query.userId) parameters.user = bytesOf(query.userId);
  if (query.from) parameters.from = sqlInstant(localMoment(query.from, 0, zone));
  if (query.to) parameters.to = sqlInstant(localMoment(addDays(query.to, 1), 0, zone));
  return (at: string, id: string) =>
    [
      place && `(${at} < :at OR (${at} = :at AND ${id} < :placeId))`,
      query.removed !== 'yes' && 'j.removed_at IS NULL',
      query.kinds?.length && 'j.kind IN (:kinds)',
      query.userId && 'j.user_id = :user',
      query.from && `${at} >= :from`,
      query.to && `${at} < :to`,
    ]
      .filter(Boolean)
      .map((condition) => `AND ${String(condition)}`)
      .join(' ');
}

function readPlace(before: string | undefined): { at: string; id: string } | null {
  const found = /^(\d{4}-\d\d-\d\dT[\d:.]+Z)~([0-9a-f-]{36})$/.exec(before ?? '');
  return found ? { at: found[1]!, id: found[2]! } : null;
}

/** What an entry is shown with; `journal_entry j` with `entryJoins`. */
export const entryColumns = `j.id, j.at, j.kind, j.direction, j.outcome_label, j.counts, j.minutes, j.body, j.is_rich, j.done, j.user_id,
  u.name AS user_name, j.contact_id, c.display_name AS contact_name,
  j.company_id, co.name AS company_name, j.deal_id, d.name AS deal_name, j.edited_at, j.removed_at,
  r.name AS removed_by_name, j.version`;
export const entryJoins = `LEFT JOIN app_user u ON u.id = j.user_id
  LEFT JOIN app_user r ON r.id = j.removed_by
  LEFT JOIN contact c ON c.id = j.contact_id
  LEFT JOIN company co ON co.id = j.company_id
  LEFT JOIN deal d ON d.id = j.deal_id`;

/** Whole entries with their people and comments, in the order of the ids. */
export async function readEntries(db: Queryable, ids: readonly Buffer[]): Promise<JournalEntry[]> {
  if (ids.length === 0) return [];
  const rows = await db.rows<EntryRow>(
    `SELECT ${entryColumns} FROM journal_entry j ${entryJoins} WHERE j.id IN (:ids)`,
    { ids },
  );
  const byId = new Map(rows.map((row) => [row.id.toString('hex'), row]));
  return entriesOf(
    db,
    ids.flatMap((id) => byId.get(id.toString('hex')) ?? []),
  );
}

/**
 * Entries with who else was there, what was commented, and who thanked. All is asked of the whole page at once: asked of each entry it costs more than
 * all the rest.
 */
export async function entriesOf(db: Queryable, rows: readonly EntryRow[]): Promise<JournalEntry[]> {
  if (rows.length === 0) return [];
  const of = { ids: rows.map(({ id }) => id) };
  const [people, comments] = await Promise.all([
    db.rows<PersonRow>(
      `SELECT p.entry_id, c.id, c.display_name AS name FROM entry_person p JOIN contact c ON c.id = p.contact_id
        WHERE p.entry_id IN (:ids) ORDER BY c.sort_name, c.id`,
      of,
    ),
    db.rows<CommentRow>(
      `SELECT m.entry_id, m.id, m.user_id, u.name AS user_name, m.created_at, m.body FROM entry_comment m
         JOIN app_user u ON u.id = m.user_id WHERE m.entry_id IN (:ids)
       UNION ALL SELECT t.entry_id, NULL, t.user_id, u.name, t.created_at, NULL FROM entry_thanks t
         JOIN app_user u ON u.id = t.user_id WHERE t.entry_id IN (:ids)
       ORDER BY created_at, id`,
      of,
    ),
  ]);
  return rows.map((row) => {
    const isOf = ({ entry_id: id }: { readonly entry_id: IdBytes }) => id.equals(row.id);
    return entryOf(row, people.filter(isOf), comments.filter(isOf));
  });
}

function entryOf(row: EntryRow, people: readonly PersonRow[], comments: readonly CommentRow[]): JournalEntry {
  return {
    id: idOf(row.id),
    at: instantOf(row.at),
    kind: row.kind,
    direction: row.direction,
    outcomeLabel: row.outcome_label,
    counts: row.counts,
    minutes: row.minutes,
    body: row.body,
    isRich: row.is_rich === 1,
    done: row.done === null ? [] : textsOf(row.done),
    userId: idOrNull(row.user_id),
    userName: row.user_name,
    contactId: idOrNull(row.contact_id),
    contactName: row.contact_name,
    companyId: idOrNull(row.company_id),
    companyName: row.company_name,
    dealId: idOrNull(row.deal_id),
    dealName: row.deal_name,
    people: people.map(({ id, name }) => ({ id: idOf<ContactId>(id), name })),
    editedAt: instantOrNull(row.edited_at),
    removedAt: instantOrNull(row.removed_at),
    removedByName: row.removed_by_name,
    comments: comments.flatMap((each) =>
      each.id === null || each.body === null
        ? []
        : [{ id: idOf(each.id), userName: each.user_name, at: instantOf(each.created_at), body: each.body }],
    ),
    thanks: comments
      .filter(({ id }) => id === null)
      .map((each) => ({ userId: idOf(each.user_id), userName: each.user_name })),
    version: row.version,
  };
}
