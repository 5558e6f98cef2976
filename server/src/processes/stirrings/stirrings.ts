import { reachParameters, withinReach } from '../../records/rights/index';
import type { SignedIn } from '../../records/users/index';
import type { Stirring, StirringId, StirringKind } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { instantOf, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull, newId } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import { type Work, type PersonWork } from '../../platform/work/work';
import type { Row, Tables } from '../../platform/database/schema.generated';

export interface NewStirring {
  /** The same sign again is counted, not added. */
  readonly key: string;
  readonly kind: StirringKind;
  readonly words: string;
  readonly contactId: string | null;
  readonly mailId: string | null;
  /** Of a call or text from outside. */
  readonly number?: string;
  readonly textId?: string;
}

/** Notes a sign of life for the owner of the person; true when it is the first of its kind. */
export async function stir(w: Work, sign: NewStirring): Promise<boolean> {
  const { clock } = w.services;
  const now = clock.now();
  const id = newId<StirringId>();
  const [person] = await w.rows<Row<'contact', 'owner_id'>>('SELECT owner_id FROM contact WHERE id = :id', {
    id: bytesOf(sign.contactId),
  });
  const affected = await w.change(
    `INSERT INTO stirring (id, dedupe_key, at, kind, words, user_id, contact_id, mail_id, number, text_id)
     VALUES (:id, :key, :now, :kind, :words, :user, :contact, :mail, :number, :text)
     ON DUPLICATE KEY UPDATE times = times + 1, at = :now, version = version + 1`,
    {
      id: bytesOf(id),
      key: sign.key,
      now: sqlInstant(now),
      kind: sign.kind,
      words: sign.words.slice(0, 300),
      user: person?.owner_id ?? null,
      contact: bytesOf(sign.contactId),
      mail: bytesOf(sign.mailId),
      number: sign.number?.slice(0, 30) ?? null,
      text: bytesOf(sign.textId),
    },
  );
  // MariaDB counts an added row as 1 and a changed one as 2.
  return affected === 1;
}

interface StirringRow
  extends
    Row<'stirring', 'id' | 'at' | 'words' | 'times' | 'contact_id' | 'mail_id' | 'handled_at' | 'version'>,
    Row<'contact', 'company_name'> {
  contact_name: Tables['contact']['display_name'];
  kind: StirringKind;
}

const select = `SELECT s.id, s.at, s.kind, s.words, s.times, s.contact_id, c.display_name AS contact_name, c.company_name, s.mail_id,
    s.handled_at, s.version FROM stirring s LEFT JOIN contact c ON c.id = s.contact_id`;

function stirringOf(row: StirringRow): Stirring {
  return {
    id: idOf(row.id),
    at: instantOf(row.at),
    kind: row.kind,
    words: row.words,
    times: row.times,
    contactId: idOrNull(row.contact_id),
    contactName: row.contact_name,
    companyName: row.company_name,
    mailId: idOrNull(row.mail_id),
    isHandled: row.handled_at !== null,
    version: row.version,
  };
}

/** Relies on stirring_user. */
export async function listStirrings(
  db: Queryable,
  who: SignedIn,
  asked: { readonly whose: 'mine' | 'all'; readonly show: 'open' | 'all'; readonly limit: number },
): Promise<{ rows: Stirring[]; open: number }> {
  const mine =
    asked.whose === 'mine' ? '(s.user_id = :user OR s.user_id IS NULL)' : withinReach(who, 'stirring', 's');
  const parameters = { ...reachParameters(who), user: bytesOf(who.id) };
  const rows = await db.rows<StirringRow>(
    `${select} WHERE ${mine} ${asked.show === 'open' ? 'AND s.handled_at IS NULL' : ''} ORDER BY s.at DESC, s.id DESC LIMIT :limit`,
    { ...parameters, limit: asked.limit },
  );
  const [count] = await db.rows<{ open: string }>(
    `SELECT COUNT(*) AS open FROM stirring s WHERE ${mine} AND s.handled_at IS NULL`,
    parameters,
  );
  return { rows: rows.map(stirringOf), open: Number(count?.open ?? 0) };
}

/** @throws Problem `not-found` */
export async function readStirring(
  db: Queryable,
  id: string,
): Promise<Stirring & { ownerId: string | null }> {
  const [row] = await db.rows<StirringRow>(`${select} WHERE s.id = :id`, { id: bytesOf(id) });
  if (!row) throw new Problem('not-found');
  const [owner] = await db.rows<Row<'stirring', 'user_id'>>('SELECT user_id FROM stirring WHERE id = :id', {
    id: row.id,
  });
  return { ...stirringOf(row), ownerId: owner ? idOrNull(owner.user_id) : null };
}

/** What was done with a person settles the signs they gave before. */
export async function settleStirrings(w: PersonWork, contactId: string): Promise<void> {
  await w.later(
    `UPDATE stirring SET handled_at = :now, handled_by = :user, version = version + 1
      WHERE contact_id = :contact AND handled_at IS NULL`,
    { contact: bytesOf(contactId), user: bytesOf(w.who.id), now: sqlInstant(w.now) },
  );
}
