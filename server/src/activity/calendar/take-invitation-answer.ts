import type { AppointmentId, ContactId } from '@kettle/contract';
import { takeAnswer, type InvitationAnswer, type TakenAnswer } from '@kettle/core/invitations';
import { localDate, localMinute, sayDate, sayMinute } from '@kettle/core/time';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import type { Work } from '../../platform/work/work';
import { writeSystemEntry } from '../../records/entries/index';
import { notify } from '../../records/notifications/index';
import { readPerson } from '../../records/users/index';

/** An answer as a mail brought it. */
export interface ArrivedAnswer extends TakenAnswer {
  /** The appointment it names. */
  readonly appointmentId: AppointmentId;
  /** The address that was invited. */
  readonly email: string;
}

export interface TakenFor {
  readonly contactId: ContactId;
  /** What was said, in a sentence for whoever reads of it. */
  readonly words: string;
  /** Whether somebody has to act on it. */
  readonly asksForMore: boolean;
}

type Known = Row<
  'invitation',
  | 'id'
  | 'contact_id'
  | 'name'
  | 'answer'
  | 'answer_sequence'
  | 'answered_at'
  | 'counter_starts_at'
  | 'counter_ends_at'
  | 'words'
> &
  Row<'invited', 'asks_since' | 'owner_id' | 'title' | 'starts_at'>;

/**
 * Takes what somebody answered to an invitation. The same answer twice, one that was overtaken, and one to a time that was changed since change nothing.
 * @returns what it says and of whom; null where it holds no more, or nobody was invited under that address
 */
export async function takeInvitationAnswer(w: Work, arrived: ArrivedAnswer): Promise<TakenFor | null> {
  const [known] = await w.rows<Known>(
    `SELECT i.id, i.contact_id, i.name, i.answer, i.answer_sequence, i.answered_at, i.counter_starts_at, i.counter_ends_at, i.words,
            t.asks_since, t.owner_id, t.title, t.starts_at
       FROM invitation i JOIN invited t ON t.id = i.invited_id
      WHERE i.invited_id = :id AND i.email = :email AND NOT i.is_withdrawn FOR UPDATE`,
    { id: bytesOf(arrived.appointmentId), email: arrived.email },
  );
  if (known === undefined) return null;
  const before = answerOf(known);
  const taken = takeAnswer(before, arrived, known.asks_since);
  if (taken === before || taken === null) return null;
  await w.change(
    `UPDATE invitation SET answer = :answer, answer_sequence = :sequence, answered_at = :at, counter_starts_at = :from,
            counter_ends_at = :to, words = :words WHERE id = :id`,
    {
      id: known.id,
      answer: taken.answer,
      sequence: taken.sequence,
      at: sqlInstant(taken.at),
      from: sqlInstant(taken.counter?.startsAt ?? null),
      to: sqlInstant(taken.counter?.endsAt ?? null),
      words: taken.words?.slice(0, 500) ?? null,
    },
  );
  w.note('appointment', arrived.appointmentId);
  const said = await sentenceOf(w, known, taken);
  const contactId = idOf<ContactId>(known.contact_id);
  await writeSystemEntry(w, { body: said.entry, contactId });
  const on = localDate(instantOf(known.starts_at), said.zone);
  await notify(
    w,
    'answer',
    [idOf<string>(known.owner_id)],
    `${known.name}: ${said.notice}`,
    `/calendar?on=${on}&appointment=${arrived.appointmentId}`,
  );
  return {
    contactId,
    words: said.notice,
    asksForMore: taken.answer === 'declined' || taken.counter !== null,
  };
}

function answerOf(known: Known): TakenAnswer | null {
  const { counter_starts_at: from, counter_ends_at: to } = known;
  if (known.answer_sequence === null || known.answered_at === null) return null;
  return {
    answer: known.answer,
    sequence: known.answer_sequence,
    at: instantOf(known.answered_at),
    counter: from === null || to === null ? null : { startsAt: instantOf(from), endsAt: instantOf(to) },
    words: known.words,
  };
}

const verbs: Readonly<Record<InvitationAnswer, string>> = {
  none: $localize`has not decided yet`,
  accepted: $localize`accepted`,
  declined: $localize`declined`,
  tentative: $localize`may come`,
};

async function sentenceOf(w: Work, known: Known, taken: TakenAnswer) {
  const { zone } = await readPerson(w, idOf(known.owner_id));
  const today = localDate(w.now, zone);
  const when = (at: string) => `${sayDate(localDate(at, zone), today)} ${sayMinute(localMinute(at, zone))}`;
  const verb =
    taken.counter === null
      ? verbs[taken.answer]
      : $localize`proposes another time, ${when(taken.counter.startsAt)}:when:`;
  const about = $localize`${verb}:verb:: ${known.title}:title:, ${when(instantOf(known.starts_at))}:when:`;
  const words = taken.words ? ` “${taken.words}”` : '';
  return {
    zone,
    notice: `${about}${words}`.slice(0, 250),
    entry: $localize`Answer to the invitation: ${about}:about:${words}:words:`,
  };
}
