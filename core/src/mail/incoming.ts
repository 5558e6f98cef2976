import { readDeliveryStatus, type FailedDelivery } from './delivery-status';

/** What is told of a message that came in: header names in lower case, one value each (the first, unfolded). */
export interface IncomingMessage {
  readonly headers: ReadonlyMap<string, string>;
  readonly subject: string;
  readonly text: string;
  /** The envelope's sender; the empty string is the null sender of bounces, null when it is not known. */
  readonly envelopeFrom: string | null;
  /** The text of a `message/delivery-status` part, when there is one. */
  readonly deliveryStatus: string | null;
}

/** What a message that came in is, as far as a cadence cares. */
export type IncomingKind =
  | { readonly kind: 'human' }
  /** The address does not work (`isFinal`) or did not just now. */
  | { readonly kind: 'bounce'; readonly failed: readonly FailedDelivery[]; readonly isFinal: boolean }
  | { readonly kind: 'out-of-office' }
  /** Sent by a machine, and no sign that the person is away: nothing follows from it. */
  | { readonly kind: 'automatic' }
  | { readonly kind: 'unsubscribe' };

/** Subjects by which programs say that somebody is away; common practice, no source. */
const awaySubject =
  /^\s*(re:\s*)?(out of( the)? office|ooo\b|away from (the|my) (office|desk)|on (annual )?leave|on holiday|automatic reply|auto(matic)?[- ]?(reply|response)|autoreply|abwesen|afwezig|fora do escrit|ausente)/i;
const awayWords =
  /\b(out of (the )?office|away from (the |my )?(office|desk)|on (annual |parental |sick )?leave|on holiday|on vacation|(i am|i'm|i will be|we are) (currently )?away|back (in the office )?on|return(ing)? (to the office )?on)\b/i;
const bounceSubject =
  /^(undeliver|mail delivery (failed|failure)|delivery (status notification|has failed|failure)|returned mail|failure notice)/i;
const daemon = /^(mailer-daemon|postmaster)@/i;

/**
 * Tells a person's words from what machines send. A bounce is a delivery report (RFC 3464), or comes from the null sender
 * under a bounce's subject; automatic is what says so (`Auto-Submitted` of RFC 3834 other than `no`, and the usual
 * headers from before it); the rest was written by somebody.
 */
export function kindOfIncoming(message: IncomingMessage): IncomingKind {
  const failed = message.deliveryStatus === null ? [] : readDeliveryStatus(message.deliveryStatus);
  if (failed.length > 0) return { kind: 'bounce', failed, isFinal: failed.some((each) => each.isFinal) };
  if (looksReturned(message)) return { kind: 'bounce', failed: [], isFinal: true };
  if (isUnsubscribe(message)) return { kind: 'unsubscribe' };
  if (!isAutomatic(message)) return { kind: 'human' };
  const isAway = awaySubject.test(message.subject) || awayWords.test(message.text.slice(0, 4000));
  return { kind: isAway ? 'out-of-office' : 'automatic' };
}

function looksReturned({ headers, subject, envelopeFrom }: IncomingMessage): boolean {
  const from = /<?([^<>\s]+@[^<>\s]+)>?\s*$/.exec(headers.get('from') ?? '')?.[1] ?? '';
  const hasNoSender = envelopeFrom === '' || headers.get('return-path')?.trim() === '<>';
  return bounceSubject.test(subject) && (hasNoSender || daemon.test(from));
}

/** A mail sent through the `mailto:` of List-Unsubscribe (RFC 2369), or one that says nothing else. */
function isUnsubscribe({ subject, text }: IncomingMessage): boolean {
  const said = text.trim();
  return /^\s*unsubscribe\b/i.test(subject) || /^(please )?unsubscribe( me)?[.!]?$/i.test(said);
}

/** @see RFC 3834, sections 2 and 5; the other headers are common practice, no source */
function isAutomatic({ headers, subject, envelopeFrom }: IncomingMessage): boolean {
  const submitted = headers.get('auto-submitted');
  // Parameters may follow the keyword: `auto-replied; owner-email="…"`.
  if (submitted !== undefined) return submitted.split(';')[0]!.trim().toLowerCase() !== 'no';
  if (/^(auto_reply|bulk|junk|list)$/i.test(headers.get('precedence')?.trim() ?? '')) return true;
  if (['x-autoreply', 'x-autorespond', 'list-id'].some((name) => headers.has(name))) return true;
  if (envelopeFrom === '') return true;
  return awaySubject.test(subject);
}

/** Whether the body of a POST to the unsubscribe address asks for it in one click: RFC 8058, section 3.2. */
export function isOneClick(fields: Readonly<Record<string, unknown>>): boolean {
  return fields['List-Unsubscribe'] === 'One-Click';
}
