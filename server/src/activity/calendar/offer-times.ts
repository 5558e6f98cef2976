import type { offerTimes as asked } from '@kettle/contract';
import { localDate, localMinute, sayDate, sayMinute } from '@kettle/core/time';
import type * as z from 'zod';
import { readSecret } from '../../platform/database/secret';
import type { Row } from '../../platform/database/schema.generated';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOrNull, newId } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { PersonWork } from '../../platform/work/work';
import { assertMayChange } from '../../records/rights/index';
import { queueMail, signLink } from '../outbox/index';

/** So long a mail can be undone before it leaves. */
const graceSeconds = 20;

/**
 * Asks somebody by mail to choose among times: the mail has a link to a page where one press makes the appointment.
 * @throws Problem `not-found`, `not-yours`, `in-the-past`, `invalid-request` for somebody without an address, or who asked for no mail
 */
export async function offerTimes(w: PersonWork, body: z.output<typeof asked>): Promise<void> {
  const [contact] = await w.rows<
    Row<'contact', 'owner_id' | 'email' | 'zone' | 'display_name' | 'given_name'> & { unwanted: number }
  >(
    `SELECT owner_id, email, zone, display_name, given_name,
            EXISTS (SELECT 1 FROM do_not_contact n WHERE n.contact_id = c.id AND n.channel = 'email') AS unwanted
       FROM contact c WHERE id = :id`,
    { id: bytesOf(body.contactId) },
  );
  if (!contact) throw new Problem('not-found');
  await assertMayChange(w, w.who, idOrNull(contact.owner_id));
  const wrong = (path: string, message: string) =>
    new Problem('invalid-request', {}, { fields: [{ path, message }] });
  if (!contact.email) throw wrong('contactId', $localize`has no e-mail address`);
  if (contact.unwanted === 1) throw wrong('contactId', $localize`asked for no more e-mail`);
  if (body.times.some((at) => at <= w.now)) throw new Problem('in-the-past');
  const id = newId<string>();
  await w.change(
    `INSERT INTO offered_times (id, owner_id, contact_id, deal_id, channel, title, place, minutes, times, created_at)
     VALUES (:id, :owner, :contact, :deal, :channel, :title, :place, :minutes, :times, :now)`,
    {
      ...{ id: bytesOf(id), owner: bytesOf(w.who.id), contact: bytesOf(body.contactId) },
      ...{ deal: bytesOf(body.dealId), channel: body.channel, title: body.title, place: body.place || null },
      ...{ minutes: body.minutes, times: JSON.stringify([...body.times].sort()), now: sqlInstant(w.now) },
    },
  );
  const { publicOrigin } = w.services.channels;
  const link = `${publicOrigin}/out/calendar/times/${signLink(await readSecret(w, 'links'), 'times', id)}`;
  const times = [...body.times].sort().map((at) => `- ${sayTime(at, contact.zone, w.now)}`);
  const hello = contact.given_name || contact.display_name;
  await queueMail(w, {
    idempotencyKey: `offer:${id}`,
    userId: w.who.id,
    contactId: body.contactId,
    dealId: body.dealId,
    to: contact.email,
    subject: $localize`When does it suit you? ${body.title}:title:`.slice(0, 300),
    text: $localize`Hello ${hello}:name:,\n\nwhen does it suit you?\n\n${times.join('\n')}:times:\n\nChoose here, and it is agreed:\n\n${link}:link:\n\nIf none of them suits you, say so there or answer this mail.`,
    templateId: null,
    run: null,
    entryId: null,
    answers: null,
    dueAt: new Date(Date.parse(w.now) + graceSeconds * 1000).toISOString(),
  });
  w.say($localize`Times offered to ${contact.display_name}:name:`);
}

/** As their clock shows it. */
export function sayTime(at: string, zone: string, now: string): string {
  const day = sayDate(localDate(at, zone), localDate(now, zone));
  return $localize`${day}:day:, ${sayMinute(localMinute(at, zone))}:time:`;
}
