import type { ContactId, Mail, MailRow } from '@kettle/contract';
import { companyDomain } from '@kettle/core/duplicates';
import { dealsMeant } from '@kettle/core/mail';
import sanitize from 'sanitize-html';
import type { Queryable } from '../../platform/database/database';
import { instantOf, instantOrNull } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull, type IdBytes } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import { openDealsOf } from '../deals/index';
import { readReceived } from './received-invitations';
import { nameKey, splitName } from '@kettle/core/duplicates';
import { likeEnd } from '../../records/grid/index';
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
      | 'user_id'
      | 'said'
      | 'proof'
      | 'proof_words'
      | 'version'
    >,
    Row<'contact', 'company_name'> {
  contact_name: Tables['contact']['display_name'];
  deal_name: string | null;
  user_name: string | null;
  kind: MailRow['kind'];
  opening: string;
}

const select = `SELECT m.id, m.direction, m.state, m.kind, m.at, m.from_name, m.from_address, m.to_address, m.subject,
    LEFT(m.text, 160) AS opening, m.contact_id, c.display_name AS contact_name, c.company_name, m.deal_id, d.name AS deal_name,
    m.user_id, u.name AS user_name, m.said, m.proof, m.proof_words, m.version
  FROM mail m LEFT JOIN contact c ON c.id = m.contact_id LEFT JOIN deal d ON d.id = m.deal_id LEFT JOIN app_user u ON u.id = m.user_id`;

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
    dealName: row.deal_name,
    ownerId: idOrNull(row.user_id),
    ownerName: row.user_name,
    said: row.said,
    proof: row.proof,
    proofWords: row.proof_words,
    version: row.version,
  };
}

/** Boxes hold what is one's own or nobody's; of managers and admins, what is within their reach. */
export const isInBoxes = (who: SignedIn) =>
  who.role === 'rep' ? '(m.user_id = :reach_me OR m.user_id IS NULL)' : withinReach(who, 'mail', 'm');

/** What somebody may read: their boxes, and what belongs to a person they may read. With `reachParameters`. */
const isReadable = (who: SignedIn) =>
  `(${isInBoxes(who)} OR (m.contact_id IS NOT NULL AND ${withinReach(who, 'mail', 'm')}))`;

/** Mails by id that somebody may read, in the order of the ids. */
export async function readMailRows(
  db: Queryable,
  who: SignedIn,
  ids: readonly IdBytes[],
): Promise<MailRow[]> {
  if (ids.length === 0) return [];
  const rows = await db.rows<MailColumns>(`${select} WHERE m.id IN (:ids) AND ${isReadable(who)}`, {
    ...reachParameters(who),
    ids: [...ids],
  });
  const found = new Map(rows.map((row) => [row.id.toString('hex'), mailRowOf(row)]));
  return ids.flatMap((id) => found.get(id.toString('hex')) ?? []);
}

/** @throws Problem `not-found`, also for a mail of somebody else that belongs to nobody's person */
export async function readMailRow(db: Queryable, who: SignedIn, id: string): Promise<MailRow> {
  const [row] = await readMailRows(db, who, [bytesOf(id)]);
  if (!row) throw new Problem('not-found');
  return row;
}

