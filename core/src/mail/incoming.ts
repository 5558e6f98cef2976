import { folded } from './days-in-text';
import { readDeliveryStatus, readPlainReturn, type FailedDelivery } from './delivery-status';
import {
  automaticSubject,
  awayWords,
  closingLine,
  greetingLine,
  leftWords,
  letAloneWords,
  returnedSubject,
} from './machine-words';

/** What is told of a message that came in: header names in lower case, one value each (the first, unfolded). */
export interface IncomingMessage {
  readonly headers: ReadonlyMap<string, string>;
  readonly subject: string;
  readonly text: string;
  /** What its writer wrote now: the text without what it answers. */
  readonly newWords: string;
  /** The envelope's sender; the empty string is the null sender of bounces, null when it is not known. */
  readonly envelopeFrom: string | null;
  /** The text of a `message/delivery-status` part, when there is one. */
  readonly deliveryStatus: string | null;
}

/** What a message that came in is, as far as a cadence cares. */
export type IncomingKind =
  | { readonly kind: 'human' }
  /** It came back or is late, for those of whom it says so. */
  | { readonly kind: 'bounce'; readonly failed: readonly FailedDelivery[] }
  | { readonly kind: 'out-of-office' }
  /** Sent by a machine, and no sign that the person is away: nothing follows from it. */
  | { readonly kind: 'automatic' }
  | { readonly kind: 'unsubscribe' };

const daemon = /^(mailer-daemon|postmaster)@/i;
const mostText = 4000;

/**
 * Tells a person's words from what machines send: by headers, and by words only together with them. A bounce is a delivery report
 * (RFC 3464) of somebody who failed, or comes from a server under a return's subject; automatic is what says so (`Auto-Submitted`
 * of RFC 3834 other than `no`, the usual headers from before it, a subject that only programs write); the rest was written by
 * somebody, and asks to be let alone only when it says nothing else.
 */
export function kindOfIncoming(message: IncomingMessage): IncomingKind {
  if (message.deliveryStatus !== null) {
    const failed = readDeliveryStatus(message.deliveryStatus);
    return failed.length > 0 ? { kind: 'bounce', failed } : { kind: 'automatic' };
  }
  const recipients = message.headers.get('x-failed-recipients');
  if (looksReturned(message))
    return { kind: 'bounce', failed: readPlainReturn(message.text.slice(0, mostText), recipients) };
  if (isByList(message.headers)) return { kind: 'automatic' };
  if (isAutomatic(message)) return { kind: isAway(message) ? 'out-of-office' : 'automatic' };
  return { kind: asksToBeLetAlone(message) ? 'unsubscribe' : 'human' };
}

/** Says that somebody is away for a time; of one who has left for good nothing can be waited for. */
function isAway({ subject, newWords }: IncomingMessage): boolean {
  const said = folded(newWords.slice(0, mostText));
  return !leftWords.test(said) && (awayWords.test(folded(subject)) || awayWords.test(said));
}

function looksReturned({ headers, subject, text, envelopeFrom }: IncomingMessage): boolean {
  const from = /<?([^<>\s]+@[^<>\s]+)>?\s*$/.exec(headers.get('from') ?? '')?.[1] ?? '';
  if (!hasNoSender(headers, envelopeFrom) && !daemon.test(from)) return false;
  const namesRecipients =
    headers.has('x-failed-recipients') || /^<[^<>\s]+@[^<>\s]+>:\s*$/m.test(text.slice(0, mostText));
  return namesRecipients || returnedSubject.test(folded(subject));
}

const hasNoSender = (headers: IncomingMessage['headers'], envelopeFrom: string | null) =>
  envelopeFrom === '' || headers.get('return-path')?.trim() === '<>';

/** The wish of one's own mail to get no more; the token of the address that our mails give for it is its own word (RFC 2369). */
function asksToBeLetAlone({ subject, newWords }: IncomingMessage): boolean {
  if (/^\s*unsubscribe\s+[\w-]{8,}\s*$/i.test(subject)) return true;
  const lines = folded(newWords.slice(0, mostText))
    .split('\n')
    .map((line) => line.trim());
  const closing = lines.findIndex((line) => closingLine.test(line) && !letAloneWords.test(line));
  const said = lines
    .slice(0, closing < 0 ? lines.length : closing)
    .filter((line, index) => line !== '' && !(index === 0 && greetingLine.test(line)));
  const wishes = said.length === 0 ? [folded(subject).trim()] : said;
  // Below the wish a name may stand, and a firm.
  return letAloneWords.test(wishes[0]!) && wishes.slice(1).every((line) => /^[\p{L} .'-]{1,40}$/u.test(line));
}

/** What goes out to many: RFC 2369, RFC 2919. */
const isByList = (headers: IncomingMessage['headers']) =>
  headers.has('list-id') || (headers.has('list-unsubscribe') && !headers.has('in-reply-to'));

/** @see RFC 3834, sections 2 and 5, RFC 8098 for receipts; the other headers are common practice, no source */
function isAutomatic({ headers, subject, envelopeFrom }: IncomingMessage): boolean {
  const submitted = headers.get('auto-submitted');
  // Parameters may follow the keyword: `auto-replied; owner-email="…"`.
  if (submitted !== undefined) return submitted.split(/[;(]/)[0]!.trim().toLowerCase() !== 'no';
  if (/^(auto_reply|bulk|junk|list)$/i.test(headers.get('precedence')?.trim() ?? '')) return true;
  if (['x-autoreply', 'x-autorespond'].some((name) => headers.has(name))) return true;
  if (/report-type="?(disposition-notification|feedback-report)/i.test(headers.get('content-type') ?? ''))
    return true;
  return hasNoSender(headers, envelopeFrom) || automaticSubject.test(folded(subject));
}

/** Whether the body of a POST to the unsubscribe address asks for it in one click: RFC 8058, section 3.2. */
export function isOneClick(fields: Readonly<Record<string, unknown>>): boolean {
  return fields['List-Unsubscribe'] === 'One-Click';
}
