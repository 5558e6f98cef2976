import type { answerReceived as answerShape, MailId, ReceivedInvitation, UserId } from '@kettle/contract';
import { readCalendar, writeCalendar, type ReadEvent } from '@kettle/core/invitations';
import { localDate, localMinute, minutesBetween, sayDate, sayMinute } from '@kettle/core/time';
import type * as z from 'zod';
import { callOffAppointment, changeAppointment, planAppointment } from '../../activity/calendar/index';
import { queueMail } from '../../activity/outbox/index';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull, newId, type IdBytes } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { PersonWork, Work } from '../../platform/work/work';
import { notify } from '../../records/notifications/index';
import { assertMayChange } from '../../records/rights/index';
import { readPerson } from '../../records/users/index';
import type { ParsedMail } from './parse-mail';

type Known = Row<
  'received_invitation',
  | 'id'
  | 'user_id'
  | 'uid'
  | 'sequence'
  | 'stamped_at'
  | 'title'
  | 'place'
  | 'starts_at'
  | 'ends_at'
  | 'repeats'
  | 'organizer_name'
  | 'organizer_email'
  | 'is_withdrawn'
  | 'answer'
  | 'is_moved'
  | 'appointment_id'
>;

const columns = `r.id, r.user_id, r.uid, r.sequence, r.stamped_at, r.title, r.place, r.starts_at, r.ends_at, r.repeats, r.organizer_name,
  r.organizer_email, r.is_withdrawn, r.answer, r.is_moved, r.appointment_id`;

interface Arrived {
  readonly mailId: MailId;
  readonly parsed: ParsedMail;
  readonly at: string;
  /** Whose mailbox it came to. */
  readonly userId: UserId;
}

/**
 * Takes down the invitation that a mail brings, its change or its withdrawal (RFC 5546, 3.2.2 and 3.2.5). Nothing of a calendar is changed by it:
 * whoever was invited says what follows. What was overtaken by a later one, and what comes from somebody else than whoever invited, changes nothing.
 */
export async function noteInvitation(w: Work, { mailId, parsed, at, userId }: Arrived): Promise<void> {
  if (parsed.calendarText === null) return;
  const { zone } = await readPerson(w, userId);
  const read = readCalendar(parsed.calendarText, zone);
  if (read === null || (read.method !== 'REQUEST' && read.method !== 'CANCEL')) return;
  const event = read.events[0];
  // Whoever sends it is whoever invites: a REQUEST in another's name is a letter.
  if (event?.organizer?.email !== parsed.fromAddress || isOwn(event, w.services.channels.mailDomain)) return;
  const known = await lockKnown(w, userId, event.uid);
  const stampedAt = event.stampedAt ?? at;
  if (known !== null && isOvertaken(known, event.sequence, stampedAt)) return;
  if (known !== null && known.organizer_email !== event.organizer.email) return;
  const isWithdrawn = read.method === 'CANCEL' || event.isCancelled;
  if (known === null && isWithdrawn) return;
  const isMoved =
    known !== null &&
    (instantOf(known.starts_at) !== event.startsAt || instantOf(known.ends_at) !== event.endsAt);
  await w.change(
    `INSERT INTO received_invitation (id, user_id, uid, mail_id, sequence, stamped_at, title, place, starts_at, ends_at, repeats,
            organizer_name, organizer_email, is_withdrawn)
     VALUES (:id, :user, :uid, :mail, :sequence, :stamp, :title, :place, :from, :to, :repeats, :name, :email, :withdrawn)
     ON DUPLICATE KEY UPDATE mail_id = :mail, sequence = :sequence, stamped_at = :stamp, title = :title, place = :place, starts_at = :from,
       ends_at = :to, repeats = :repeats, organizer_name = :name, is_withdrawn = :withdrawn,
       is_moved = IF(:moved AND answer <> 'none', 1, is_moved), version = version + 1`,
    {
      ...{
        id: known?.id ?? bytesOf(newId<string>()),
        user: bytesOf(userId),
        uid: event.uid.slice(0, 300),
        mail: bytesOf(mailId),
      },
      ...{ sequence: event.sequence, stamp: sqlInstant(stampedAt), repeats: event.repeats ? 1 : 0 },
      ...{ title: event.title.slice(0, 300), place: event.place?.slice(0, 300) ?? null },
      ...{ from: sqlInstant(event.startsAt), to: sqlInstant(event.endsAt), moved: isMoved ? 1 : 0 },
      ...{
        name: event.organizer.name.slice(0, 200),
        email: event.organizer.email,
        withdrawn: isWithdrawn ? 1 : 0,
      },
    },
  );
  await tell(w, { mailId, userId, zone, event, isMoved, isWithdrawn, isKnown: known !== null });
}

