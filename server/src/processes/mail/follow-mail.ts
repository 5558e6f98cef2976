import type { MailId } from '@kettle/contract';
import { absenceUntil, hasFailedForGood, type IncomingKind } from '@kettle/core/mail';
import { localDate } from '@kettle/core/time';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf } from '../../platform/ids';
import { type Work } from '../../platform/work/work';
import { writeSystemEntry } from '../../records/entries/index';
import { tellRuns } from '../cadences/index';
import { stir } from '../stirrings/index';
import { addressIsDead } from './after-sending';
import { fileAnswer } from './file-mail';
import { unsubscribe } from './unsubscribe';

/** The mail of ours that a mail that came in belongs to. */
export interface Parent {
  readonly id: string;
  readonly threadId: string;
  readonly contactId: string | null;
  readonly dealId: string | null;
  readonly userId: string | null;
  readonly toAddress: string;
}

/** A mail that came in, and whose it is. */
export interface FollowedMail {
  readonly mailId: MailId;
  readonly contactId: string;
  readonly dealId: string | null;
  readonly subject: string;
  /** What its writer wrote now. */
  readonly words: string;
  readonly kind: IncomingKind;
  /** When it was written. */
  readonly at: string;
  readonly parent: Parent | null;
  /** Who said whose it is; nobody where it is known without. */
  readonly byUserId?: string;
}

/** Does what follows from a mail of a person: by what it is an answer, an absence, a return, or a wish to be let alone. */
export async function followMail(w: Work, followed: FollowedMail): Promise<void> {
  const { mailId, contactId, dealId, kind, subject, words } = followed;
  const [person] = await w.rows<Row<'contact', 'zone' | 'country'>>(
    'SELECT zone, country FROM contact WHERE id = :id FOR UPDATE',
    { id: bytesOf(contactId) },
  );
  if (!person) return;
  switch (kind.kind) {
    case 'human':
      return fileAnswer(w, {
        mailId,
        contactId,
        dealId,
        subject,
        words,
        at: followed.at,
        byUserId: followed.byUserId ?? null,
      });
    case 'out-of-office':
      return pauseForAbsence(w, followed, person);
    case 'bounce':
      return returned(w, followed);
    case 'unsubscribe':
      return unsubscribe(w, {
        contactId,
        channel: 'email',
        origin: $localize`asked by mail`,
        eventId: `mail:${mailId}`,
        mailId,
      });
    case 'automatic':
      return undefined;
  }
}

async function pauseForAbsence(
  w: Work,
  { mailId, contactId, subject, words: said, at }: FollowedMail,
  { zone, country }: Row<'contact', 'zone' | 'country'>,
): Promise<void> {
  const now = w.now;
  const told = absenceUntil(`${subject}\n\n${said}`, localDate(at, zone), country);
  // One that was filed late may speak of what is over.
  const until = told !== null && told < localDate(now, zone) ? null : told;
  const words =
    until === null ? $localize`is out of office` : $localize`is out of office until ${until}:until:`;
  await writeSystemEntry(w, { contactId, body: $localize`Automatic reply: ${words}:words:` });
  await stir(w, { key: `away:${mailId}`, kind: 'away', words, contactId, mailId });
  await tellRuns(w, contactId, ({ id }) => ({
    id: `mail:${mailId}:${id}`,
    at: now,
    kind: 'out-of-office',
    until,
  }));
}

async function returned(w: Work, { mailId, contactId, kind, parent }: FollowedMail): Promise<void> {
  if (kind.kind !== 'bounce' || parent === null) return;
  const { toAddress } = parent;
  const failed =
    kind.failed.find((each) => [each.address, each.sentTo].includes(toAddress.toLowerCase())) ??
    kind.failed[0];
  const said =
    [failed?.status, failed?.diagnostic].filter(Boolean).join(' ') || $localize`no reason was given`;
  await w.change('UPDATE mail SET said = :said, version = version + 1 WHERE id = :id', {
    id: bytesOf(parent.id),
    said: $localize`came back: ${said}:said:`.slice(0, 500),
  });
  // Of an address that the return does not name nothing is known: it may have been handed on from there.
  const address = toAddress;
  if (hasFailedForGood(kind.failed, address))
    return addressIsDead(w, { contactId, address, eventId: `mail:${mailId}`, mailId, said });
  await writeSystemEntry(w, {
    contactId,
    body: $localize`Mail to ${address}:address: is delayed or came back for now: ${said}:said:`,
  });
}
