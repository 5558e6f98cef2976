import type { AppointmentId, MailId } from '@kettle/contract';
import { readCalendar, type ReadEvent } from '@kettle/core/invitations';
import { takeInvitationAnswer, type TakenFor } from '../../activity/calendar/index';
import { bytesOf } from '../../platform/ids';
import type { Work } from '../../platform/work/work';
import { stir } from '../stirrings/index';
import type { ParsedMail } from './parse-mail';

interface AnswerMail {
  readonly mailId: MailId;
  readonly parsed: ParsedMail;
  readonly at: string;
}

/**
 * Takes the answer to an invitation that a mail brings (RFC 5546, REPLY and COUNTER), if it is one: into the appointment and the journal, and into
 * the Round where a new time has to be found. An answer is its sender's own: one in another's name is left to be read.
 * @returns whether it was an answer to one of ours, and with no letter beside it
 */
export async function takeAnswerMail(w: Work, { mailId, parsed, at }: AnswerMail): Promise<boolean> {
  if (parsed.calendarText === null) return false;
  const read = readCalendar(parsed.calendarText, 'UTC');
  if (read === null || (read.method !== 'REPLY' && read.method !== 'COUNTER')) return false;
  let isAnswer = false;
  for (const event of read.events) {
    const appointmentId = ownId(event.uid, w.services.channels.mailDomain);
    const mine = event.attendees.find(({ email }) => email === parsed.fromAddress);
    if (appointmentId === null || mine === undefined) continue;
    isAnswer = true;
    const taken = await takeInvitationAnswer(w, {
      appointmentId,
      email: mine.email,
      answer: read.method === 'COUNTER' ? 'tentative' : mine.answer,
      sequence: event.sequence,
      at: event.stampedAt ?? at,
      counter: read.method === 'COUNTER' ? { startsAt: event.startsAt, endsAt: event.endsAt } : null,
      words: event.comment,
    });
    if (taken !== null) await bringUp(w, mailId, taken);
  }
  if (isAnswer)
    await w.change("UPDATE mail SET state = 'filed', version = version + 1 WHERE id = :id", {
      id: bytesOf(mailId),
    });
  return isAnswer;
}

/** Declined, or with another time proposed: it is to be acted on. */
async function bringUp(w: Work, mailId: MailId, { contactId, words, asksForMore }: TakenFor): Promise<void> {
  if (asksForMore) await stir(w, { key: `invitation:${mailId}`, kind: 'replied', words, contactId, mailId });
}

/** The id of an appointment of ours, from the name it has outside. */
function ownId(uid: ReadEvent['uid'], mailDomain: string): AppointmentId | null {
  const [, id, domain] = /^([0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})@(.+)$/i.exec(uid) ?? [];
  return id !== undefined && domain?.toLowerCase() === mailDomain.toLowerCase()
    ? (id.toLowerCase() as AppointmentId)
    : null;
}
