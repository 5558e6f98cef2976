import type { UserId } from '@kettle/contract';
import * as z from 'zod';
import { sendNotice } from '../../activity/outbox/index';
import type { JobKind } from '../../platform/jobs/worker';
import type { Services } from '../../platform/services';
import { readPerson } from '../../records/users/index';
import { fillFor, readText } from '../templates/index';

const shape = z.object({
  userId: z.uuid(),
  templateId: z.uuid(),
  contactId: z.uuid(),
  dealId: z.uuid().nullable(),
});

/** A mail to a colleague about a customer, from a template: it is nobody’s letter to the customer and in no journal. */
export const ruleMail = (services: Services): JobKind => ({
  words: $localize`a mail of a house rule to a colleague`,
  effect: 'guarded',
  run: async (payload) => {
    const { userId, templateId, contactId, dealId } = shape.parse(payload);
    const { database, channels } = services;
    if (channels.mailOut === null) return;
    const person = await readPerson(database, userId as UserId);
    const text = await readText(database, templateId);
    const filled = await fillFor(database, services, text, { contactId, dealId, sender: person });
    const isSent = await sendNotice(services, {
      to: person.email,
      subject: filled.subject,
      text: `${filled.body}\n\n${channels.publicOrigin}/people/${contactId}\n`,
    });
    if (!isSent) throw new Error('the mail did not leave');
  },
});

const letter = z.object({ userId: z.uuid(), subject: z.string(), words: z.string(), path: z.string() });

/** A mail to a colleague in words of the rule's own. */
export const ruleLetter = (services: Services): JobKind => ({
  words: $localize`a mail of a house rule in words of its own`,
  effect: 'guarded',
  run: async (payload) => {
    const { userId, subject, words, path } = letter.parse(payload);
    const { database, channels } = services;
    if (channels.mailOut === null) return;
    const { email } = await readPerson(database, userId as UserId);
    const isSent = await sendNotice(services, {
      ...{ to: email, subject },
      text: `${words}\n\n${channels.publicOrigin}${path}\n`,
    });
    if (!isSent) throw new Error('the mail did not leave');
  },
});
