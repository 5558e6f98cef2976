import type { Channel, Logged, LogEntry, sendMail, sendText } from '@kettle/contract';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { Problem } from '../../platform/problem';
import { bytesOf, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { logInside } from '../logging/index';
import type { SignedIn } from '../../records/users/index';
import { queueMail, queueText } from '../../activity/outbox/index';
import { fillFor } from '../templates/index';
import { work, type PersonWork } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

type Written = z.output<typeof sendMail> | z.output<typeof sendText>;

/**
 * A mail that somebody wrote: logged with its next step and put into the outbox, both or neither. It waits for a moment, so
 * that taking the log back takes the mail back.
 */
export const sendMailByHand = (
  services: Services,
  who: SignedIn,
  written: z.output<typeof sendMail>,
): Promise<Logged> => work(services, who, (w) => sendMailInside(w, written));

export const sendTextByHand = (
  services: Services,
  who: SignedIn,
  written: z.output<typeof sendText>,
): Promise<Logged> => work(services, who, (w) => sendTextInside(w, written));

/** The same inside a unit of work that does more. @throws Problem `not-set-up`, `facts-missing`, and for whom nothing may be sent to */
export async function sendMailInside(w: PersonWork, written: z.output<typeof sendMail>): Promise<Logged> {
  if (w.services.channels.mailOut === null) throw new Problem('not-set-up', { what: $localize`mail server` });
  return write(w, written, 'email', async (to, text, dueAt) => {
    await queueMail(w, {
      ...outgoingOf(w.who, written),
      ...{ to, text: text.body, subject: text.subject, answers: written.answers, dueAt },
    });
  });
}

export async function sendTextInside(w: PersonWork, written: z.output<typeof sendText>): Promise<Logged> {
  if (w.services.channels.textGateway === null)
    throw new Problem('not-set-up', { what: $localize`gateway for texts` });
  return write(w, written, 'text', (to, text, dueAt) =>
    queueText(w, { ...outgoingOf(w.who, written), to, text: text.body, dueAt }),
  );
}

function outgoingOf(who: SignedIn, written: Written) {
  return {
    idempotencyKey: `by-hand:${written.id}`,
    userId: who.id,
    contactId: written.contactId,
    dealId: written.dealId,
    templateId: written.templateId,
    run: null,
    entryId: written.id,
  };
}

async function write(
  w: PersonWork,
  written: Written,
  channel: 'email' | 'text',
  queue: (to: string, text: { subject: string; body: string }, dueAt: string) => Promise<void>,
): Promise<Logged> {
  const { services } = w;
  const known = await w.rows('SELECT 1 FROM journal_entry WHERE id = :id', { id: bytesOf(written.id) });
  const to = await addressOf(w, written.contactId, channel);
  const text = await fillFor(w, services, written, {
    contactId: written.contactId,
    dealId: written.dealId,
    sender: w.who,
  });
  const holes = [...text.missing, ...text.wrong];
  if (holes.length > 0)
    throw new Problem(
      'facts-missing',
      { facts: holes.join(', ') },
      { fields: holes.map((message) => ({ path: 'body', message })) },
    );
  const logged = await logInside(w, logOf(written, channel, text));
  const { mail } = await w.settings();
  const dueAt = new Date(services.clock.millis() + mail.graceSeconds * 1000).toISOString();
  if (known.length === 0) await queue(to, text, dueAt);
  return logged;
}

function logOf(
  written: Written,
  channel: 'email' | 'text',
  text: { subject: string; body: string },
): LogEntry {
  return {
    id: written.id,
    contactId: written.contactId,
    dealId: written.dealId,
    taskId: written.taskId,
    outcomeId: channel === 'email' && written.answers !== null ? 'email-answered' : `${channel}-sent`,
    at: null,
    minutes: null,
    body: text.subject === '' ? text.body : `${text.subject}\n\n${text.body}`,
    done: [],
    alsoContactIds: [],
    next: written.next,
  };
}

/** @throws Problem `not-to-be-contacted`, `nothing-to-reach-on` */
async function addressOf(tx: Queryable, contactId: string, channel: Channel): Promise<string> {
  const [row] = await tx.rows<Row<'contact', 'email' | 'phone'> & { dead: number; marked: IdBytes | null }>(
    `SELECT c.email, c.phone, IF(:channel = 'email', c.email_unusable, c.phone_unusable) AS dead, n.contact_id AS marked
       FROM contact c LEFT JOIN do_not_contact n ON n.contact_id = c.id AND n.channel = :channel WHERE c.id = :id`,
    { id: bytesOf(contactId), channel },
  );
  if (!row) throw new Problem('not-found');
  if (row.marked !== null) throw new Problem('not-to-be-contacted', { channel });
  const to = channel === 'email' ? row.email : row.phone;
  if (to === null || row.dead === 1) throw new Problem('nothing-to-reach-on', { channel });
  return to;
}
