import type { AppointmentId, ContactId, Instant } from '@kettle/contract';
import { writeCalendar, type CalendarEvent, type CalendarMethod } from '@kettle/core/invitations';
import { localDate, localMinute, sayDate, sayMinute } from '@kettle/core/time';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf } from '../../platform/database/values';
import { bytesOf, idOf, newId } from '../../platform/ids';
import type { Reaction, Work } from '../../platform/work/work';
import { enqueue } from '../../platform/jobs/job-table';
import type { JobKind } from '../../platform/jobs/worker';
import { queueMail } from '../outbox/index';

export const tellInvitedKind = 'tell-invited';

/** So long a change can be undone, or followed by another, before anybody outside hears of it. */
const waitSeconds = 20;

/**
 * Whoever is invited to an appointment is told of it and of every change, whoever made it and wherever: a move in the calendar, a step put off in
 * the Round, a deletion, an undo. What they were told last is kept apart from the appointment and is not undone: the new state is held against it.
 */
export const keepInvited: Reaction = async (w, written) => {
  const ids = new Set([
    ...written.ids('appointment', 'id'),
    ...written.ids('appointment_guest', 'appointment_id'),
  ]);
  if (ids.size === 0) return;
  const concerned = await w.rows<Row<'invited', 'id'>>(
    `SELECT id FROM appointment WHERE id IN (:ids) AND invites UNION SELECT id FROM invited WHERE id IN (:ids)`,
    { ids: [...ids].map((id) => bytesOf(id)) },
  );
  for (const { id } of concerned)
    await enqueue(w, {
      kind: tellInvitedKind,
      dedupeKey: `${tellInvitedKind}:${idOf(id)}:${w.id}`,
      payload: { id: idOf(id) },
      dueAt: new Date(Date.parse(w.now) + waitSeconds * 1000).toISOString(),
    });
};

/** Tells them, in one transaction with what they were told: after a crash nobody is told twice, and nobody forgotten. */
export const tellInvitedJob: JobKind = {
  words: $localize`telling those who are invited to an appointment`,
  effect: 'database',
  run: async (w, payload) => {
    const { id } = z.object({ id: z.uuid() }).parse(payload);
    await tellInvited(w, id as AppointmentId);
  },
};

type Told = Row<
  'invited',
  'owner_id' | 'sequence' | 'asks_since' | 'starts_at' | 'ends_at' | 'title' | 'place'
>;
type Now = Row<
  'appointment',
  'owner_id' | 'starts_at' | 'ends_at' | 'title' | 'place' | 'state' | 'invites' | 'deal_id'
>;

interface Guest {
  readonly contactId: ContactId;
  readonly name: string;
  readonly email: string;
  readonly zone: string;
}

type Known = Row<'invitation', 'contact_id' | 'email' | 'name'>;

