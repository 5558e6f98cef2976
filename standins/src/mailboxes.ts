import type { AddressInfo } from 'node:net';
import { simpleParser, type ParsedMail } from 'mailparser';
import MailComposer from 'nodemailer/lib/mail-composer';
import { SMTPServer } from 'smtp-server';
import { reactionsToMail, reactionToInvitation, type MailReaction } from './habits';
import { answerText, invitationIn, type Invitation } from './invitations';
import type { Happened } from './happened';
import type { Letterbox } from './letterbox';
import type { TheirTime } from './their-time';

export interface MailboxSetting {
  readonly port: number;
  readonly seed: string;
  readonly time: TheirTime;
  readonly happened: Happened;
  readonly letterbox: Letterbox;
}

interface Delivered {
  readonly to: string;
  readonly envelopeFrom: string;
  readonly mail: ParsedMail;
}

/** Everybody's mailboxes: takes mail for any address, and lets its person do what they are used to. */
export async function openMailboxes(
  setting: MailboxSetting,
): Promise<{ port: number; close(): Promise<void> }> {
  const mailsTo = new Map<string, number>();
  const server = new SMTPServer({
    banner: 'the people outside',
    disabledCommands: ['AUTH', 'STARTTLS'],
    authOptional: true,
    logger: false,
    onData: (stream, session, done) => {
      const parts: Buffer[] = [];
      stream.on('data', (part: Buffer) => parts.push(part));
      stream.on('end', () => {
        void simpleParser(Buffer.concat(parts)).then((mail) => {
          const from = session.envelope.mailFrom ? session.envelope.mailFrom.address : '';
          for (const { address } of session.envelope.rcptTo) {
            const mailsBefore = mailsTo.get(address) ?? 0;
            mailsTo.set(address, mailsBefore + 1);
            reached(setting, { to: address, envelopeFrom: from, mail }, mailsBefore);
          }
          done(null, 'delivered');
        }, done);
      });
    },
  });
  server.on('error', () => undefined);
  await new Promise<void>((resolve) => server.listen(setting.port, '127.0.0.1', resolve));
  return {
    port: (server.server.address() as AddressInfo).port,
    close: () => new Promise((resolve) => server.close(() => resolve())),
  };
}

function reached(setting: MailboxSetting, delivered: Delivered, mailsBefore: number): void {
  const { happened, time, seed } = setting;
  const { to, mail } = delivered;
  happened.note('mail', to, mail.subject ?? '', mail.messageId ?? '', mail.text ?? '');
  const invitation = invitationIn(mail);
  if (invitation !== null) return invited(setting, delivered, invitation);
  for (const reaction of reactionsToMail(seed, to, mailsBefore))
    time.after(reaction.afterMinutes, () => {
      happened.note(reaction.kind, to, mail.subject ?? '');
      react(setting, delivered, reaction).catch((error: Error) => happened.note('failed', to, error.message));
    });
}

/** Their calendar asks them, and they answer by it. */
function invited(setting: MailboxSetting, delivered: Delivered, invitation: Invitation): void {
  const { seed, time, happened } = setting;
  const { to, mail } = delivered;
  const reaction =
    invitation.method === 'REQUEST'
      ? reactionToInvitation(seed, to, `${invitation.uid} ${invitation.sequence}`)
      : null;
  if (reaction === null) return;
  time.after(reaction.afterMinutes, () => {
    happened.note('invitation', to, reaction.answer);
    const text = answerText(invitation, to, reaction.answer, new Date());
    const method = reaction.answer === 'counter' ? 'COUNTER' : 'REPLY';
    send(setting, delivered, {
      subject: `${reaction.answer === 'counter' ? 'New time' : reaction.answer.toLowerCase()}: ${mail.subject ?? ''}`,
      text: 'Sent by a calendar.',
      icalEvent: { method, filename: 'reply.ics', content: text },
    }).catch((error: Error) => happened.note('failed', to, error.message));
  });
}

