import type { ContactId, JournalEntry, listJournal } from '@kettle/contract';
import { addDays, localMoment } from '@kettle/core/time';
import type * as z from 'zod';
import type { Queryable, SqlValue } from '../../platform/database/database';
import { instantOf, instantOrNull, textsOf, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import type { Row, Tables } from '../../platform/database/schema.generated';

interface EntryRow extends Row<
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
  people: string | null;
  comments: string | null;
}

type Query = z.output<typeof listJournal>;

/**
 * The newest entries first; `before` is where the page before ended. A contact's journal holds its own entries and those it
 * shares. Ids come from one index each (journal_contact, entry_person_time, journal_company, journal_deal), their rows with them.
 */
export async function readJournal(db: Queryable, query: Query, zone = 'UTC') {
  const parameters: Record<string, SqlValue> = { id: subjectOf(query)[1] };
  const wheres = conditionsOf(query, zone, parameters);
  const limit = query.limit + 1;
  const own = (column: string) =>
    `SELECT j.id, j.at FROM journal_entry j WHERE ${column} = :id ${wheres('j.at', 'j.id')} ORDER BY j.at DESC, j.id DESC LIMIT ${limit}`;
  const sources = [own(subjectOf(query)[0])];
  if (query.contactId !== undefined)
    sources.push(
      `SELECT p.entry_id AS id, p.at FROM entry_person p JOIN journal_entry j ON j.id = p.entry_id
        WHERE p.contact_id = :id ${wheres('p.at', 'p.entry_id')} ORDER BY p.at DESC, p.entry_id DESC LIMIT ${limit}`,
    );
  const rows = await db.rows<EntryRow>(
    `SELECT ${entryColumns}
       FROM (${sources.map((source) => `(${source})`).join(' UNION ')} ORDER BY at DESC, id DESC LIMIT ${limit}) k
       JOIN journal_entry j ON j.id = k.id ${entryJoins} ORDER BY k.at DESC, k.id DESC`,
    parameters,
  );
  const entries = rows.slice(0, query.limit).map(entryOf);
  const last = entries.at(-1);
  return { entries, before: rows.length > query.limit && last ? `${last.at}~${last.id}` : null };
}

function subjectOf(query: Query): [string, Buffer | null] {
  if (query.dealId !== undefined) return ['j.deal_id', bytesOf(query.dealId)];
  if (query.companyId !== undefined) return ['j.company_id', bytesOf(query.companyId)];
  return ['j.contact_id', bytesOf(query.contactId ?? null)];
}

function conditionsOf(query: Query, zone: string, parameters: Record<string, SqlValue>) {
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
const entryColumns = `j.id, j.at, j.kind, j.direction, j.outcome_label, j.counts, j.minutes, j.body, j.is_rich, j.done, j.user_id,
  u.name AS user_name, j.contact_id, c.display_name AS contact_name,
  j.company_id, co.name AS company_name, j.deal_id, d.name AS deal_name, j.edited_at, j.removed_at,
  r.name AS removed_by_name, j.version,
  (SELECT JSON_ARRAYAGG(JSON_OBJECT('id', LOWER(HEX(pc.id)), 'name', pc.display_name)
        ORDER BY pc.sort_name, pc.id)
   FROM entry_person p JOIN contact pc ON pc.id = p.contact_id WHERE p.entry_id = j.id) AS people,
  (SELECT JSON_ARRAYAGG(JSON_OBJECT('id', LOWER(HEX(m.id)), 'user', mu.name, 'at', m.created_at, 'body', m.body)
        ORDER BY m.created_at, m.id)
   FROM entry_comment m JOIN app_user mu ON mu.id = m.user_id WHERE m.entry_id = j.id) AS comments`;
const entryJoins = `LEFT JOIN app_user u ON u.id = j.user_id
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
  return ids.flatMap((id) => {
    const key = id.toString('hex');
    const row = byId.get(key);
    return row ? entryOf(row) : [];
  });
}

const listOf = <Item>(json: string | null) => (json === null ? [] : (JSON.parse(json) as Item[]));
const idOfHex = <Id extends string>(hex: string) => idOf<Id>(Buffer.from(hex, 'hex'));

function entryOf(row: EntryRow): JournalEntry {
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
    people: listOf<{ id: string; name: string }>(row.people).map(({ id, name }) => ({
      id: idOfHex<ContactId>(id),
      name,
    })),
    editedAt: instantOrNull(row.edited_at),
    removedAt: instantOrNull(row.removed_at),
    removedByName: row.removed_by_name,
    comments: listOf<{ id: string; user: string; at: string; body: string }>(row.comments).map((each) => ({
      id: idOfHex(each.id),
      userName: each.user,
      at: instantOf(each.at.slice(0, 23)),
      body: each.body,
    })),
    version: row.version,
  };
}
