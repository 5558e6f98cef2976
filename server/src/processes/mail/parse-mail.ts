import {
  messageIdsIn,
  readAuthenticationResults,
  type CheckResult,
  type IncomingMessage,
} from '@kettle/core/mail';
import EmailReplyParser from 'email-reply-parser';
import type { AddressObject, Attachment } from 'mailparser';

/** A mail that came in, read: what the filing needs of it. */
export interface ParsedMail {
  readonly incoming: IncomingMessage;
  readonly messageId: string | null;
  readonly inReplyTo: string | null;
  readonly references: readonly string[];
  readonly fromName: string;
  readonly fromAddress: string;
  readonly toAddress: string;
  readonly subject: string;
  readonly text: string;
  readonly html: string | null;
  readonly date: Date | null;
  /** What the writer wrote now, without the quoted mail below it. */
  readonly newWords: string;
  /** The header of each server that checked it, topmost first. */
  readonly checkHeaders: readonly string[];
  /** An invitation or an answer to one that came with it (RFC 6047). */
  readonly calendarText: string | null;
  /** For a return: ids and recipients that the returned mail carried. */
  readonly returnedIds: readonly string[];
}

const mostText = 200_000;
/** The quote finder grows faster than its input; a letter's own words come first. */
const mostQuoted = 20_000;

export async function parseMail(content: Buffer, envelopeFrom: string | null): Promise<ParsedMail> {
  const { simpleParser } = await import('mailparser');
  const parsed = await simpleParser(content, { skipImageLinks: true, keepDeliveryStatus: true });
  const lines = parsed.headerLines.map(
    ({ key, line }) =>
      [
        key,
        line
          .slice(line.indexOf(':') + 1)
          .replace(/\r?\n[ \t]+/g, ' ')
          .trim(),
      ] as const,
  );
  const headers = new Map([...lines].reverse());
  const report = parsed.attachments.find(({ contentType }) => contentType === 'message/delivery-status');
  const returned = parsed.attachments.filter(({ contentType }) =>
    ['message/rfc822', 'text/rfc822-headers', 'message/rfc822-headers'].includes(contentType),
  );
  const text = (parsed.text ?? '').slice(0, mostText);
  const from = parsed.from?.value[0];
  return {
    incoming: {
      headers,
      subject: parsed.subject ?? '',
      text,
      envelopeFrom,
      newWords: newWordsOf(text),
      deliveryStatus: report ? report.content.toString('utf8') : null,
    },
    messageId: messageIdsIn(parsed.messageId)[0] ?? null,
    inReplyTo: messageIdsIn(parsed.inReplyTo)[0] ?? null,
    references: messageIdsIn(...[parsed.references ?? []].flat()),
    fromName: (from?.name ?? '').slice(0, 200),
    fromAddress: (from?.address ?? envelopeFrom ?? '').toLowerCase().slice(0, 254),
    toAddress: firstAddress(parsed.to).slice(0, 254),
    subject: (parsed.subject ?? '').slice(0, 400),
    text,
    html: parsed.html === false ? null : (parsed.html ?? null),
    date: parsed.date ?? null,
    newWords: newWordsOf(text),
    checkHeaders: lines.filter(([key]) => key === 'authentication-results').map(([, value]) => value),
    calendarText: calendarIn(parsed.attachments),
    returnedIds: messageIdsIn(
      ...returned.flatMap(({ content: bytes }) =>
        [...bytes.toString('utf8').matchAll(/^message-id:\s*(<[^>\s]+>)/gim)].map((found) => found[1]),
      ),
    ),
  };
}

/**
 * The checks of the trusted server: of the headers that stand topmost and bear its name. What stands below another
 * server's header may have been written by anybody.
 * @see RFC 8601, section 5
 */
export function checksOf({ checkHeaders }: ParsedMail, authority: string | null): CheckResult[] | null {
  if (authority === null) return null;
  const read = checkHeaders.map(readAuthenticationResults);
  const others = read.findIndex((each) => each?.server !== authority);
  const trusted = others < 0 ? read : read.slice(0, others);
  return trusted.length === 0 ? null : trusted.flatMap((each) => each!.results);
}

/** What stands for a mail that cannot be read: somebody is to see that it came, and what its first lines are. */
export function unreadableMail(content: Buffer, envelopeFrom: string | null): ParsedMail {
  const printable = /[^\t\n\x20-\x7e]/g;
  const text = content.subarray(0, 4000).toString('latin1').replaceAll('\r', '').replace(printable, '?');
  return {
    incoming: { headers: new Map(), subject: '', text, newWords: text, envelopeFrom, deliveryStatus: null },
    messageId: null,
    inReplyTo: null,
    references: [],
    fromName: '',
    fromAddress: (envelopeFrom ?? '').toLowerCase().slice(0, 254),
    toAddress: '',
    subject: $localize`A mail that could not be read`,
    text: $localize`It is broken. Ask the sender to send it again. Its first lines:\n\n${text}:text:`,
    html: null,
    date: null,
    newWords: text,
    checkHeaders: [],
    calendarText: null,
    returnedIds: [],
  };
}

const mostCalendar = 1_000_000;

/** The part beside the words first, else a file of it; both are the same invitation. */
function calendarIn(attachments: readonly Attachment[]): string | null {
  const found =
    attachments.find(({ contentType }) => contentType === 'text/calendar') ??
    attachments.find(
      ({ contentType, filename }) =>
        contentType === 'application/ics' || filename?.toLowerCase().endsWith('.ics'),
    );
  return found === undefined || found.content.length > mostCalendar ? null : found.content.toString('utf8');
}

function firstAddress(to: AddressObject | readonly AddressObject[] | undefined): string {
  return [to ?? []].flat()[0]?.value[0]?.address?.toLowerCase() ?? '';
}

/** What its writer wrote now, without their signature and without what it answers. */
function newWordsOf(text: string): string {
  const visible = new EmailReplyParser().parseReply(text.slice(0, mostQuoted)).trim();
  return visible === '' ? text.slice(0, mostQuoted).trim() : visible;
}

/** The same with the signature: all that is not quoted. */
export function ownWordsOf(text: string): string {
  const fragments = new EmailReplyParser().read(text.slice(0, mostQuoted)).getFragments();
  return fragments
    .filter((fragment) => !fragment.isQuoted())
    .map((fragment) => fragment.getContent())
    .join('\n')
    .trim();
}