const isOwn = ({ uid }: ReadEvent, mailDomain: string) =>
  uid.toLowerCase().endsWith(`@${mailDomain.toLowerCase()}`);

/** By the sequence, and of the same one by when it was written (RFC 5546, 2.1.5). */
const isOvertaken = (known: Known, sequence: number, stampedAt: string) =>
  sequence < known.sequence || (sequence === known.sequence && stampedAt <= instantOf(known.stamped_at));

async function lockKnown(w: Work, userId: UserId, uid: string): Promise<Known | null> {
  const [row] = await w.rows<Known>(
    `SELECT ${columns} FROM received_invitation r WHERE r.user_id = :user AND r.uid = :uid FOR UPDATE`,
    { user: bytesOf(userId), uid: uid.slice(0, 300) },
  );
  return row ?? null;
}

async function tell(
  w: Work,
  told: {
    readonly mailId: MailId;
    readonly userId: UserId;
    readonly zone: string;
    readonly event: ReadEvent;
    readonly isMoved: boolean;
    readonly isWithdrawn: boolean;
    readonly isKnown: boolean;
  },
): Promise<void> {
  const { event, zone } = told;
  const name = event.organizer!.name || event.organizer!.email;
  const on = sayDate(localDate(event.startsAt, zone), localDate(w.now, zone));
  const when = `${on} ${sayMinute(localMinute(event.startsAt, zone))}`;
  const words = told.isWithdrawn
    ? $localize`${name}:name: called off: ${event.title}:title:, ${when}:when:`
    : told.isMoved
      ? $localize`${name}:name: moved ${event.title}:title: to ${when}:when:`
      : $localize`${name}:name: invites you: ${event.title}:title:, ${when}:when:`;
  if (told.isKnown && !told.isMoved && !told.isWithdrawn) return;
  await notify(w, 'answer', [told.userId], words, `/mail?mail=${told.mailId}`);
}

/** What the invitation of a mail says now; null where a later mail tells of it, or there is none. */
export async function readReceived(db: Queryable, mailId: MailId): Promise<ReceivedInvitation | null> {
  const [row] = await db.rows<Known & { is_planned: number | null }>(
    `SELECT ${columns}, a.state = 'planned' AS is_planned FROM received_invitation r
       LEFT JOIN appointment a ON a.id = r.appointment_id WHERE r.mail_id = :mail`,
    { mail: bytesOf(mailId) },
  );
  if (!row) return null;
  return {
    title: row.title,
    place: row.place,
    startsAt: instantOf(row.starts_at),
    endsAt: instantOf(row.ends_at),
    repeats: row.repeats === 1,
    isWithdrawn: row.is_withdrawn === 1,
    isMoved: row.is_moved === 1,
    answer: row.answer,
    appointmentId: row.is_planned === 1 ? idOrNull(row.appointment_id) : null,
  };
}

type MailAbout = Row<'mail', 'user_id' | 'contact_id' | 'deal_id' | 'subject'>;

/**
 * Answers an invitation: accepted and tentative ones are in the calendar, and in the Round where it is a customer's; declined ones are not. Whoever
 * invited is told by mail (RFC 5546, 3.2.3), a moment later, so that it can be undone.
 * @throws Problem `not-found`, `not-yours`, `in-the-past`, `already-done` when it was called off, `invalid-request` before the mail is filed
 */
export async function answerReceived(
  w: PersonWork,
  mailId: MailId,
  { answer, words }: z.output<typeof answerShape>,
): Promise<void> {
  const [mail] = await w.rows<MailAbout>(
    'SELECT user_id, contact_id, deal_id, subject FROM mail WHERE id = :id',
    {
      id: bytesOf(mailId),
    },
  );
  const [known] = await w.rows<Known>(
    `SELECT ${columns} FROM received_invitation r WHERE r.mail_id = :id FOR UPDATE`,
    {
      id: bytesOf(mailId),
    },
  );
  if (!mail || !known) throw new Problem('not-found');
  const ownerId = idOf<UserId>(known.user_id);
  await assertMayChange(w, w.who, ownerId);
  if (known.is_withdrawn === 1) throw new Problem('already-done');
  if (instantOf(known.ends_at) <= w.now) throw new Problem('in-the-past');
  if (mail.contact_id === null)
    throw new Problem(
      'invalid-request',
      {},
      { fields: [{ path: 'answer', message: $localize`needs to be known of whom: file the mail first` }] },
    );
  const appointmentId = await keepAppointment(w, known, { answer, mail, ownerId });
  await w.change(
    `UPDATE received_invitation SET answer = :answer, is_moved = 0, appointment_id = :appointment, version = version + 1 WHERE id = :id`,
    { answer, appointment: bytesOf(appointmentId), id: known.id },
  );
  await sendAnswer(w, known, { mailId, mail, answer, words, ownerId });
  w.say(saidAs[answer](known.title));
}

