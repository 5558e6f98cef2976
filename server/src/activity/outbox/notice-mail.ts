import { randomUUID } from 'node:crypto';
import type { Services } from '../../platform/services';

export interface NoticeMail {
  readonly to: string;
  readonly subject: string;
  readonly text: string;
  /** The same key again is the same mail: its Message-ID is made of it. */
  readonly key?: string;
  readonly attachments?: readonly {
    readonly filename: string;
    readonly contentType: string;
    readonly content: Buffer;
  }[];
}

/**
 * Hands over a mail of the application itself, which is nobody's letter: a link to choose a password, a question for a consent.
 * @returns whether the mail server took it; false where none is set up
 */
export async function sendNotice(
  { channels, clock, log }: Services,
  { to, subject, text, key = randomUUID(), attachments = [] }: NoticeMail,
): Promise<boolean> {
  if (channels.mailOut === null) return false;
  const address = `no-reply@${channels.mailDomain}`;
  try {
    const line = await channels.mailOut.open();
    try {
      const handed = await line.handOver({
        messageId: `<${key}@${channels.mailDomain}>`,
        from: { name: 'Ash Kettle', address },
        to,
        envelopeFrom: address,
        subject,
        text,
        html: null,
        inReplyTo: null,
        references: [],
        headers: { 'Auto-Submitted': 'auto-generated' },
        attachments,
        date: new Date(clock.millis()),
      });
      return handed.kind === 'accepted';
    } finally {
      line.close();
    }
  } catch (error) {
    log.warn({ err: error }, 'a mail of the application did not leave');
    return false;
  }
}
