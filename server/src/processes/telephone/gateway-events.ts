import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull, newId, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { tellRuns } from '../cadences/index';
import { likelyDeal } from '../deals/index';
import { insertEntries, writeSystemEntry } from '../../records/entries/index';
import { unsubscribe } from '../mail/index';
import { notify } from '../../records/notifications/index';
import { outcomeNamed } from '../../records/settings/index';
import { stir } from '../stirrings/index';
import { textFailed } from './outgoing-texts';
import { type Work, work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

const eventId = z.string().min(1).max(80);

/** What the gateways tell by web hook. Each event has an id of theirs and counts once. */
export const gatewayEvent = z.discriminatedUnion('kind', [
  z.object({ id: eventId, kind: z.literal('text-delivered'), textId: z.string() }),
  z.object({ id: eventId, kind: z.literal('text-failed'), textId: z.string(), said: z.string().max(300) }),
  z.object({ id: eventId, kind: z.literal('text-in'), from: z.string().max(30), body: z.string().max(2000) }),
  z.object({ id: eventId, kind: z.literal('call-ringing'), callId: z.uuid() }),
  z.object({ id: eventId, kind: z.literal('call-answered'), callId: z.uuid() }),
  z.object({
    id: eventId,
    kind: z.literal('call-ended'),
    callId: z.uuid(),
    result: z.enum(['answered', 'no-answer', 'busy', 'voicemail', 'wrong-number', 'failed']),
    seconds: z.int().min(0),
  }),
  z.object({ id: eventId, kind: z.literal('call-in'), from: z.string().max(30) }),
]);
export type GatewayEvent = z.infer<typeof gatewayEvent>;

/** Takes one event in; the same one again changes nothing. */
export async function takeGatewayEvent(services: Services, event: GatewayEvent): Promise<void> {
  await work(services, null, async (w) => {
    const now = sqlInstant(services.clock.now());
    const added = await w.change('INSERT IGNORE INTO gateway_event (event_id, taken_at) VALUES (:id, :now)', {
      id: event.id,
      now,
    });
    if (added === 1) await take(w, event);
  });
}

async function take(w: Work, event: GatewayEvent): Promise<void> {
  switch (event.kind) {
    case 'text-delivered':
      await w.change(
        "UPDATE text_message SET state = 'delivered' WHERE gateway_id = :id AND state IN ('waiting', 'sent')",
        { id: event.textId },
      );
      return;
    case 'text-failed': {
      const [row] = await w.rows<
        Row<'text_message', 'id' | 'number'> & { user_id: IdBytes; contact_id: IdBytes }
      >(
        "SELECT id, number, user_id, contact_id FROM text_message WHERE gateway_id = :id AND direction = 'out'",
        { id: event.textId },
      );
      if (row) await textFailed(w, row, event.said);
      return;
    }
    case 'text-in':
      return textIn(w, event);
    case 'call-in':
      return callIn(w, event);
    default:
      return callMoved(w, event);
  }
}

type CallMoved = Extract<GatewayEvent, { callId: string }>;

async function callMoved(w: Work, event: CallMoved): Promise<void> {
  const { clock } = w.services;
  const id = bytesOf(event.callId);
  const now = sqlInstant(clock.now());
  // Events may come in another order than they were: a call that has ended stays so.
  if (event.kind === 'call-ended')
    await w.change(
      `UPDATE phone_call SET state = 'ended', result = :result, seconds = :seconds, ended_at = :now
        WHERE id = :id AND state <> 'ended'`,
      { id, now, result: event.result, seconds: event.seconds },
    );
  else if (event.kind === 'call-answered')
    await w.change(
      "UPDATE phone_call SET state = 'answered', answered_at = :now WHERE id = :id AND state IN ('dialling', 'ringing')",
      { id, now },
    );
  else
    await w.change("UPDATE phone_call SET state = 'ringing' WHERE id = :id AND state = 'dialling'", { id });
}

interface Caller {
  id: IdBytes;
  display_name: string;
  owner_id: IdBytes | null;
  company_id: IdBytes | null;
}

async function whoHas(tx: Queryable, number: string): Promise<Caller | null> {
  const rows = await tx.rows<Caller>(
    `SELECT id, display_name, owner_id, company_id FROM contact
      WHERE id IN (SELECT id FROM contact WHERE phone = :number
                   UNION SELECT contact_id FROM contact_point WHERE value = :number AND kind = 'phone')
      ORDER BY id LIMIT 2 FOR UPDATE`,
    { number },
  );
  return rows.length === 1 ? rows[0]! : null;
}

/** Words that stop texts, as gateways everywhere take them; common practice, no source. */
const stopWords = /^\s*(stop|stopall|unsubscribe|cancel|end|quit)\s*[.!]?\s*$/i;

async function textIn(w: Work, event: Extract<GatewayEvent, { kind: 'text-in' }>): Promise<void> {
  const now = w.now;
  const person = await whoHas(w, event.from);
  const textId = newId<string>();
  await w.change(
    `INSERT INTO text_message (id, direction, state, number, body, user_id, contact_id, at)
     VALUES (:id, 'in', :state, :from, :body, :user, :contact, :now)`,
    {
      id: bytesOf(textId),
      state: person ? 'filed' : 'unfiled',
      from: event.from.slice(0, 20),
      body: event.body,
      user: person?.owner_id ?? null,
      contact: person?.id ?? null,
      now: sqlInstant(now),
    },
  );
  const contactId = person ? idOf<string>(person.id) : null;
  await stir(w, {
    key: `text:${event.id}`,
    kind: 'text-in',
    words: $localize`${person ? '' : `${event.from} `}:from:texted: ${event.body}:body:`,
    contactId,
    mailId: null,
    number: event.from,
    textId,
  });
  if (!person || contactId === null) return;
  if (stopWords.test(event.body))
    return unsubscribe(w, {
      contactId,
      channel: 'text',
      origin: $localize`asked by text`,
      eventId: `text:${event.id}`,
      mailId: null,
    });
  await answeredByText(w, person, event);
}

/** A text of a known person: in their journal, told to their runs and to whose they are. */
export async function answeredByText(
  w: Work,
  person: Caller,
  event: { readonly id: string; readonly body: string },
): Promise<void> {
  const now = w.now;
  const settings = await w.settings();
  const outcome = outcomeNamed(settings, 'text-came-in');
  const contactId = idOf<string>(person.id);
  const entryId = newId<string>();
  await insertEntries(w, [
    {
      id: entryId,
      at: now,
      kind: 'text',
      direction: 'in',
      outcomeId: outcome?.id ?? null,
      outcomeLabel: outcome?.label ?? $localize`They wrote`,
      counts: outcome?.counts ?? 'conversation',
      minutes: null,
      body: event.body,
      userId: null,
      contactId,
      companyId: idOrNull(person.company_id),
      dealId: await likelyDeal(w, contactId),
      taskId: null,
      runId: null,
    },
  ]);
  await tellRuns(w, contactId, ({ id }) => ({
    id: `text:${event.id}:${id}`,
    at: now,
    kind: 'replied',
    channel: 'text',
  }));
  if (person.owner_id !== null)
    await notify(
      w,
      'answer',
      [idOf(person.owner_id)],
      $localize`${person.display_name}:displayname: texted: ${event.body}:body:`,
      `/people/${contactId}`,
    );
}

async function callIn(w: Work, event: Extract<GatewayEvent, { kind: 'call-in' }>): Promise<void> {
  const person = await whoHas(w, event.from);
  const contactId = person ? idOf<string>(person.id) : null;
  const words = person
    ? $localize`called and was not answered`
    : $localize`${event.from}:from: called and was not answered`;
  await stir(w, {
    key: `call:${event.id}`,
    kind: 'missed-call',
    words,
    contactId,
    mailId: null,
    number: event.from,
  });
  if (contactId !== null)
    await writeSystemEntry(w, {
      contactId,
      body: $localize`Called and was not answered`,
    });
  if (person?.owner_id && contactId !== null)
    await notify(
      w,
      'answer',
      [idOf(person.owner_id)],
      $localize`${person.display_name}:displayname: called: call back`,
      `/people/${contactId}`,
    );
}
