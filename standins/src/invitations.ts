import type { ParsedMail } from 'mailparser';

/** What an answer has to repeat of an invitation. */
export interface Invitation {
  readonly method: string;
  readonly uid: string;
  readonly sequence: string;
  /** The lines of its beginning and end, as they came. */
  readonly times: readonly string[];
  readonly organizer: string;
}

/** The invitation that comes with a mail, if one does (RFC 6047). */
export function invitationIn(mail: Pick<ParsedMail, 'attachments'>): Invitation | null {
  const part = mail.attachments.find(({ contentType }) => contentType === 'text/calendar');
  if (part === undefined) return null;
  const lines = part.content
    .toString('utf8')
    .replaceAll(/\r?\n[ \t]/g, '')
    .split(/\r?\n/);
  const lineOf = (name: string) => lines.find((line) => new RegExp(`^${name}[;:]`).test(line)) ?? '';
  const valueOf = (name: string) => lineOf(name).slice(name.length + 1);
  return {
    method: valueOf('METHOD'),
    uid: valueOf('UID'),
    sequence: valueOf('SEQUENCE') || '0',
    times: [lineOf('DTSTART'), lineOf('DTEND')],
    organizer: lineOf('ORGANIZER'),
  };
}

const utc = (at: Date) => `${at.toISOString().slice(0, 19).replaceAll(/[-:]/g, '')}Z`;

/** A day later at the same time. */
function dayLater(line: string): string {
  const [, before, date, time] = /^(.*):(\d{8})(T\d{6}Z?)$/.exec(line) ?? [];
  if (date === undefined) return line;
  const next = new Date(`${date.slice(0, 4)}-${date.slice(4, 6)}-${date.slice(6)}T00:00:00Z`);
  next.setUTCDate(next.getUTCDate() + 1);
  return `${before}:${utc(next).slice(0, 8)}${time}`;
}

/** The answer as a calendar program sends it (RFC 5546, 3.2.3 and 3.2.7); a counter proposes the day after. */
export function answerText(
  { uid, sequence, times, organizer }: Invitation,
  address: string,
  answer: 'ACCEPTED' | 'DECLINED' | 'TENTATIVE' | 'counter',
  now: Date,
): string {
  const isCounter = answer === 'counter';
  return [
    ...['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//outside//calendar//EN'],
    `METHOD:${isCounter ? 'COUNTER' : 'REPLY'}`,
    ...['BEGIN:VEVENT', `UID:${uid}`, `SEQUENCE:${sequence}`, `DTSTAMP:${utc(now)}`],
    ...(isCounter ? times.map(dayLater) : times),
    organizer,
    `ATTENDEE;PARTSTAT=${isCounter ? 'TENTATIVE' : answer}:mailto:${address}`,
    ...['END:VEVENT', 'END:VCALENDAR', ''],
  ].join('\r\n');
}
