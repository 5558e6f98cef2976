import type { MailId } from '@kettle/contract';
import { absenceUntil, kindOfIncoming, type IncomingKind } from '@kettle/core/mail';
import { localDate } from '@kettle/core/time';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull, newId, type IdBytes } from '../../platform/ids';
import type { JobKind } from '../../platform/jobs/worker';
import { tellRuns } from '../cadences/index';
import { likelyDeal } from '../deals/index';
import { writeSystemEntry } from '../../records/entries/index';
import { stir } from '../stirrings/index';
import { addressIsDead } from './after-sending';
import { fileAnswer } from './file-mail';
import { readLink } from '../../activity/outbox/index';
import { parseMail, type ParsedMail } from './parse-mail';
import { readSecret } from '../../platform/database/secret';
import { unsubscribe } from './unsubscribe';
import { type Work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

const ofArrival = z.object({ arrivalId: z.uuid() });

/** Reads what arrived, once: finds its thread and its person, and does what follows from it. */
export const readArrivalJob: JobKind = {
  words: 'reading a mail that arrived',
  effect: 'database',
  run: async (w, payload) => {
    const { arrivalId } = ofArrival.parse(payload);
    const [arrival] = await w.rows<Row<'mail_arrival', 'content' | 'envelope_from'>>(
      'SELECT content, envelope_from FROM mail_arrival WHERE id = :id',
      { id: bytesOf(arrivalId) },
    );
    if (!arrival) throw new Error(`arrival ${arrivalId} has gone`);
    const parsed = await parseMail(arrival.content, arrival.envelope_from);
    await readParsed(w, arrivalId, parsed);
  },
};

/** The mail of ours that a mail that came in belongs to. */
interface Parent {
  readonly id: string;
  readonly threadId: string;
  readonly contactId: string | null;
  readonly dealId: string | null;
  readonly userId: string | null;
  readonly toAddress: string;
}

async function readParsed(w: Work, arrivalId: string, parsed: ParsedMail): Promise<void> {
  const kind = kindOfIncoming(parsed.incoming);
  const parent = await findParent(w, kind, parsed);
  const contactId = parent?.contactId ?? (await findSender(w, parsed.fromAddress));
  const isOwn = await isColleague(w, parsed.fromAddress);
  const dealId = parent?.dealId ?? (contactId === null ? null : await likelyDeal(w, contactId));
  const id = newId<MailId>();
  const waits = kind.kind === 'human' && contactId === null && !isOwn;
  const state = waits ? 'unfiled' : contactId === null || isOwn ? 'let-go' : 'filed';
  const madeUp = `<${arrivalId}@${w.services.channels.mailDomain}>`;
  const given = (parsed.messageId ?? madeUp).slice(0, 250);
  const messageId = (await isOtherMail(w, given, parsed)) ? madeUp : given;
  const added = await w.change(
    `INSERT IGNORE INTO mail (id, direction, state, kind, message_id, thread_id, in_reply_to, reference_ids, from_name, from_address,
        to_address, subject, text, html, user_id, contact_id, deal_id, arrival_id, at)
     VALUES (:id, 'in', :state, :kind, :messageId, :thread, :inReplyTo, :references, :fromName, :from, :to, :subject, :text,
        :html, :user, :contact, :deal, :arrival, :now)`,
    {
      id: bytesOf(id),
      state,
      kind: kind.kind,
      messageId,
      thread: bytesOf(parent?.threadId ?? id),
      inReplyTo: parsed.inReplyTo?.slice(0, 250) ?? null,
      references: parsed.references.join(' '),
      fromName: parsed.fromName,
      from: parsed.fromAddress,
      to: parsed.toAddress,
      subject: parsed.subject,
      text: parsed.text,
      html: parsed.html,
      user: bytesOf(parent?.userId ?? (await ownerOfAddress(w, parsed.toAddress))),
      contact: bytesOf(isOwn ? null : contactId),
      deal: bytesOf(isOwn ? null : dealId),
      arrival: bytesOf(arrivalId),
      now: sqlInstant(w.now),
    },
  );
  // The same mail came by another way before.
  if (added === 0) return;
  if (contactId !== null && !isOwn) await follow(w, { mailId: id, contactId, dealId, kind, parsed, parent });
}

/** Whether another mail has the id already: somebody uses ids twice, or pretends to; both are to be seen. */
async function isOtherMail(db: Queryable, messageId: string, parsed: ParsedMail): Promise<boolean> {
  const [known] = await db.rows<Row<'mail', 'from_address' | 'subject' | 'text'>>(
    'SELECT from_address, subject, text FROM mail WHERE message_id = :messageId',
    { messageId },
  );
  return (
    known !== undefined &&
    (known.from_address !== parsed.fromAddress ||
      known.subject !== parsed.subject ||
      known.text !== parsed.text)
  );
}

interface Followed {
  readonly mailId: MailId;
  readonly contactId: string;
  readonly dealId: string | null;
  readonly kind: IncomingKind;
  readonly parsed: ParsedMail;
  readonly parent: Parent | null;
}

async function follow(w: Work, followed: Followed): Promise<void> {
  const { mailId, contactId, dealId, kind, parsed } = followed;
  const [person] = await w.rows<Row<'contact', 'zone'>>(
    'SELECT zone FROM contact WHERE id = :id FOR UPDATE',
    {
      id: bytesOf(contactId),
    },
  );
  if (!person) return;
  switch (kind.kind) {
    case 'human':
      return fileAnswer(w, {
        mailId,
        contactId,
        dealId,
        subject: parsed.subject,
        words: parsed.newWords,
        byUserId: null,
      });
    case 'out-of-office':
      return pauseForAbsence(w, followed, person.zone);
    case 'bounce':
      return returned(w, followed);
    case 'unsubscribe':
      return unsubscribe(w, {
        contactId,
        channel: 'email',
        origin: 'asked by mail',
        eventId: `mail:${mailId}`,
        mailId,
      });
    case 'automatic':
      return undefined;
  }
}

async function pauseForAbsence(
  w: Work,
  { mailId, contactId, parsed }: Followed,
  zone: string,
): Promise<void> {
  const now = w.now;
  const until = absenceUntil(`${parsed.subject}\n${parsed.newWords}`, localDate(now, zone));
  const words = until === null ? 'is out of office' : `is out of office until ${until}`;
  await writeSystemEntry(w, { contactId, body: `Automatic reply: ${words}` });
  await stir(w, { key: `away:${mailId}`, kind: 'away', words, contactId, mailId });
  await tellRuns(w, contactId, ({ id }) => ({
    id: `mail:${mailId}:${id}`,
    at: now,
    kind: 'out-of-office',
    until,
  }));
}

async function returned(w: Work, { mailId, contactId, kind, parent }: Followed): Promise<void> {
  if (kind.kind !== 'bounce' || parent === null) return;
  const [failed] = kind.failed;
  const said = [failed?.status, failed?.diagnostic].filter(Boolean).join(' ') || 'no reason was given';
  await w.change('UPDATE mail SET said = :said, version = version + 1 WHERE id = :id', {
    id: bytesOf(parent.id),
    said: `came back: ${said}`.slice(0, 500),
  });
  // What we wrote to is what failed, whichever address the return names.
  const address = parent.toAddress;
  if (kind.isFinal) return addressIsDead(w, { contactId, address, eventId: `mail:${mailId}`, mailId, said });
  await writeSystemEntry(w, {
    contactId,
    body: `Mail to ${address} is delayed or came back for now: ${said}`,
  });
}

const parentColumns = 'id, thread_id, contact_id, deal_id, user_id, to_address';

type ParentRow = Row<'mail', 'id' | 'thread_id' | 'contact_id' | 'deal_id' | 'user_id' | 'to_address'>;

/**
 * By the ids it answers, latest first; a return by the id of what was returned, or by its own address; a wish to be let alone by the token
 * in its subject.
 */
async function findParent(tx: Queryable, kind: IncomingKind, parsed: ParsedMail): Promise<Parent | null> {
  const ids = [parsed.inReplyTo ?? [], [...parsed.references].reverse(), parsed.returnedIds].flat();
  const byIds = ids.length === 0 ? null : await parentWhere(tx, 'message_id IN (:ids)', { ids });
  if (byIds !== null) return byIds;
  // A return is believed by the id of what came back, or at the address that only that mail's returns go to: anybody can write one.
  const own = kind.kind === 'bounce' ? /^bounces\+([0-9a-f-]{36})@/i.exec(parsed.toAddress)?.[1] : undefined;
  if (own !== undefined) return parentWhere(tx, "id = :id AND direction = 'out'", { id: bytesOf(own) });
  const token = /unsubscribe\s+([\w-]{40,})/i.exec(parsed.subject)?.[1];
  if (token === undefined) return null;
  const named = readLink(await readSecret(tx, 'links'), 'unsubscribe', token);
  return named && parentWhere(tx, 'id = :id', { id: bytesOf(named.mailId) });
}

async function parentWhere(
  tx: Queryable,
  where: string,
  parameters: Record<string, string | readonly string[] | IdBytes>,
): Promise<Parent | null> {
  const [row] = await tx.rows<ParentRow>(
    `SELECT ${parentColumns} FROM mail WHERE ${where} ORDER BY at DESC, id DESC LIMIT 1`,
    parameters,
  );
  if (!row) return null;
  return {
    id: idOf(row.id),
    threadId: idOf(row.thread_id),
    contactId: idOrNull(row.contact_id),
    dealId: idOrNull(row.deal_id),
    userId: idOrNull(row.user_id),
    toAddress: row.to_address,
  };
}

/** The one person of an address; with two of them somebody has to say whose it is. */
async function findSender(tx: Queryable, address: string): Promise<string | null> {
  const rows = await tx.rows<{ id: IdBytes }>(
    `SELECT id FROM contact WHERE email = :address
     UNION SELECT contact_id FROM contact_point WHERE value = :address AND kind = 'email' LIMIT 2`,
    { address },
  );
  return rows.length === 1 ? idOf<string>(rows[0]!.id) : null;
}

async function isColleague(tx: Queryable, address: string): Promise<boolean> {
  return (await ownerOfAddress(tx, address)) !== null;
}

async function ownerOfAddress(tx: Queryable, address: string): Promise<string | null> {
  const [user] = await tx.rows<Row<'app_user', 'id'>>('SELECT id FROM app_user WHERE email = :address', {
    address,
  });
  return user ? idOf<string>(user.id) : null;
}
