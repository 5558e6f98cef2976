import type { Channel } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import { tellRuns } from '../cadences/index';
import { writeSystemEntry } from '../../records/entries/index';
import { stir } from '../stirrings/index';
import { type Work } from '../../platform/work/work';

export interface Unsubscribing {
  readonly contactId: string;
  readonly channel: Channel;
  readonly origin: string;
  readonly eventId: string;
  readonly mailId: string | null;
}

/** They want no more on a channel: marked for good, what is planned there ends, and the owner hears of it. Once. */
export async function unsubscribe(w: Work, asked: Unsubscribing): Promise<void> {
  const now = w.now;
  const added = await w.change(
    'INSERT IGNORE INTO do_not_contact (contact_id, channel, since, origin) VALUES (:contact, :channel, :now, :origin)',
    { contact: bytesOf(asked.contactId), channel: asked.channel, now: sqlInstant(now), origin: asked.origin },
  );
  if (added === 0) return;
  const words = $localize`wants no more: ${channelLabel[asked.channel].toLowerCase()}:toLowerCase: (${asked.origin}:origin:)`;
  await writeSystemEntry(w, { contactId: asked.contactId, body: $localize`Do not contact: ${words}:words:` });
  await tellRuns(w, asked.contactId, ({ id }) => ({
    id: `${asked.eventId}:${id}`,
    at: now,
    kind: 'unsubscribed',
    channel: asked.channel,
  }));
  await stir(w, {
    key: `unsubscribed:${asked.contactId}:${asked.channel}`,
    kind: 'unsubscribed',
    words,
    contactId: asked.contactId,
    mailId: asked.mailId,
  });
}