export async function readMail(db: Queryable, who: SignedIn, id: string): Promise<Mail> {
  const row = await readMailRow(db, who, id);
  const [content] = await db.rows<Row<'mail', 'text' | 'html' | 'thread_id' | 'handed_at' | 'attempts'>>(
    'SELECT text, html, thread_id, handed_at, attempts FROM mail WHERE id = :id',
    { id: bytesOf(id) },
  );
  const thread = await db.rows<MailColumns>(
    `${select} WHERE m.thread_id = :thread AND ${isReadable(who)} ORDER BY m.at, m.id LIMIT 100`,
    { ...reachParameters(who), thread: content!.thread_id },
  );
  const { html, blockedPictures } =
    content!.html === null ? { html: null, blockedPictures: 0 } : cleanMail(content!.html);
  return {
    ...row,
    invitation: row.direction === 'in' ? await readReceived(db, row.id) : null,
    text: content!.text,
    html,
    blockedPictures,
    thread: thread.map(mailRowOf),
    proposed:
      row.state === 'unfiled'
        ? await proposePeople(db, who, { row, text: content!.text, threadId: content!.thread_id })
        : [],
    deals:
      row.state === 'filed' && row.direction === 'in' && row.contactId !== null
        ? (await dealsFor(db, [row.contactId], { subject: row.subject, text: content!.text })).get(
            row.contactId,
          )!
        : [],
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

/**
 * People that a mail without one may be from, of those whom its reader may see: those with its address, who the exchange is with, those of
 * the writer's name, those of the same firm's addresses.
 */
async function proposePeople(
  db: Queryable,
  who: SignedIn,
  { row, text, threadId }: { readonly row: MailRow; readonly text: string; readonly threadId: IdBytes },
): Promise<Mail['proposed']> {
  const domain = row.fromAddress.split('@')[1] ?? '';
  const people = await db.rows<Row<'contact', 'id' | 'display_name' | 'company_name'> & { nearness: number }>(
    `SELECT id, display_name, company_name, MAX(nearness) AS nearness FROM (
        SELECT id, 4 AS nearness FROM contact WHERE email = :address
        UNION ALL SELECT contact_id, 4 FROM contact_point WHERE value = :address AND kind = 'email'
        UNION ALL SELECT contact_id, 3 FROM mail WHERE thread_id = :thread AND contact_id IS NOT NULL
        UNION ALL SELECT id, 2 FROM contact WHERE archived_at IS NULL AND sort_name = :writer
        UNION ALL SELECT id, 1 FROM contact WHERE :isFirm AND email_back LIKE :domain
      ) AS near JOIN contact c USING (id) WHERE ${withinReach(who, 'contact', 'c')}
      GROUP BY id, display_name, company_name, sort_name ORDER BY nearness DESC, sort_name, id LIMIT 6`,
    {
      ...reachParameters(who),
      writer: sortNameOf(row.fromName ?? ''),
      address: row.fromAddress,
      thread: threadId,
      isFirm: companyDomain(row.fromAddress) !== null,
      domain: likeEnd(`@${domain}`),
    },
  );
  const why = {
    4: $localize`has this address`,
    3: $localize`the exchange is with them`,
    2: $localize`has this name, and writes from another address`,
    1: $localize`writes from ${domain}:domain: too`,
  };
  const deals = await dealsFor(
    db,
    people.map(({ id }) => idOf<ContactId>(id)),
    { subject: row.subject, text },
  );
  return people.map((person) => ({
    contactId: idOf(person.id),
    deals: deals.get(idOf(person.id))!,
    name: person.display_name,
    companyName: person.company_name,
    why: why[Number(person.nearness) as keyof typeof why],
  }));
}

/** A written name as contacts are sorted by; of a single word, which many share, nothing. */
function sortNameOf(name: string): string {
  const { givenName, familyName } = splitName(name);
  return givenName === '' || familyName === '' ? '' : nameKey(`${familyName} ${givenName}`);
}

/** Open deals of each of several people, the one that the words mean first. */
async function dealsFor(
  db: Queryable,
  contactIds: readonly ContactId[],
  said: { readonly subject: string; readonly text: string },
): Promise<ReadonlyMap<ContactId, Mail['deals']>> {
  const deals = await openDealsOf(db, contactIds);
  return new Map(
    contactIds.map((id) => [
      id,
      dealsMeant(
        deals.filter((deal) => deal.contactId === id).map((deal) => ({ id: deal.id, name: deal.name })),
        said,
      ),
    ]),
  );
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
    handedAt === null
      ? $localize`it is not known when it was handed over`
      : $localize`handed over at ${handedAt}:handedAt:`,
    row.said ?? '',
    Number(answers?.n) > 0
      ? $localize`an answer to it has come: it arrived`
      : $localize`no answer to it has come`,
    Number(signs?.n) > 0
      ? $localize`it was opened or a link followed: it arrived`
      : $localize`no sign that it was opened`,
  ].filter((words) => words !== '');
}