async function tellInvited(w: Work, id: AppointmentId): Promise<void> {
  const [told] = await w.rows<Told>(
    'SELECT owner_id, sequence, asks_since, starts_at, ends_at, title, place FROM invited WHERE id = :id FOR UPDATE',
    { id: bytesOf(id) },
  );
  const [now] = await w.rows<Now>(
    'SELECT owner_id, starts_at, ends_at, title, place, state, invites, deal_id FROM appointment WHERE id = :id',
    { id: bytesOf(id) },
  );
  if (told === undefined && now?.invites !== 1) return;
  // What is over, or was said to have taken place or not, is nobody's plan any more.
  const last = now ?? told!;
  if (now?.state === 'held' || now?.state === 'missed' || instantOf(last.ends_at) <= w.now) return;
  const guests = now?.invites === 1 && now.state === 'planned' ? await readGuests(w, id) : [];
  const known = await w.rows<Known>(
    'SELECT contact_id, email, name FROM invitation WHERE invited_id = :id AND NOT is_withdrawn ORDER BY email FOR UPDATE',
    { id: bytesOf(id) },
  );
  const isMoved = told !== undefined && (told.starts_at !== last.starts_at || told.ends_at !== last.ends_at);
  const isChanged =
    isMoved || (told !== undefined && (told.title !== last.title || told.place !== last.place));
  const isKnown = ({ email }: Guest) => known.some((each) => each.email === email);
  const gone = known.filter(({ email }) => !guests.some((guest) => guest.email === email));
  const toTell = guests.filter((guest) => isChanged || !isKnown(guest));
  if (toTell.length === 0 && gone.length === 0) return;
  const sequence = told === undefined ? 0 : told.sequence + 1;
  await writeTold(w, id, {
    last,
    sequence,
    asksSince: isMoved || told === undefined ? sequence : told.asks_since,
  });
  const sending = { w, id, last, sequence, dealId: now?.deal_id ?? null };
  for (const { contact_id: contact, ...guest } of gone) {
    await w.change('UPDATE invitation SET is_withdrawn = 1 WHERE invited_id = :id AND email = :email', {
      id: bytesOf(id),
      email: guest.email,
    });
    await send(sending, 'CANCEL', {
      ...guest,
      contactId: idOf<ContactId>(contact),
      zone: await zoneOf(w, contact),
    });
  }
  for (const guest of toTell) {
    await writeInvitation(w, id, guest, isMoved);
    await send(sending, 'REQUEST', guest, !isKnown(guest));
  }
}

/** The person it is about and those who come too, as far as they have an address. */
async function readGuests(db: Queryable, id: AppointmentId): Promise<Guest[]> {
  const rows = await db.rows<Row<'contact', 'id' | 'display_name' | 'zone'> & { address: string }>(
    `SELECT c.id, c.display_name, c.zone, LOWER(c.email) AS address FROM contact c
      WHERE c.email IS NOT NULL AND c.email <> '' AND c.id IN (
            SELECT contact_id FROM appointment WHERE id = :id AND contact_id IS NOT NULL
            UNION SELECT contact_id FROM appointment_guest WHERE appointment_id = :id AND contact_id IS NOT NULL)
      ORDER BY c.email, c.id`,
    { id: bytesOf(id) },
  );
  const byAddress = new Map<string, Guest>();
  for (const row of rows)
    if (!byAddress.has(row.address))
      byAddress.set(row.address, {
        contactId: idOf(row.id),
        name: row.display_name,
        email: row.address,
        zone: row.zone,
      });
  return [...byAddress.values()];
}

async function zoneOf(db: Queryable, contact: Known['contact_id']): Promise<string> {
  const [row] = await db.rows<Row<'contact', 'zone'>>('SELECT zone FROM contact WHERE id = :id', {
    id: contact,
  });
  return row?.zone ?? 'UTC';
}

async function writeTold(
  w: Work,
  id: AppointmentId,
  {
    last,
    sequence,
    asksSince,
  }: { readonly last: Now | Told; readonly sequence: number; readonly asksSince: number },
): Promise<void> {
  await w.change(
    `INSERT INTO invited (id, owner_id, sequence, asks_since, starts_at, ends_at, title, place)
     VALUES (:id, :owner, :sequence, :since, :from, :to, :title, :place)
     ON DUPLICATE KEY UPDATE owner_id = :owner, sequence = :sequence, asks_since = :since, starts_at = :from, ends_at = :to,
       title = :title, place = :place`,
    {
      id: bytesOf(id),
      owner: last.owner_id,
      sequence,
      since: asksSince,
      from: last.starts_at,
      to: last.ends_at,
      title: last.title,
      place: last.place,
    },
  );
}