async function react(setting: MailboxSetting, delivered: Delivered, reaction: MailReaction): Promise<void> {
  const { mail } = delivered;
  const html = mail.html === false ? '' : (mail.html ?? '');
  switch (reaction.kind) {
    case 'open':
      return visit(/<img[^>]+src="([^"]+)"/.exec(html)?.[1]);
    case 'click':
      return visit(/<a[^>]+href="(https?:[^"]+)"/.exec(html)?.[1]);
    case 'unsubscribe': {
      const address = /<(https?:[^>]+)>/.exec(headerOf(mail, 'list-unsubscribe'))?.[1];
      if (address !== undefined)
        await fetch(address, {
          method: 'POST',
          body: new URLSearchParams({ 'List-Unsubscribe': 'One-Click' }),
        });
      return;
    }
    case 'answer':
      return send(setting, delivered, {
        subject: `Re: ${mail.subject ?? ''}`,
        text: `${reaction.words}\n\n${quoted(mail)}`,
      });
    case 'away': {
      const until = new Date(Date.now() + reaction.days * 86_400_000).toLocaleDateString('en-GB', {
        day: 'numeric',
        month: 'long',
        year: 'numeric',
      });
      return send(setting, delivered, {
        subject: `Automatic reply: ${mail.subject ?? ''}`,
        text: `I am out of the office until ${until}.`,
        headers: { 'Auto-Submitted': 'auto-replied' },
      });
    }
    case 'bounce':
      return bounce(setting, delivered);
  }
}

/** As a browser would: follows where it leads within this machine, and stops there. */
async function visit(address: string | undefined): Promise<void> {
  if (address !== undefined) await fetch(address.replaceAll('&amp;', '&'), { redirect: 'manual' });
}

const headerOf = (mail: ParsedMail, key: string) =>
  mail.headerLines.find((each) => each.key === key)?.line ?? '';

const quoted = (mail: ParsedMail) =>
  `On that day ${mail.from?.text ?? 'you'} wrote:\n${(mail.text ?? '').replace(/^/gm, '> ')}`;

/** The receiving server between them and us: it has checked by whom a mail was sent. */
const receivingServer = 'mx.outside.localhost';

const checkedBy = (from: string) =>
  `${receivingServer}; dkim=pass header.d=${from.split('@')[1] ?? ''}; dmarc=pass header.from=${from.split('@')[1] ?? ''}`;

interface Writing {
  readonly subject: string;
  readonly text: string;
  readonly headers?: Record<string, string>;
  readonly icalEvent?: { readonly method: string; readonly filename: string; readonly content: string };
}

async function send(
  { letterbox }: MailboxSetting,
  { to: from, mail }: Delivered,
  writing: Writing,
): Promise<void> {
  const to = mail.from?.value[0]?.address ?? '';
  const inReplyTo = mail.messageId ?? '';
  const headers = { ...writing.headers, 'Authentication-Results': checkedBy(from) };
  const composer = new MailComposer({ ...writing, headers, from, to, inReplyTo, references: inReplyTo });
  await letterbox({ from, to, raw: await composer.compile().build() });
}

/** A report that the address does not exist, as RFC 3464 has it, from the null sender to where returns go. */
async function bounce({ letterbox }: MailboxSetting, { to, envelopeFrom, mail }: Delivered): Promise<void> {
  const domain = to.split('@')[1] ?? 'nowhere.example';
  const raw = [
    `From: Mail Delivery <mailer-daemon@${domain}>`,
    `To: ${envelopeFrom}`,
    'Subject: Undelivered Mail Returned to Sender',
    `Message-ID: <return-${Math.random().toString(36).slice(2)}@${domain}>`,
    'Auto-Submitted: auto-replied',
    'MIME-Version: 1.0',
    'Content-Type: multipart/report; report-type=delivery-status; boundary="part"',
    '',
    '--part',
    'Content-Type: text/plain; charset=utf-8',
    '',
    `Your message to ${to} could not be delivered.`,
    '--part',
    'Content-Type: message/delivery-status',
    '',
    `Reporting-MTA: dns; mx.${domain}`,
    '',
    `Final-Recipient: rfc822; ${to}`,
    'Action: failed',
    'Status: 5.1.1',
    'Diagnostic-Code: smtp; 550 5.1.1 no such mailbox',
    '',
    '--part',
    'Content-Type: text/rfc822-headers',
    '',
    `Message-ID: ${mail.messageId ?? ''}`,
    `Subject: ${mail.subject ?? ''}`,
    '',
    '--part--',
  ].join('\r\n');
  await letterbox({ from: '', to: envelopeFrom, raw });
}
