import type { MailId, UserId } from '@kettle/contract';
import { companyDomain } from '@kettle/core/duplicates';
import {
  judgeProof,
  kindOfIncoming,
  type CheckResult,
  type IncomingKind,
  type MailProof,
} from '@kettle/core/mail';
import * as z from 'zod';
import type { Queryable, WithKeys } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull, newId, type IdBytes } from '../../platform/ids';
import type { JobKind } from '../../platform/jobs/worker';
import { onlyDeal } from '../deals/index';
import { readLink } from '../../activity/outbox/index';
import { followMail, type Parent } from './follow-mail';
import { takeAnswerMail } from './answer-mail';
import { noteInvitation } from './received-invitations';
import { notify } from '../../records/notifications/index';
import { checksOf, parseMail, unreadableMail, type ParsedMail } from './parse-mail';
import { readSecret } from '../../platform/database/secret';
import { type Work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

const ofArrival = z.object({ arrivalId: z.uuid() });

/** Reads what arrived, once: finds its thread and its person, and does what follows from it. */
export const readArrivalJob: JobKind = {
  words: $localize`reading a mail that arrived`,
  effect: 'database',
  run: async (w, payload) => {
    const { arrivalId } = ofArrival.parse(payload);
    const [arrival] = await w.rows<ArrivalRow>(
      'SELECT content, envelope_from, envelope_to, checks FROM mail_arrival WHERE id = :id',
      { id: bytesOf(arrivalId) },
    );
    if (!arrival) throw new Error(`arrival ${arrivalId} has gone`);
    const parsed = await parseMail(arrival.content, arrival.envelope_from).catch((error: unknown) => {
      w.services.log.warn({ err: error, arrivalId }, 'a mail that arrived could not be read');
      return unreadableMail(arrival.content, arrival.envelope_from);
    });
    const checks =
      arrival.checks === null
        ? checksOf(parsed, w.services.channels.mailAuthority)
        : (JSON.parse(arrival.checks) as CheckResult[]);
    await readParsed(w, { arrivalId, parsed, checks, envelopeTo: arrival.envelope_to });
  },
};

type ArrivalRow = Row<'mail_arrival', 'content' | 'envelope_from' | 'envelope_to' | 'checks'>;

interface Arrived {
  readonly arrivalId: string;
  readonly parsed: ParsedMail;
  /** What was found of whom it is from; null when nobody looked. */
  readonly checks: readonly CheckResult[] | null;
  readonly envelopeTo: string | null;
}

async function readParsed(w: Work, { arrivalId, parsed, checks, envelopeTo }: Arrived): Promise<void> {
  const kind = kindOfIncoming(parsed.incoming);
  const parent = await findParent(w, kind, parsed);
  const theirs = parent?.contactId ?? (await findSender(w, parsed.fromAddress));
  const isOwn = await isColleague(w, parsed.fromAddress);
  const judged = kind.kind === 'bounce' ? null : await judge(w, { parsed, checks, theirs });
  const isBelieved = judged === null || parent?.isByToken === true || judged.isBelieved;
  // What nothing follows from may lie with whom it names; the rest waits for somebody to say whose it is.
  const isProposed = theirs !== null && !isBelieved && kind.kind !== 'automatic';
  const contactId = isProposed ? null : theirs;
  const dealId = parent?.dealId ?? (contactId === null ? null : await onlyDeal(w, contactId));
  const id = newId<MailId>();
  const waits = isProposed || (kind.kind === 'human' && contactId === null);
  const state = isOwn ? 'let-go' : waits ? 'unfiled' : contactId === null ? 'let-go' : 'filed';
  const userId = parent?.userId ?? (await ownerOfAddress(w, envelopeTo ?? parsed.toAddress));
  const at = writtenAt(parsed, w.now);
  const madeUp = `<${arrivalId}@${w.services.channels.mailDomain}>`;
  const given = (parsed.messageId ?? madeUp).slice(0, 250);
  const messageId = (await isOtherMail(w, given, parsed)) ? madeUp : given;
  const added = await w.change(
    `INSERT IGNORE INTO mail (id, direction, state, kind, proof, proof_words, message_id, thread_id, in_reply_to, reference_ids, from_name, from_address,
        to_address, subject, text, html, user_id, contact_id, deal_id, arrival_id, at)
     VALUES (:id, 'in', :state, :kind, :proof, :proofWords, :messageId, :thread, :inReplyTo, :references, :fromName, :from, :to, :subject, :text,
        :html, :user, :contact, :deal, :arrival, :at)`,
    {
      id: bytesOf(id),
      state,
      kind: kind.kind,
      proof: judged?.proof ?? null,
      proofWords: judged?.words.slice(0, 400) ?? null,
      messageId,
      thread: bytesOf(parent?.threadId ?? id),
      inReplyTo: parsed.inReplyTo?.slice(0, 250) ?? null,
      references: parsed.references.join(' '),
      fromName: parsed.fromName,
      from: parsed.fromAddress,
      to: parsed.toAddress || envelopeTo || '',
      subject: parsed.subject,
      text: parsed.text,
      html: parsed.html,
      user: bytesOf(userId),
      contact: bytesOf(isOwn ? null : contactId),
      deal: bytesOf(isOwn ? null : dealId),
      arrival: bytesOf(arrivalId),
      at: sqlInstant(at),
    },
  );
  // The same mail came by another way before.
  if (added === 0) return;
  if (isOwn) return;
  if (userId !== null && judged?.proof !== 'contradicted')
    await noteInvitation(w, { mailId: id, parsed, at, userId: userId as UserId });
  // An answer to an invitation of ours is no letter: what it says is taken, and no reply is waited for.
  if (contactId !== null && (await takeAnswerMail(w, { mailId: id, parsed, at }))) return;
  if (contactId !== null)
    return followMail(w, {
      mailId: id,
      contactId,
      dealId,
      subject: parsed.subject,
      words: parsed.newWords,
      kind,
      at,
      parent,
    });
  if (isProposed) await propose(w, { mailId: id, theirs, subject: parsed.subject });
}

/** A mail that waited in a mailbox counts from when it was written; a clock that is ahead, or years behind, is not believed. */
function writtenAt({ date }: ParsedMail, now: string): string {
  const age = date === null ? -1 : Date.parse(now) - date.getTime();
  return date !== null && age >= 0 && age <= oldestMail ? date.toISOString() : now;
}

const oldestMail = 2 * 365 * 86_400_000;

/** Whose a mail is, is believed when its address is theirs (or of the same firm) and that firm's domain vouches for it. */
async function judge(
  w: Work,
  {
    parsed,
    checks,
    theirs,
  }: { parsed: ParsedMail; checks: readonly CheckResult[] | null; theirs: string | null },
): Promise<{ proof: MailProof; words: string; isBelieved: boolean }> {
  const { proof, words } = judgeProof(parsed.fromAddress, checks);
  if (theirs === null) return { proof, words, isBelieved: false };
  const known = await addressesOf(w, theirs);
  if (known.includes(parsed.fromAddress)) return { proof, words, isBelieved: proof === 'proven' };
  const firm = companyDomain(parsed.fromAddress);
  const isOfFirm = firm !== null && known.some((address) => companyDomain(address) === firm);
  const other = $localize`from another address than theirs: ${parsed.fromAddress}:fromAddress: instead of ${known.join(', ') || 'none'}:join:`;
  return { proof, words: `${other}; ${words}`, isBelieved: proof === 'proven' && isOfFirm };
}

async function addressesOf(db: Queryable, contactId: string): Promise<string[]> {
  const rows = await db.rows<{ address: string }>(
    `SELECT LOWER(email) AS address FROM contact WHERE id = :id AND email IS NOT NULL
     UNION SELECT LOWER(value) FROM contact_point WHERE contact_id = :id AND kind = 'email'`,
    { id: bytesOf(contactId) },
  );
  return rows.map(({ address }) => address);
}

/** The owner of whom a mail says it is from hears that it waits. */
async function propose(
  w: Work,
  { mailId, theirs, subject }: { mailId: MailId; theirs: string; subject: string },
): Promise<void> {
  const [person] = await w.rows<Row<'contact', 'display_name' | 'owner_id'>>(
    'SELECT display_name, owner_id FROM contact WHERE id = :id',
    { id: bytesOf(theirs) },
  );
  if (!person?.owner_id) return;
  const words = $localize`A mail says it is from ${person.display_name}:displayname:, which is not proven: ${subject}:subject:`;
  await notify(w, 'answer', [idOf<string>(person.owner_id)], words.slice(0, 300), `/mail?mail=${mailId}`);
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

const parentColumns = 'id, thread_id, contact_id, deal_id, user_id, to_address';

type ParentRow = Row<'mail', 'id' | 'thread_id' | 'contact_id' | 'deal_id' | 'user_id' | 'to_address'>;

/**
 * By the ids it answers, latest first; a return by the id of what was returned, or by its own address; a wish to be let alone by the token
 * in its subject.
 */
async function findParent(
  tx: WithKeys,
  kind: IncomingKind,
  parsed: ParsedMail,
): Promise<(Parent & { readonly isByToken?: boolean }) | null> {
  const ids = [parsed.inReplyTo ?? [], [...parsed.references].reverse(), parsed.returnedIds].flat();
  const byIds = ids.length === 0 ? null : await parentWhere(tx, 'message_id IN (:ids)', { ids });
  if (byIds !== null) return byIds;
  // A return is believed by the id of what came back, or at the address that only that mail's returns go to: anybody can write one.
  const own = kind.kind === 'bounce' ? /^bounces\+([0-9a-f-]{36})@/i.exec(parsed.toAddress)?.[1] : undefined;
  if (own !== undefined) return parentWhere(tx, "id = :id AND direction = 'out'", { id: bytesOf(own) });
  const token = /unsubscribe\s+([\w-]{40,})/i.exec(parsed.subject)?.[1];
  if (token === undefined) return null;
  const named = readLink(await readSecret(tx, 'links'), 'unsubscribe', token);
  const mail = named && (await parentWhere(tx, 'id = :id', { id: bytesOf(named.mailId) }));
  // Only whoever got that very mail has the token.
  return mail && { ...mail, isByToken: true };
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
