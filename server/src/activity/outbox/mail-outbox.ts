import type { MailId } from '@kettle/contract';
import { answerTo, messageIdsIn } from '@kettle/core/mail';
import type { Queryable } from '../../platform/database/database';
import { isDuplicateKey } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, newId } from '../../platform/ids';
import { enqueue } from '../../platform/jobs/job-table';
import { linksIn } from './links';
import { type Work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

export interface NewMail {
  /** The same key again is the same mail. */
  readonly idempotencyKey: string;
  readonly userId: string;
  readonly contactId: string;
  readonly dealId: string | null;
  readonly to: string;
  readonly subject: string;
  readonly text: string;
  readonly templateId: string | null;
  readonly run: { readonly id: string; readonly step: number } | null;
  readonly entryId: string | null;
  /** The mail it answers. */
  readonly answers: string | null;
  readonly dueAt: string;
  /** An invitation, a change or a withdrawal of one (iCalendar), that goes with it. */
  readonly calendarText?: string;
}

export const sendMailKind = 'send-mail';

/** Asks for a try to send; each try has a job of its own. */
export async function askToSend(
  tx: Queryable,
  mailId: string,
  attempt: number,
  dueAt: string,
): Promise<void> {
  await enqueue(tx, {
    kind: sendMailKind,
    dedupeKey: `${sendMailKind}:${mailId}:${attempt}:${Date.parse(dueAt)}`,
    payload: { mailId },
    dueAt,
  });
}

type Parent = Row<'mail', 'id' | 'thread_id' | 'message_id' | 'in_reply_to' | 'reference_ids'>;

/** Puts a mail into the outbox inside the caller's transaction: with its Message-ID, its thread and its sender's name. */
export async function queueMail(w: Work, mail: NewMail): Promise<MailId> {
  const { channels } = w.services;
  const id = newId<MailId>();
  const [sender] = await w.rows<Row<'app_user', 'name' | 'email' | 'signature'>>(
    'SELECT name, email, signature FROM app_user WHERE id = :id',
    { id: bytesOf(mail.userId) },
  );
  if (!sender) throw new Error(`the sender ${mail.userId} has gone`);
  const [parent] = await w.rows<Parent>(
    'SELECT id, thread_id, message_id, in_reply_to, reference_ids FROM mail WHERE id = :id',
    { id: bytesOf(mail.answers) },
  );
  const thread =
    parent &&
    answerTo({
      messageId: parent.message_id,
      references: messageIdsIn(parent.reference_ids),
      inReplyTo: messageIdsIn(parent.in_reply_to),
    });
  const text = sender.signature === '' ? mail.text : `${mail.text}\n\n-- \n${sender.signature}`;
  try {
    await w.change(
      `INSERT INTO mail (id, direction, state, message_id, idempotency_key, thread_id, in_reply_to, reference_ids, from_name,
          from_address, to_address, subject, text, links, user_id, contact_id, deal_id, run_id, run_step, template_id, entry_id,
          at, due_at, calendar_text)
       VALUES (:id, 'out', 'waiting', :messageId, :key, :thread, :inReplyTo, :references, :fromName, :fromAddress, :to, :subject,
          :text, :links, :user, :contact, :deal, :run, :step, :template, :entry, :dueAt, :dueAt, :calendar)`,
      {
        id: bytesOf(id),
        messageId: `<${id}@${channels.mailDomain}>`,
        key: mail.idempotencyKey,
        thread: parent ? parent.thread_id : bytesOf(id),
        inReplyTo: thread?.inReplyTo ?? null,
        references: thread?.references.join(' ') ?? '',
        fromName: sender.name,
        fromAddress: sender.email,
        to: mail.to,
        subject: mail.subject,
        text,
        links: JSON.stringify(linksIn(text).map(({ url }) => url)),
        user: bytesOf(mail.userId),
        contact: bytesOf(mail.contactId),
        deal: bytesOf(mail.dealId),
        run: bytesOf(mail.run?.id),
        step: mail.run?.step ?? null,
        template: bytesOf(mail.templateId),
        entry: bytesOf(mail.entryId),
        dueAt: sqlInstant(mail.dueAt),
        calendar: mail.calendarText ?? null,
      },
    );
  } catch (error) {
    if (!isDuplicateKey(error)) throw error;
    const [known] = await w.rows<Row<'mail', 'id'>>('SELECT id FROM mail WHERE idempotency_key = :key', {
      key: mail.idempotencyKey,
    });
    return idOf(known!.id);
  }
  await askToSend(w, id, 0, mail.dueAt);
  return id;
}