const saidAs = {
  accepted: (title: string) => $localize`Accepted: ${title}:title:`,
  tentative: (title: string) => $localize`Perhaps: ${title}:title:`,
  declined: (title: string) => $localize`Declined: ${title}:title:`,
} as const;

type Answer = keyof typeof saidAs;

async function keepAppointment(
  w: PersonWork,
  known: Known,
  { answer, mail, ownerId }: { readonly answer: Answer; readonly mail: MailAbout; readonly ownerId: UserId },
): Promise<string | null> {
  const planned = await plannedOf(w, known.appointment_id);
  if (answer === 'declined') {
    if (planned !== null)
      await callOffAppointment(w, idOf(planned.id), {
        version: planned.version,
        reason: $localize`declined`,
        instead: { kind: 'none' },
      });
    return idOrNull<string>(known.appointment_id);
  }
  const [startsAt, endsAt] = [instantOf(known.starts_at), instantOf(known.ends_at)];
  const time = {
    title: (known.title || mail.subject || $localize`Meeting`).slice(0, 200),
    place: known.place?.slice(0, 160) ?? null,
    startsAt,
    minutes: Math.min(1440, Math.max(5, minutesBetween(startsAt, endsAt))),
  };
  if (planned !== null) {
    await changeAppointment(w, idOf(planned.id), { version: planned.version, ...time });
    return idOf<string>(planned.id);
  }
  const made = await planAppointment(w, {
    ...time,
    ...{ travelMinutes: 0, travelAfterMinutes: 0, note: null, channel: 'meeting', remindMinutes: null },
    ...{
      contactId: idOrNull(mail.contact_id),
      dealId: idOrNull(mail.deal_id),
      guestIds: [],
      colleagueIds: [],
    },
    ...{ ownerId, invites: false },
  });
  return made.id;
}

async function plannedOf(db: Queryable, id: IdBytes | null) {
  if (id === null) return null;
  const [row] = await db.rows<Row<'appointment', 'id' | 'version'>>(
    "SELECT id, version FROM appointment WHERE id = :id AND state = 'planned' FOR UPDATE",
    { id },
  );
  return row ?? null;
}

/** So long an answer can be taken back before it goes out. */
const waitMillis = 20_000;

interface Sending {
  readonly mailId: MailId;
  readonly mail: MailAbout;
  readonly answer: Answer;
  readonly words: string;
  readonly ownerId: UserId;
}

async function sendAnswer(
  w: PersonWork,
  known: Known,
  { mailId, mail, answer, words, ownerId }: Sending,
): Promise<void> {
  const owner = await readPerson(w, ownerId);
  const subject = saidAs[answer](known.title);
  await queueMail(w, {
    idempotencyKey: `invitation-answer:${idOf<string>(known.id)}:${w.id}`,
    userId: ownerId,
    contactId: idOf<string>(mail.contact_id!),
    dealId: idOrNull<string>(mail.deal_id),
    to: known.organizer_email,
    subject: subject.slice(0, 300),
    text: [subject, ...(words === '' ? [] : ['', words])].join('\n'),
    templateId: null,
    run: null,
    entryId: null,
    answers: mailId,
    dueAt: new Date(Date.parse(w.now) + waitMillis).toISOString(),
    calendarText: writeCalendar({
      method: 'REPLY',
      events: [
        {
          ...{
            uid: known.uid,
            sequence: known.sequence,
            stampedAt: w.now,
            title: known.title,
            place: known.place,
          },
          ...{ startsAt: instantOf(known.starts_at), endsAt: instantOf(known.ends_at) },
          ...{ description: null, isCancelled: false },
          organizer: { name: known.organizer_name, email: known.organizer_email },
          attendees: [{ name: owner.name, email: owner.email, answer }],
        },
      ],
    }),
  });
}
