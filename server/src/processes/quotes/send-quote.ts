import type { QuoteId, SendQuote, TaskId } from '@kettle/contract';
import { usualMinutes } from '@kettle/contract/base/channels';
import { sayNumber } from '@kettle/core/quotes';
import { addDays, localDate, sayDate } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import { readSecret } from '../../platform/database/secret';
import type { Row } from '../../platform/database/schema.generated';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { PersonWork, Work } from '../../platform/work/work';
import { queueMail, signLink } from '../../activity/outbox/index';
import { insertTask } from '../../activity/tasks/index';
import { writeSystemEntry } from '../../records/entries/index';
import { makeContent } from './make-content';
import { nextNumber } from './number-series';
import type { QuoteRow } from './quote-rows';
import { lockSeen } from './write-quote';

const wrong = (path: string, message: string) =>
  new Problem('invalid-request', {}, { fields: [{ path, message }] });

/**
 * Sends a quote: it gets its number when it has none, what goes out is kept word for word, and a step asks about it before it lapses.
 * @throws Problem `stale`, `not-set-up` without a mail server, `invalid-request` for one without lines, whose day is over, or without an address
 */
export async function sendQuote(w: PersonWork, id: QuoteId, { version, mail }: SendQuote): Promise<void> {
  const row = await lockSeen(w, { id, version }, ['draft']);
  const settings = await w.settings();
  const today = localDate(w.now, w.who.zone);
  if (row.valid_until < today) throw wrong('validUntil', $localize`must not be over`);
  const number = row.number ?? (await nextNumber(w, 'quote'));
  const n = row.n + 1;
  const content = await makeContent(w, { ...row, number, n }, { settings, today });
  if (content.lines.length === 0) throw wrong('lines', $localize`must have at least one`);
  await w.change(
    `INSERT INTO quote_version (quote_id, n, content, total_minor, sent_at, user_id) VALUES (:id, :n, :content, :total, :now, :me)`,
    {
      ...{ id: row.id, n, content: JSON.stringify(content), total: content.totals.totalMinor },
      ...{ now: sqlInstant(w.now), me: bytesOf(w.who.id) },
    },
  );
  await w.change(
    `UPDATE quote SET state = 'sent', number = :number, n = :n, sent_at = :now, version = version + 1 WHERE id = :id`,
    { id: row.id, number, n, now: sqlInstant(w.now) },
  );
  await planAsking(w, row, { number, today, days: settings.selling.remindDays });
  if (mail !== null) await sendByMail(w, { row, mail, graceSeconds: settings.mail.graceSeconds, n });
  const words = $localize`Quote ${sayNumber('Q', number)}:number: sent: ${content.title}:title:`;
  await tellJournal(w, row, words, w.who.id);
  w.say(words);
}

interface Asking {
  readonly number: number;
  readonly today: string;
  readonly days: number;
}

/** A step for the deal's owner some days before it lapses: nobody lets one lapse unasked. */
async function planAsking(w: PersonWork, row: QuoteRow, { number, today, days }: Asking): Promise<void> {
  const asked = addDays(row.valid_until, -days);
  const until = sayDate(row.valid_until, today);
  const taskId = await addStep(w, row, {
    dueOn: asked < today ? today : asked,
    purpose: $localize`ask about quote ${sayNumber('Q', number)}:number:, valid until ${until}:day:`,
  });
  await w.later('UPDATE quote SET task_id = :task WHERE id = :id', { id: row.id, task: bytesOf(taskId) });
}

/** A step of the deal's owner with its person: by telephone where there is a number. */
export async function addStep(
  w: Work,
  row: QuoteRow,
  {
    dueOn,
    purpose,
    channel,
  }: { readonly dueOn: string; readonly purpose: string; readonly channel?: 'call' | 'email' },
): Promise<TaskId> {
  const [contact] = await w.rows<Row<'contact', 'phone'>>('SELECT phone FROM contact WHERE id = :id', {
    id: row.contact_id,
  });
  const by = channel ?? (contact?.phone ? 'call' : 'email');
  return insertTask(w, {
    ...{ channel: by, purpose: purpose.slice(0, 200), dueOn, promisedAt: null, minutes: usualMinutes[by] },
    ...{ ownerId: idOf<string>(row.owner_id), contactId: idOrNull<string>(row.contact_id) },
    ...{ companyId: idOrNull<string>(row.company_id), dealId: idOf<string>(row.deal_id), run: null },
  });
}

