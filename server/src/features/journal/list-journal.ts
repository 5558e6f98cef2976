import type { JournalEntry, JournalKind, listJournal } from '@kettle/contract';
import type * as z from 'zod';
import type { Queryable } from '../../db/database';
import { instantOf, sqlInstant } from '../../db/values';
import { bytesOf, idOf, idOrNull, type IdBytes } from '../../ids';

interface EntryRow {
  id: IdBytes;
  at: string;
  kind: JournalKind;
  direction: JournalEntry['direction'];
  outcome_label: string | null;
  counts: JournalEntry['counts'];
  minutes: number | null;
  body: string;
  user_id: IdBytes | null;
  user_name: string | null;
  contact_id: IdBytes | null;
  contact_name: string | null;
  deal_id: IdBytes | null;
  deal_name: string | null;
}

/** The newest entries first; `before` is where the page before ended. Relies on journal_contact, _company and _deal. */
export async function readJournal(db: Queryable, query: z.output<typeof listJournal>) {
  const [column, id] = subjectOf(query);
  const place = readPlace(query.before);
  const rows = await db.rows<EntryRow>(
    `SELECT j.id, j.at, j.kind, j.direction, j.outcome_label, j.counts, j.minutes, j.body, j.user_id, u.name AS user_name,
            j.contact_id, TRIM(CONCAT(c.given_name, ' ', c.family_name)) AS contact_name, j.deal_id, d.name AS deal_name
       FROM journal_entry j
       LEFT JOIN app_user u ON u.id = j.user_id
       LEFT JOIN contact c ON c.id = j.contact_id
       LEFT JOIN deal d ON d.id = j.deal_id
      WHERE ${column} = :id AND j.removed_at IS NULL
        ${place ? 'AND (j.at < :at OR (j.at = :at AND j.id < :placeId))' : ''}
      ORDER BY j.at DESC, j.id DESC LIMIT ${query.limit + 1}`,
    { id, ...(place ? { at: sqlInstant(place.at), placeId: bytesOf(place.id) } : {}) },
  );
  const entries = rows.slice(0, query.limit).map(entryOf);
  const last = entries.at(-1);
  return { entries, before: rows.length > query.limit && last ? `${last.at}~${last.id}` : null };
}

function subjectOf(query: z.output<typeof listJournal>): [string, Buffer | null] {
  if (query.dealId !== undefined) return ['j.deal_id', bytesOf(query.dealId)];
  if (query.companyId !== undefined) return ['j.company_id', bytesOf(query.companyId)];
  return ['j.contact_id', bytesOf(query.contactId)];
}

function readPlace(before: string | undefined): { at: string; id: string } | null {
  const found = /^(\d{4}-\d\d-\d\dT[\d:.]+Z)~([0-9a-f-]{36})$/.exec(before ?? '');
  return found ? { at: found[1]!, id: found[2]! } : null;
}

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
    userId: idOrNull(row.user_id),
    userName: row.user_name,
    contactId: idOrNull(row.contact_id),
    contactName: row.contact_name,
    dealId: idOrNull(row.deal_id),
    dealName: row.deal_name,
  };
}
