import type { CompanyId, ContactId, DealId, EntryId, search, SearchHit } from '@kettle/contract';
import { nameKey } from '@kettle/core/duplicates';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { instantOf } from '../../platform/database/values';
import type { Handlers } from '../../platform/http/bind-routes';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { reachParameters, withinReach } from '../../records/rights/index';
import { matchAll, searchWords } from '../../records/contacts/index';
import type { SignedIn } from '../../records/users/index';
import type { Row } from '../../platform/database/schema.generated';

const peopleShown = 8;
const othersShown = 4;
const notesShown = 8;
/** A word that half the journal holds is looked for in so many entries, not in all of them. */
const notesRead = 400;

export function searchRoutes({ database }: Services): Pick<Handlers, 'search'> {
  return { search: async ({ query, who }) => ({ hits: await searchEverywhere(database, query, who) }) };
}

/** People, firms and deals by name, address or number; or what was written. Words are looked for from their beginning. */
export async function searchEverywhere(
  db: Queryable,
  { q, among }: z.output<typeof search>,
  who: SignedIn,
): Promise<SearchHit[]> {
  const words = searchWords(q);
  if (words.length === 0) return [];
  const asked = matchAll(words);
  if (among === 'notes') return findNotes(db, asked, words, who);
  const found = await Promise.all([
    findPeople(db, asked, who),
    findCompanies(db, asked, who),
    findDeals(db, asked, who),
  ]);
  return found.flat();
}

const wordsOf = (...words: readonly (string | null)[]) => words.filter(Boolean).join(' · ');

/** An archived record is found, after all others, so that nobody makes it a second time. */
const archivedWord = ({ archived }: { archived: number }) => (archived === 1 ? 'archived' : null);

/** Mine come before others'. */
async function findPeople(db: Queryable, asked: string, who: SignedIn): Promise<SearchHit[]> {
  const rows = await db.rows<
    Row<'contact', 'id' | 'display_name' | 'job_title' | 'company_name'> & { archived: number }
  >(
    `SELECT f.id, f.display_name, f.job_title, f.company_name, f.archived FROM
       (SELECT c.id, c.display_name, c.job_title, c.company_name, c.owner_id, c.sort_name,
               c.archived_at IS NOT NULL AS archived FROM contact c
         WHERE MATCH (c.search_text) AGAINST (:asked IN BOOLEAN MODE) AND ${withinReach(who, 'contact', 'c')} LIMIT 200) f
      ORDER BY f.archived, NOT (f.owner_id <=> :me), f.sort_name, f.id LIMIT ${peopleShown}`,
    { ...reachParameters(who), asked, me: bytesOf(who.id) },
  );
  return rows.map((row) => ({
    kind: 'contact',
    id: idOf<ContactId>(row.id),
    title: row.display_name,
    words: wordsOf(row.job_title, row.company_name, archivedWord(row)),
  }));
}

async function findCompanies(db: Queryable, asked: string, who: SignedIn): Promise<SearchHit[]> {
  const rows = await db.rows<Row<'company', 'id' | 'name' | 'city' | 'trade'> & { archived: number }>(
    `SELECT co.id, co.name, co.city, co.trade, co.archived_at IS NOT NULL AS archived FROM company co
      WHERE MATCH (co.name, co.city) AGAINST (:asked IN BOOLEAN MODE) AND ${withinReach(who, 'company', 'co')} ORDER BY archived, co.name, co.id LIMIT ${othersShown}`,
    { ...reachParameters(who), asked },
  );
  return rows.map((row) => ({
    kind: 'company',
    id: idOf<CompanyId>(row.id),
    title: row.name,
    words: wordsOf(row.trade, row.city, archivedWord(row)),
  }));
}

async function findDeals(db: Queryable, asked: string, who: SignedIn): Promise<SearchHit[]> {
  const rows = await db.rows<
    Row<'deal', 'id' | 'name' | 'status'> & { company_name: string | null; archived: number }
  >(
    `SELECT d.id, d.name, d.status, co.name AS company_name, d.archived_at IS NOT NULL AS archived FROM deal d LEFT JOIN company co ON co.id = d.company_id
      WHERE MATCH (d.name) AGAINST (:asked IN BOOLEAN MODE) AND ${withinReach(who, 'deal', 'd')}
      ORDER BY archived, d.status <> 'open', d.name, d.id LIMIT ${othersShown}`,
    { ...reachParameters(who), asked },
  );
  return rows.map((row) => ({
    kind: 'deal',
    id: idOf<DealId>(row.id),
    title: row.name,
    words: wordsOf(row.company_name, row.status, archivedWord(row)),
  }));
}

type NoteRow = Row<'journal_entry', 'id' | 'at' | 'body' | 'contact_id' | 'company_id' | 'deal_id'>;

/** What was written, newest first; the words around the first that was found are shown. */
async function findNotes(
  db: Queryable,
  asked: string,
  words: readonly string[],
  who: SignedIn,
): Promise<SearchHit[]> {
  const rows = await db.rows<
    NoteRow & {
      contact_name: string | null;
      deal_name: string | null;
      company_name: string | null;
    }
  >(
    `SELECT j.id, j.at, j.body, j.contact_id, j.company_id, j.deal_id,
            c.display_name AS contact_name, d.name AS deal_name, co.name AS company_name
       FROM (SELECT e.id, e.at, e.body, e.contact_id, e.company_id, e.deal_id FROM journal_entry e
              WHERE MATCH (e.body) AGAINST (:asked IN BOOLEAN MODE) AND e.removed_at IS NULL AND e.kind <> 'system'
                AND ${withinReach(who, 'entry', 'e')}
              LIMIT ${notesRead}) j
       LEFT JOIN contact c ON c.id = j.contact_id
       LEFT JOIN deal d ON d.id = j.deal_id
       LEFT JOIN company co ON co.id = j.company_id
      ORDER BY j.at DESC, j.id DESC LIMIT ${notesShown}`,
    { ...reachParameters(who), asked },
  );
  return rows.map((row) => ({
    kind: 'note',
    id: idOf<EntryId>(row.id),
    title: row.contact_name ?? row.deal_name ?? row.company_name ?? 'Journal',
    words: around(row.body, words),
    at: instantOf(row.at),
    contactId: idOrNull(row.contact_id),
    companyId: idOrNull(row.company_id),
    dealId: idOrNull(row.deal_id),
  }));
}

const shownBefore = 30;
const shownAll = 110;

/** A piece of a text with the first word that was looked for in it. */
export function around(html: string, words: readonly string[]): string {
  const text = html
    .replace(/<[^>]*>/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();
  const places = [...text.matchAll(/[\p{L}\p{N}]+/gu)];
  const found = places.find((place) => words.some((word) => nameKey(place[0]).startsWith(word)));
  const start = Math.max(0, (found?.index ?? 0) - shownBefore);
  const cut = text.slice(start, start + shownAll);
  return `${start > 0 ? '…' : ''}${cut}${start + shownAll < text.length ? '…' : ''}`;
}
