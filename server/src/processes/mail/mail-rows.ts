import type { Mail, MailBox, MailRow } from '@kettle/contract';
import { mailBox } from '@kettle/contract';
import { companyDomain } from '@kettle/core/duplicates';
import sanitize from 'sanitize-html';
import type { Queryable } from '../../platform/database/database';
import { instantOf, instantOrNull } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull, type IdBytes } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import { reachParameters, withinReach } from '../../records/rights/index';
import type { SignedIn } from '../../records/users/index';
import type { Row, Tables } from '../../platform/database/schema.generated';

interface MailColumns
  extends
    Row<
      'mail',
      | 'id'
      | 'direction'
      | 'state'
      | 'at'
      | 'from_name'
      | 'from_address'
      | 'to_address'
      | 'subject'
      | 'contact_id'
      | 'deal_id'
      | 'said'
      | 'proof'
      | 'proof_words'
      | 'version'
    >,
    Row<'contact', 'company_name'> {
  contact_name: Tables['contact']['display_name'];
  kind: MailRow['kind'];
  opening: string;
}

const select = `SELECT m.id, m.direction, m.state, m.kind, m.at, m.from_name, m.from_address, m.to_address, m.subject,
    LEFT(m.text, 160) AS opening, m.contact_id, c.display_name AS contact_name, c.company_name, m.deal_id, m.said, m.proof, m.proof_words, m.version
  FROM mail m LEFT JOIN contact c ON c.id = m.contact_id`;

function mailRowOf(row: MailColumns): MailRow {
  return {
    id: idOf(row.id),
    direction: row.direction,
    state: row.state,
    kind: row.kind,
    at: instantOf(row.at),
    fromName: row.from_name,
    fromAddress: row.from_address,
    toAddress: row.to_address,
    subject: row.subject,
    opening: row.opening.replace(/\s+/g, ' ').trim(),
    contactId: idOrNull(row.contact_id),
    contactName: row.contact_name,
    companyName: row.company_name,
    dealId: idOrNull(row.deal_id),
    said: row.said,
    proof: row.proof,
    proofWords: row.proof_words,
    version: row.version,
  };
}

/** Where a mail is looked for. What is being handed over still waits, as far as anybody can see. */
const boxes: Readonly<Record<MailBox, string>> = {
  unfiled: "m.state = 'unfiled'",
  held: "m.state = 'held'",
  waiting: "m.state IN ('waiting', 'handing-over')",
  sent: "m.state IN ('sent', 'failed', 'withdrawn')",
  filed: "m.state = 'filed'",
  'let-go': "m.state = 'let-go'",
};

/** Boxes hold what is one's own or nobody's; of managers and admins, what is within their reach. */
const mayRead = (who: SignedIn) =>
  who.role === 'rep' ? '(m.user_id = :who OR m.user_id IS NULL)' : withinReach(who, 'mail', 'm');

export async function listMail(
  db: Queryable,
  who: SignedIn,
  asked: {
    readonly box?: MailBox | undefined;
    readonly contactId?: string | undefined;
    readonly q?: string | undefined;
    readonly limit: number;
  },
): Promise<{ rows: MailRow[]; counts: Record<MailBox, number> }> {
  // What belongs to a person is open to whoever may read the person.
  const wheres = [asked.contactId === undefined ? mayRead(who) : 'm.contact_id = :contact'];
  if (asked.box) wheres.push(boxes[asked.box]);
  if (asked.q) wheres.push('(m.subject LIKE :q OR m.from_address LIKE :q OR m.to_address LIKE :q)');
  const rows = await db.rows<MailColumns>(
    `${select} WHERE ${wheres.join(' AND ')} ORDER BY m.at DESC, m.id DESC LIMIT :limit`,
    {
      ...reachParameters(who),
      who: bytesOf(who.id),
      contact: bytesOf(asked.contactId),
      q: `%${(asked.q ?? '').replace(/[%_\\]/g, '\\$&')}%`,
      limit: asked.limit,
    },
  );
  const counted = await db.rows<Row<'mail', 'state'> & { n: string }>(
    `SELECT m.state, COUNT(*) AS n FROM mail m WHERE ${mayRead(who)} GROUP BY m.state`,
    { ...reachParameters(who), who: bytesOf(who.id) },
  );
  const inBox = (box: MailBox) =>
    counted
      .filter(({ state }) => boxes[box].includes(`'${state}'`))
      .reduce((sum, { n }) => sum + Number(n), 0);
  const counts = Object.fromEntries(mailBox.options.map((box) => [box, inBox(box)]));
  return { rows: rows.map(mailRowOf), counts: counts as Record<MailBox, number> };
}

/** @throws Problem `not-found`, also for a mail of somebody else that belongs to nobody's person */
export async function readMailRow(db: Queryable, who: SignedIn, id: string): Promise<MailRow> {
  const [row] = await db.rows<MailColumns>(
    `${select} WHERE m.id = :id AND (${mayRead(who)} OR (m.contact_id IS NOT NULL AND ${withinReach(who, 'mail', 'm')}))`,
    {
      ...reachParameters(who),
      id: bytesOf(id),
      who: bytesOf(who.id),
    },
  );
  if (!row) throw new Problem('not-found');
  return mailRowOf(row);
}