/** The step that asks about it is of no use any more. */
export async function dropAsking(w: Work, row: QuoteRow, reason: string): Promise<void> {
  await w.change(
    `UPDATE task SET state = 'dropped', drop_reason = :reason, finished_at = :now, version = version + 1 WHERE id = :id AND state = 'open'`,
    { id: row.task_id, reason, now: sqlInstant(w.now) },
  );
}

interface ByMail {
  readonly row: QuoteRow;
  readonly mail: NonNullable<SendQuote['mail']>;
  readonly graceSeconds: number;
  readonly n: number;
}

async function sendByMail(w: PersonWork, { row, mail, graceSeconds, n }: ByMail): Promise<void> {
  const { channels, clock } = w.services;
  if (channels.mailOut === null) throw new Problem('not-set-up', { what: $localize`mail server` });
  if (row.contact_id === null || row.contact_email === null)
    throw wrong('mail', $localize`cannot be sent: the deal’s person has no e-mail address`);
  if (await isUnwanted(w, row))
    throw wrong('mail', $localize`cannot be sent: the person asked for no more e-mail`);
  const id = idOf<QuoteId>(row.id);
  const link = `${channels.publicOrigin}/out/quotes/${signLink(await readSecret(w, 'links'), 'quote', id)}`;
  await queueMail(w, {
    idempotencyKey: `quote:${id}:${n}`,
    ...{ userId: w.who.id, contactId: idOf<string>(row.contact_id), dealId: idOf<string>(row.deal_id) },
    ...{ to: row.contact_email, subject: mail.subject, text: `${mail.text}\n\n${link}` },
    ...{ templateId: null, run: null, entryId: null, answers: null },
    dueAt: new Date(clock.millis() + graceSeconds * 1000).toISOString(),
  });
}

async function isUnwanted(db: Queryable, { contact_id: contact }: QuoteRow): Promise<boolean> {
  const rows = await db.rows(
    "SELECT 1 FROM do_not_contact WHERE contact_id = :contact AND channel = 'email'",
    {
      contact,
    },
  );
  return rows.length > 0;
}

/** In the journal of the deal and its person. */
export const tellJournal = (w: Work, row: QuoteRow, body: string, userId: string): Promise<unknown> =>
  writeSystemEntry(w, {
    ...{ body, userId, dealId: idOf<string>(row.deal_id), contactId: idOrNull<string>(row.contact_id) },
    companyId: idOrNull<string>(row.company_id),
  });

/** A draft again: what is out shows that another version comes. @throws Problem `stale` */
export async function reviseQuote(w: PersonWork, id: QuoteId, version: number): Promise<void> {
  const row = await lockSeen(w, { id, version }, ['sent', 'declined', 'withdrawn']);
  await setState(w, row, 'draft');
  await dropAsking(w, row, $localize`another version comes`);
  w.say($localize`Quote “${row.name}:title:” is a draft again`);
}

/** @throws Problem `stale` */
export async function withdrawQuote(w: PersonWork, id: QuoteId, version: number): Promise<void> {
  const row = await lockSeen(w, { id, version }, ['sent']);
  await setState(w, row, 'withdrawn');
  await dropAsking(w, row, $localize`the quote was withdrawn`);
  const words = $localize`Quote ${sayNumber('Q', row.number ?? 0)}:number: withdrawn`;
  await tellJournal(w, row, words, w.who.id);
  w.say(words);
}

const setState = (w: PersonWork, row: QuoteRow, state: QuoteRow['state']) =>
  w.change(
    `UPDATE quote SET state = :state, decided_at = NULL, decided_name = NULL, decided_words = '', version = version + 1 WHERE id = :id`,
    { id: row.id, state },
  );