/** Asked about another time, nobody has answered yet. */
async function writeInvitation(w: Work, id: AppointmentId, guest: Guest, asksAnew: boolean): Promise<void> {
  await w.change(
    `INSERT INTO invitation (id, invited_id, contact_id, email, name) VALUES (:own, :id, :contact, :email, :name)
     ON DUPLICATE KEY UPDATE contact_id = :contact, name = :name,
       answer = IF(:anew OR is_withdrawn, 'none', answer), counter_starts_at = IF(:anew, NULL, counter_starts_at),
       counter_ends_at = IF(:anew, NULL, counter_ends_at), words = IF(:anew, NULL, words), is_withdrawn = 0`,
    {
      own: bytesOf(newId()),
      id: bytesOf(id),
      contact: bytesOf(guest.contactId),
      email: guest.email,
      name: guest.name.slice(0, 200),
      anew: asksAnew ? 1 : 0,
    },
  );
}

interface Sending {
  readonly w: Work;
  readonly id: AppointmentId;
  readonly last: Now | Told;
  readonly sequence: number;
  readonly dealId: Now['deal_id'];
}

/** Queues the mail, once for each sending and person. */
async function send(sending: Sending, method: CalendarMethod, guest: Guest, isFirst = false): Promise<void> {
  const { w, id, last, sequence } = sending;
  const owner = await readOwner(w, last.owner_id);
  const { mailDomain } = w.services.channels;
  const event: CalendarEvent = {
    uid: `${id}@${mailDomain}`,
    sequence,
    stampedAt: w.now,
    startsAt: instantOf(last.starts_at),
    endsAt: instantOf(last.ends_at),
    title: last.title,
    place: last.place,
    description: null,
    isCancelled: method === 'CANCEL',
    organizer: owner,
    attendees: [{ name: guest.name, email: guest.email, answer: 'none' }],
  };
  await queueMail(w, {
    idempotencyKey: `invite:${id}:${sequence}:${guest.contactId}`,
    userId: idOf<string>(last.owner_id),
    contactId: guest.contactId,
    dealId: sending.dealId === null ? null : idOf<string>(sending.dealId),
    to: guest.email,
    subject: subjectOf(method, isFirst, last.title).slice(0, 300),
    text: textOf(method, { isFirst, event, zone: guest.zone, now: w.now }),
    templateId: null,
    run: null,
    entryId: null,
    answers: null,
    dueAt: w.now,
    calendarText: writeCalendar({ method, events: [event] }),
  });
}

async function readOwner(db: Queryable, id: Now['owner_id']): Promise<{ name: string; email: string }> {
  const [row] = await db.rows<Row<'app_user', 'name' | 'email'>>(
    'SELECT name, email FROM app_user WHERE id = :id',
    {
      id,
    },
  );
  return { name: row!.name, email: row!.email };
}

function subjectOf(method: CalendarMethod, isFirst: boolean, title: string): string {
  if (method === 'CANCEL') return $localize`Cancelled: ${title}:title:`;
  return isFirst ? $localize`Invitation: ${title}:title:` : $localize`Changed: ${title}:title:`;
}

interface Said {
  readonly isFirst: boolean;
  readonly event: CalendarEvent;
  readonly zone: string;
  readonly now: Instant;
}

/** The same in words, for whoever has no calendar: the day and time of their own zone. */
function textOf(method: CalendarMethod, { isFirst, event, zone, now }: Said): string {
  const { startsAt, endsAt, title, place } = event;
  const day = sayDate(localDate(startsAt, zone), localDate(now, zone));
  const [from, to] = [startsAt, endsAt].map((at) => sayMinute(localMinute(at, zone)));
  const when = `${day}, ${from}–${to} (${zone})`;
  const first =
    method === 'CANCEL'
      ? $localize`This appointment will not take place:`
      : isFirst
        ? $localize`You are invited:`
        : $localize`This appointment has changed:`;
  const last =
    method === 'CANCEL'
      ? []
      : ['', $localize`Please accept or decline it in your calendar, or answer this mail.`];
  return [first, '', title, when, ...(place === null ? [] : [place]), ...last].join('\n');
}
