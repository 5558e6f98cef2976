import type { ContactPage, ContactSort, ListContacts } from '@kettle/contract';
import { nameKey } from '@kettle/core/identity';
import type { Queryable, SqlValue } from '../../db/database';
import { wholeNumber } from '../../db/values';
import { bytesOf, idOf, type IdBytes } from '../../ids';
import { Problem } from '../../http/problem';
import type { SignedIn } from '../session/session';
import { contactColumns, contactRowOf, type ContactColumns } from './contact-rows';

/** Counting stops here: a list that matches more says so. */
export const countedUpTo = 1000;

const sortColumns: Record<ContactSort, string> = {
  name: 'c.sort_name',
  company: 'c.company_name',
  'last-touch': 'c.last_touch_at',
  'next-step': 'c.next_step_sort',
  'check-in': 'c.check_in_sort',
};

interface Place {
  value: string | null;
  id: string;
}

interface Clauses {
  where: string[];
  parameters: Record<string, SqlValue>;
}

/**
 * One page of contacts. Reads ids first, in the order of one index (or of the full-text index when searching), then only
 * the rows of the page.
 */
export async function listContacts(
  db: Queryable,
  query: ListContacts,
  who: SignedIn,
  today: string,
): Promise<Omit<ContactPage, 'total'>> {
  const column = sortColumns[query.sort];
  const direction = query.order === 'up' ? 'ASC' : 'DESC';
  const { where, parameters } = clausesOf(query, who, today);
  const isFirst = query.after === undefined;
  if (!isFirst) addPlace({ where, parameters }, readPlace(query.after!), column, query.order);
  const most = isFirst ? countedUpTo + 1 : query.limit + 1;
  const keys = await db.rows<{ id: IdBytes; value: string | null }>(
    `SELECT c.id, ${column} AS value FROM contact c ${where.length ? `WHERE ${where.join(' AND ')}` : ''}
      ORDER BY ${column} ${direction}, c.id ${direction} LIMIT ${most}`,
    parameters,
  );
  const page = keys.slice(0, query.limit);
  const last = page.at(-1);
  return {
    rows: await readRows(db, page),
    found: Math.min(keys.length, countedUpTo),
    foundIsExact: keys.length <= countedUpTo,
    after: keys.length > query.limit && last ? writePlace({ value: last.value, id: idOf(last.id) }) : null,
  };
}

async function readRows(db: Queryable, page: readonly { id: IdBytes }[]) {
  if (page.length === 0) return [];
  const rows = await db.rows<ContactColumns>(
    `SELECT ${contactColumns} FROM contact c LEFT JOIN app_user u ON u.id = c.owner_id WHERE c.id IN (:ids)`,
    { ids: page.map((key) => key.id) },
  );
  const byId = new Map(rows.map((row) => [row.id.toString('hex'), row]));
  return page.flatMap((key) => byId.get(key.id.toString('hex')) ?? []).map(contactRowOf);
}

function clausesOf(query: ListContacts, who: SignedIn, today: string): Clauses {
  const where: string[] = [];
  const parameters: Record<string, SqlValue> = {};
  if (query.owner === 'mine') {
    where.push('c.owner_id = :me');
    parameters.me = bytesOf(who.id);
  }
  if (query.owner === 'unowned') where.push('c.owner_id IS NULL');
  if (query.standing !== undefined) {
    where.push('c.standing_id = :standing');
    parameters.standing = bytesOf(query.standing);
  }
  if (query.quiet === 'yes') {
    where.push('c.next_touch_due < :today');
    parameters.today = today;
  }
  addSearch({ where, parameters }, query.q);
  return { where, parameters };
}

/** Every word must begin some word of the contact; one letter alone asks for family names that begin with it. */
function addSearch({ where, parameters }: Clauses, q: string): void {
  const words = searchWords(q);
  if (words.length > 0) {
    where.push('MATCH (c.search_text) AGAINST (:words IN BOOLEAN MODE)');
    parameters.words = words.map((word) => `+${word}*`).join(' ');
  } else if (nameKey(q)) {
    where.push('c.sort_name LIKE :prefix');
    parameters.prefix = `${nameKey(q)}%`;
  }
}

/** Words of at least two letters or digits; digits typed with spaces or dashes are one number. */
export function searchWords(q: string): string[] {
  if (/^[+\d][\d\s()./-]{3,}$/.test(q)) return [q.replace(/\D/g, '').replace(/^00/, '')];
  return nameKey(q)
    .split(' ')
    .filter((word) => word.length >= 2)
    .slice(0, 8);
}

/** Goes on after a row; in ascending order empty values come first, in descending order last. */
function addPlace({ where, parameters }: Clauses, place: Place, column: string, order: 'up' | 'down'): void {
  parameters.placeId = bytesOf(place.id);
  const [beyond, idBeyond] = order === 'up' ? ['>', 'c.id > :placeId'] : ['<', 'c.id < :placeId'];
  if (place.value === null) {
    where.push(
      order === 'up' ? `(${column} IS NOT NULL OR ${idBeyond})` : `(${column} IS NULL AND ${idBeyond})`,
    );
    return;
  }
  parameters.place = place.value;
  const rest = order === 'down' ? ` OR ${column} IS NULL` : '';
  where.push(`(${column} ${beyond} :place OR (${column} = :place AND ${idBeyond})${rest})`);
}

function writePlace(place: Place): string {
  return Buffer.from(JSON.stringify([place.value, place.id])).toString('base64url');
}

function readPlace(text: string): Place {
  try {
    const [value, id] = JSON.parse(Buffer.from(text, 'base64url').toString()) as [unknown, unknown];
    if ((value === null || typeof value === 'string') && typeof id === 'string')
      return { value, id: idOf(bytesOf(id)) };
  } catch {
    // Falls through to the refusal.
  }
  throw new Problem(
    'invalid-request',
    {},
    { fields: [{ path: 'after', message: 'is not a place in this list' }] },
  );
}

const totalKeptMillis = 10_000;

/** All contacts there are. Counting 200,000 takes longer than a page of them, so it is kept for ten seconds. */
export class TotalContacts {
  private known: { total: number; at: number } | undefined;

  async read(db: Queryable, nowMillis: number): Promise<number> {
    if (this.known && Math.abs(nowMillis - this.known.at) < totalKeptMillis) return this.known.total;
    const [row] = await db.rows<{ total: string }>('SELECT COUNT(*) AS total FROM contact');
    this.known = { total: wholeNumber(row?.total ?? 0), at: nowMillis };
    return this.known.total;
  }

  forget(): void {
    this.known = undefined;
  }
}