export async function readMail(db: Queryable, who: SignedIn, id: string): Promise<Mail> {
  const row = await readMailRow(db, who, id);
  const [content] = await db.rows<Row<'mail', 'text' | 'html' | 'thread_id' | 'handed_at' | 'attempts'>>(
    'SELECT text, html, thread_id, handed_at, attempts FROM mail WHERE id = :id',
    { id: bytesOf(id) },
  );
  const thread = await db.rows<MailColumns>(
    `${select} WHERE m.thread_id = :thread ORDER BY m.at, m.id LIMIT 100`,
    {
      thread: content!.thread_id,
    },
  );
  const { html, blockedPictures } =
    content!.html === null ? { html: null, blockedPictures: 0 } : cleanMail(content!.html);
  return {
    ...row,
    text: content!.text,
    html,
    blockedPictures,
    thread: thread.map(mailRowOf),
    proposed: row.state === 'unfiled' ? await proposePeople(db, row, content!.thread_id) : [],
    known: row.state === 'held' ? await knownOf(db, row, instantOrNull(content!.handed_at)) : [],
  };
}

const mostHtml = 500_000;

/** A mail's HTML without anything that runs, asks or reaches out: no scripts, forms, styles from afar, or pictures. */
export function cleanMail(html: string): { html: string; blockedPictures: number } {
  let blockedPictures = 0;
  const clean = sanitize(html.slice(0, mostHtml), {
    allowedTags: sanitize.defaults.allowedTags.filter((tag) => tag !== 'img'),
    allowedAttributes: { a: ['href'], td: ['colspan', 'rowspan'], th: ['colspan', 'rowspan'] },
    allowedSchemes: ['http', 'https', 'mailto', 'tel'],
    transformTags: {
      a: (_, { href = '' }) => ({
        tagName: 'a',
        attribs: { href, rel: 'noopener noreferrer nofollow', target: '_blank' },
      }),
    },
    onOpenTag: (name) => {
      if (name === 'img') blockedPictures += 1;
    },
  });
  return { html: clean, blockedPictures };
}

/** People a mail without one may be from: those with its address, who the exchange is with, those of the same firm's addresses. */
async function proposePeople(db: Queryable, row: MailRow, threadId: IdBytes): Promise<Mail['proposed']> {
  const domain = row.fromAddress.split('@')[1] ?? '';
  const people = await db.rows<Row<'contact', 'id' | 'display_name' | 'company_name'> & { nearness: number }>(
    `SELECT id, display_name, company_name, MAX(nearness) AS nearness FROM (
        SELECT id, 3 AS nearness FROM contact WHERE email = :address
        UNION ALL SELECT contact_id, 3 FROM contact_point WHERE value = :address AND kind = 'email'
        UNION ALL SELECT contact_id, 2 FROM mail WHERE thread_id = :thread AND contact_id IS NOT NULL
        UNION ALL SELECT id, 1 FROM contact WHERE :isFirm AND email LIKE :domain
      ) AS near JOIN contact USING (id) GROUP BY id, display_name, company_name, sort_name
      ORDER BY nearness DESC, sort_name, id LIMIT 6`,
    {
      address: row.fromAddress,
      thread: threadId,
      isFirm: companyDomain(row.fromAddress) !== null,
      domain: `%@${domain.replace(/[%_\\]/g, '\\$&')}`,
    },
  );
  const why = { 3: 'has this address', 2: 'the exchange is with them', 1: `writes from ${domain} too` };
  return people.map((person) => ({
    contactId: idOf(person.id),
    name: person.display_name,
    companyName: person.company_name,
    why: why[Number(person.nearness) as keyof typeof why],
  }));
}

/** For a mail that was handed over without an answer: everything that tells for or against its arrival. */
async function knownOf(db: Queryable, row: MailRow, handedAt: string | null): Promise<string[]> {
  const [signs] = await db.rows<{ n: string }>('SELECT COUNT(*) AS n FROM stirring WHERE mail_id = :id', {
    id: bytesOf(row.id),
  });
  const [answers] = await db.rows<{ n: string }>(
    "SELECT COUNT(*) AS n FROM mail WHERE in_reply_to = (SELECT message_id FROM mail WHERE id = :id) AND direction = 'in'",
    { id: bytesOf(row.id) },
  );
  return [
    handedAt === null ? 'it is not known when it was handed over' : `handed over at ${handedAt}`,
    row.said ?? '',
    Number(answers?.n) > 0 ? 'an answer to it has come: it arrived' : 'no answer to it has come',
    Number(signs?.n) > 0 ? 'it was opened or a link followed: it arrived' : 'no sign that it was opened',
  ].filter((words) => words !== '');
}
