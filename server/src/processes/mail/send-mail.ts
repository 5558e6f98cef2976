import type { UserId } from '@kettle/contract';
import { localDate, localMoment } from '@kettle/core/time';
import * as z from 'zod';
import type { Attachment, Handover, MailLine, OutgoingMail } from './mail-out';
import type { Queryable } from '../../platform/database/database';
import { instantOf, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull, type IdBytes } from '../../platform/ids';
import type { JobKind } from '../../platform/jobs/worker';
import type { Services } from '../../platform/services';
import { readFileBytes } from '../../records/files/index';
import { notify } from '../../records/notifications/index';
import { readPerson } from '../../records/users/index';
import { afterRefused, afterSent } from './after-sending';
import { htmlOf, unsubscribeHeaders } from './compose';
import { askToSend } from '../../activity/outbox/index';
import { readSecret } from '../../platform/database/secret';
import { work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

export interface OutRow extends Row<
  'mail',
  | 'id'
  | 'state'
  | 'message_id'
  | 'in_reply_to'
  | 'reference_ids'
  | 'from_name'
  | 'from_address'
  | 'to_address'
  | 'subject'
  | 'text'
  | 'deal_id'
  | 'run_id'
  | 'run_step'
  | 'template_id'
  | 'entry_id'
  | 'attempts'
  | 'calendar_text'
> {
  user_id: IdBytes<UserId>;
  contact_id: IdBytes;
  due_at: string;
}

const columns = `id, state, message_id, in_reply_to, reference_ids, from_name, from_address, to_address, subject, text, user_id,
  contact_id, deal_id, run_id, run_step, template_id, entry_id, due_at, attempts, calendar_text`;
const ofMail = z.object({ mailId: z.uuid() });
const mostAttempts = 8;

/** Sends one mail; see docs/decisions/0003 for what is known after a crash at any point of it. */
export function sendMailJob(services: Services): JobKind {
  return {
    words: $localize`sending a mail`,
    effect: 'guarded',
    run: (payload) => sendMail(services, ofMail.parse(payload).mailId),
  };
}

export async function readOut(db: Queryable, mailId: string): Promise<OutRow | undefined> {
  const [row] = await db.rows<OutRow>(`SELECT ${columns} FROM mail WHERE id = :id AND direction = 'out'`, {
    id: bytesOf(mailId),
  });
  return row;
}

export async function sendMail(services: Services, mailId: string): Promise<void> {
  const { database, channels } = services;
  const row = await readOut(database, mailId);
  // The job's lease ended while somebody was handing this over: whether it arrived, nobody can know.
  if (row?.state === 'handing-over')
    return hold(services, row, $localize`the server stopped while the mail was handed over`);
  if (row?.state !== 'waiting') return;
  if (channels.mailOut === null) return tryLater(services, row, $localize`no mail server is set up`, 3600);
  const why = await whyNotSent(database, row);
  if (why !== null) return withdraw(services, row, why);
  const mail = await outgoing(services, row);
  if (!(await takeTurn(services, row))) return;
  let line: MailLine;
  try {
    line = await channels.mailOut.open();
  } catch (error) {
    return tryLater(services, row, wordsOf(error));
  }
  try {
    const taken = await database.change(
      `UPDATE mail SET state = 'handing-over', handed_at = :now, attempts = attempts + 1, version = version + 1
        WHERE id = :id AND state = 'waiting'`,
      { id: row.id, now: sqlInstant(services.clock.now()) },
    );
    if (taken === 1) await settle(services, row, await line.handOver(mail));
  } finally {
    line.close();
  }
}

const wordsOf = (error: unknown) => (error as Error).message;

async function settle(services: Services, row: OutRow, handover: Handover): Promise<void> {
  const { said } = handover;
  switch (handover.kind) {
    case 'accepted':
      return work(services, null, (w) => afterSent(w, row, said));
    case 'refused':
      return work(services, null, (w) => afterRefused(w, row, said, handover.isAddress));
    case 'later':
      return tryLater(services, row, said);
    case 'unknown':
      return hold(services, row, $localize`the whole mail was out, and no answer came (${said}:said:)`);
  }
}

/** What has changed since it was written may forbid it. */
async function whyNotSent(db: Queryable, row: OutRow): Promise<string | null> {
  const [mark] = await db.rows(
    "SELECT 1 FROM do_not_contact WHERE contact_id = :contact AND channel = 'email'",
    { contact: row.contact_id },
  );
  return mark ? $localize`they asked for no more e-mail` : null;
}

/**
 * Takes this sender's turn: one more of the day's limit, and the next not before the pace has passed. The row is the guard,
 * so that servers share it. When it is not our turn the mail is asked for again at the time it may be.
 */
async function takeTurn(services: Services, row: OutRow): Promise<boolean> {
  const { database, clock, settings } = services;
  const { mail } = await settings.read(database);
  const sender = await readPerson(database, idOf(row.user_id));
  const now = clock.now();
  const on = localDate(now, sender.zone);
  const key = { user: row.user_id, on };
  await database.change(
    'INSERT IGNORE INTO sender_day (user_id, on_date, sent, next_at) VALUES (:user, :on, 0, :now)',
    { ...key, now: sqlInstant(now) },
  );
  const taken = await database.change(
    `UPDATE sender_day SET sent = sent + 1, next_at = :next
      WHERE user_id = :user AND on_date = :on AND sent < :limit AND next_at <= :now`,
    { ...key, now: sqlInstant(now), next: sqlInstant(later(now, mail.paceSeconds)), limit: mail.dailyLimit },
  );
  if (taken === 1) return true;
  const [day] = await database.rows<Row<'sender_day', 'sent' | 'next_at'>>(
    'SELECT sent, next_at FROM sender_day WHERE user_id = :user AND on_date = :on',
    key,
  );
  const isFull = day!.sent >= mail.dailyLimit;
  const tomorrow = localDate(later(now, 86_400), sender.zone);
  const at = isFull
    ? localMoment(tomorrow, sender.hours.start, sender.zone)
    : later(instantOf(day!.next_at), 0);
  await askToSend(database, idOf(row.id), row.attempts, at <= now ? later(now, 1) : at);
  return false;
}

const later = (at: string, seconds: number) => new Date(Date.parse(at) + seconds * 1000).toISOString();

/** Certain that nothing was accepted: it waits again, longer each time, and is given up after the last try. */
async function tryLater(services: Services, row: OutRow, said: string, atLeastSeconds = 0): Promise<void> {
  const { clock } = services;
  const attempt = row.attempts + 1;
  if (attempt >= mostAttempts) return work(services, null, (w) => afterRefused(w, row, said, false));
  const at = later(clock.now(), Math.max(atLeastSeconds, 15 * 2 ** attempt));
  await work(services, null, async (w) => {
    await w.change(
      `UPDATE mail SET state = 'waiting', attempts = :attempt, said = :said, due_at = :at, version = version + 1
        WHERE id = :id AND state IN ('waiting', 'handing-over')`,
      { id: row.id, attempt, said: said.slice(0, 500), at: sqlInstant(at) },
    );
    await askToSend(w, idOf(row.id), attempt, at);
  });
}

async function hold(services: Services, row: OutRow, said: string): Promise<void> {
  await work(services, null, async (w) => {
    const held = await w.change(
      "UPDATE mail SET state = 'held', said = :said, version = version + 1 WHERE id = :id AND state = 'handing-over'",
      { id: row.id, said: said.slice(0, 500) },
    );
    if (held === 0) return;
    const words = $localize`Nobody can know whether a mail to ${row.to_address}:toaddress: arrived: “${row.subject}:subject:”. Decide it.`;
    await notify(w, 'trouble', [idOf(row.user_id)], words, '/mail?box=held');
  });
}

async function withdraw(services: Services, row: OutRow, said: string): Promise<void> {
  await work(services, null, (w) =>
    w.change(
      "UPDATE mail SET state = 'withdrawn', said = :said, version = version + 1 WHERE id = :id AND state = 'waiting'",
      { id: row.id, said },
    ),
  );
}

/** A mail of ours as it goes out; `isCopy` is one to keep: reading it tells nobody, and nobody unsubscribes by it. */
export async function outgoing(
  services: Services,
  row: OutRow,
  { isCopy = false } = {},
): Promise<OutgoingMail> {
  const { database, channels, settings } = services;
  const { mail } = await settings.read(database);
  const mailId = idOf<string>(row.id);
  const setting = {
    mailId,
    key: await readSecret(database, 'links'),
    origin: channels.publicOrigin,
    tracksOpens: mail.tracksOpens && !isCopy,
    tracksClicks: mail.tracksClicks && !isCopy,
  };
  return {
    messageId: row.message_id,
    from: { name: row.from_name, address: row.from_address },
    to: row.to_address,
    envelopeFrom: `bounces+${mailId}@${channels.mailDomain}`,
    subject: row.subject,
    text: row.text,
    html: htmlOf(row.text, setting),
    inReplyTo: row.in_reply_to,
    references: row.reference_ids === '' ? [] : row.reference_ids.split(' '),
    // An answer to somebody's own letter is no mailing, and an invitation neither.
    headers:
      row.in_reply_to === null && row.calendar_text === null && !isCopy
        ? unsubscribeHeaders(setting, channels.mailDomain)
        : {},
    attachments: await readAttachments(database, idOrNull(row.template_id)),
    calendarText: row.calendar_text,
    date: new Date(instantOf(row.due_at)),
  };
}

async function readAttachments(db: Queryable, templateId: string | null): Promise<Attachment[]> {
  if (templateId === null) return [];
  const rows = await db.rows<Row<'stored_file', 'id' | 'name' | 'media_type'>>(
    `SELECT id, name, media_type FROM stored_file
      WHERE template_id = :template AND is_complete AND removed_at IS NULL ORDER BY created_at, id`,
    { template: bytesOf(templateId) },
  );
  const attachments: Attachment[] = [];
  for (const row of rows)
    attachments.push({
      filename: row.name,
      contentType: row.media_type,
      content: await readFileBytes(db, idOf(row.id)),
    });
  return attachments;
}
