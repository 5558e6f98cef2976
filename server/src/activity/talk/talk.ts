import type { TalkAbout, TalkMessage, WriteTalk } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf, sqlInstant, wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { PersonWork } from '../../platform/work/work';
import { readableIds, type Owned } from '../../records/rights/index';
import type { SignedIn } from '../../records/users/index';
import { tellNamed } from '../journal/index';

interface Subject {
  readonly kind: Owned;
  readonly column: string;
  readonly id: string;
  readonly path: string;
}

const placed = (kind: Owned, column: string, path: string) => ({ kind, column, path });
const kinds = {
  contactId: placed('contact', 'contact_id', '/people'),
  companyId: placed('company', 'company_id', '/companies'),
  dealId: placed('deal', 'deal_id', '/deals'),
  leadId: placed('lead', 'lead_id', '/deals/leads'),
  agreementId: placed('agreement', 'agreement_id', '/agreements'),
} as const satisfies Record<keyof TalkAbout, Omit<Subject, 'id'>>;

function subjectOf(about: TalkAbout): Subject {
  const [field] = (Object.keys(kinds) as (keyof typeof kinds)[]).filter((each) => about[each] !== undefined);
  if (field === undefined) throw new Problem('not-found');
  return { ...kinds[field], id: about[field]! };
}

const mostShown = 200;

/** What colleagues said about a record, oldest first. The record was checked with the request. */
export async function readTalk(
  db: Queryable,
  who: SignedIn,
  about: TalkAbout,
): Promise<{ messages: TalkMessage[]; earlier: number }> {
  const { column, id } = subjectOf(about);
  const rows = await db.rows<
    Row<'talk', 'id' | 'user_id' | 'body' | 'created_at'> & { user_name: string; total: number | string }
  >(
    `SELECT t.id, t.user_id, u.name AS user_name, t.body, t.created_at, COUNT(*) OVER () AS total
       FROM talk t JOIN app_user u ON u.id = t.user_id WHERE t.${column} = :id
      ORDER BY t.created_at DESC, t.id DESC LIMIT ${mostShown}`,
    { id: bytesOf(id) },
  );
  return {
    earlier: Math.max(0, wholeNumber(rows[0]?.total ?? 0) - mostShown),
    messages: rows
      .map((row): TalkMessage => ({
        id: idOf(row.id),
        userId: idOf(row.user_id),
        userName: row.user_name,
        at: instantOf(row.created_at),
        body: row.body,
        isMine: idOf(row.user_id) === who.id,
      }))
      .reverse(),
  };
}

const names = {
  contact: 'SELECT display_name AS name FROM contact WHERE id = :id',
  company: 'SELECT name FROM company WHERE id = :id',
  deal: 'SELECT name FROM deal WHERE id = :id',
  lead: "SELECT CONCAT(c.display_name, ': ', l.subject) AS name FROM sales_lead l JOIN contact c ON c.id = l.contact_id WHERE l.id = :id",
  agreement: 'SELECT name FROM agreement WHERE id = :id',
} as const;

/**
 * Says something to colleagues about a record: those named with an @ are told, and whoever said something there before. Sent again by its id
 * it is written once. @throws Problem `not-found`
 */
export async function writeTalk(w: PersonWork, { id, body, ...about }: WriteTalk): Promise<void> {
  const subject = subjectOf(about);
  const key = { about: bytesOf(subject.id) };
  const [record] = await w.rows<{ name: string }>(names[subject.kind as keyof typeof names], {
    id: key.about,
  });
  if (record === undefined) throw new Problem('not-found');
  const written = await w.change(
    `INSERT IGNORE INTO talk (id, ${subject.column}, user_id, body, created_at) VALUES (:id, :about, :me, :body, :now)`,
    { ...key, id: bytesOf(id), me: bytesOf(w.who.id), body, now: sqlInstant(w.now) },
  );
  if (written === 0) return;
  const before = await w.rows<Row<'talk', 'user_id'>>(
    `SELECT DISTINCT user_id FROM talk WHERE ${subject.column} = :about ORDER BY user_id`,
    key,
  );
  await tellNamed(w, {
    text: body,
    also: before.map((row) => idOf<string>(row.user_id)),
    mayRead: async (reader) => (await readableIds(w, reader, subject.kind, [key.about])).length > 0,
    place: () => Promise.resolve({ about: record.name, path: `${subject.path}/${subject.id}?part=talk` }),
  });
}

/** Removes what one said oneself. @throws Problem `not-found` also for what somebody else said */
export async function removeTalk(w: PersonWork, id: string): Promise<void> {
  const removed = await w.change('DELETE FROM talk WHERE id = :id AND user_id = :me', {
    id: bytesOf(id),
    me: bytesOf(w.who.id),
  });
  if (removed === 0) throw new Problem('not-found');
}
