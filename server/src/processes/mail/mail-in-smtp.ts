import type { AddressInfo } from 'node:net';
import type { CheckResult } from '@kettle/core/mail';
import type { MailToCheck } from './check-mail';
import type { SMTPServerSession } from 'smtp-server';

export interface ArrivedMail {
  readonly content: Buffer;
  readonly envelopeFrom: string | null;
  /** Which of us it was handed over for; not known of mail out of a mailbox. */
  readonly envelopeTo?: string | null;
  /** What was found of whom it is from when it was handed over; without it its headers are asked. */
  readonly checks?: readonly CheckResult[] | null;
}

export interface MailListener {
  readonly port: number;
  close(): Promise<void>;
}

const usual = {
  mostBytes: 25 * 1024 * 1024,
  /** How much more than that is read and thrown away before the line is cut. */
  patienceBytes: 1024 * 1024,
  mostLines: 100,
  mostLinesOfAddress: 10,
  mostMailsAMinute: 120,
  mostBytesAMinute: 100 * 1024 * 1024,
};
type Limits = typeof usual;

/** What one address may do in a minute; forgotten with the minute. */
class Visitors {
  private minute = 0;
  private readonly used = new Map<string, { mails: number; bytes: number }>();
  private readonly lines = new Map<string, number>();

  constructor(private readonly limits: Limits) {}

  /** @returns whether one more line may be opened */
  enter(address: string): boolean {
    const open = this.lines.get(address) ?? 0;
    if (open >= this.limits.mostLinesOfAddress) return false;
    this.lines.set(address, open + 1);
    return true;
  }

  leave(address: string): void {
    const open = (this.lines.get(address) ?? 1) - 1;
    if (open > 0) this.lines.set(address, open);
    else this.lines.delete(address);
  }

  /** Counts mails and bytes. @returns whether the address may go on in this minute */
  use(address: string, mails: number, bytes: number): boolean {
    const minute = Math.floor(performance.now() / 60_000);
    if (minute !== this.minute) this.used.clear();
    this.minute = minute;
    const known = this.used.get(address) ?? { mails: 0, bytes: 0 };
    known.mails += mails;
    known.bytes += bytes;
    this.used.set(address, known);
    return known.mails <= this.limits.mostMailsAMinute && known.bytes <= this.limits.mostBytesAMinute;
  }
}

/**
 * Takes mail in over SMTP. The sender hears `250` only once `store` has committed, so that what is lost is sent again.
 * Recipients that `isOurs` does not know are refused before any content.
 */
export async function listenForMail(setting: {
  readonly host: string;
  readonly port: number;
  isOurs(address: string): Promise<boolean>;
  store(mail: ArrivedMail): Promise<unknown>;
  /** Looks by whom a mail was sent; null when another server in front does. */
  readonly check?: ((mail: MailToCheck) => Promise<readonly CheckResult[] | null>) | null;
  /** With them the line can be made one that others cannot read (STARTTLS): PEM texts. */
  readonly tls?: { readonly cert: string; readonly key: string } | null;
  readonly limits?: Partial<Limits>;
}): Promise<MailListener> {
  const limits = { ...usual, ...setting.limits };
  const visitors = new Visitors(limits);
  const admitted = new Set<string>();
  const { SMTPServer } = await import('smtp-server');
  const server = new SMTPServer({
    banner: 'Ash Kettle',
    disabledCommands: setting.tls ? ['AUTH'] : ['AUTH', 'STARTTLS'],
    ...(setting.tls ?? {}),
    authOptional: true,
    size: limits.mostBytes,
    maxClients: limits.mostLines,
    socketTimeout: 60_000,
    onConnect: ({ id, remoteAddress }, done) => {
      if (!visitors.enter(remoteAddress)) return done(refusal(421, '4.7.0 too many lines from your address'));
      admitted.add(id);
      done();
    },
    onClose: ({ id, remoteAddress }) => {
      if (admitted.delete(id)) visitors.leave(remoteAddress);
    },
    onMailFrom: (_address, { remoteAddress }, done) => {
      if (visitors.use(remoteAddress, 1, 0)) done();
      else done(refusal(451, '4.7.0 too many mails from your address, try again in a minute'));
    },
    logger: false,
    onRcptTo: ({ address }, _session, done) => {
      setting.isOurs(address.toLowerCase()).then(
        (isOurs) => (isOurs ? done() : done(refusal(550, '5.1.1 nobody of this address is here'))),
        () => done(refusal(451, '4.3.0 try again later')),
      );
    },
    onData: (stream, session, done) => {
      let parts: Buffer[] = [];
      let size = 0;
      stream.on('data', (part: Buffer) => {
        size += part.length;
        const mayGoOn = visitors.use(session.remoteAddress, 0, part.length);
        // What is too much is not kept; whoever goes on all the same is not listened to.
        if (size <= limits.mostBytes && mayGoOn) parts.push(part);
        else parts = [];
        if (size > limits.mostBytes + limits.patienceBytes || !mayGoOn) cut(session);
      });
      stream.on('end', () => {
        if (stream.sizeExceeded) return done(refusal(552, '5.3.4 the message is too large'));
        const content = Buffer.concat(parts);
        storeChecked(setting, session, content).then(
          () => done(null, 'stored'),
          () => done(refusal(451, '4.3.0 it could not be stored, try again later')),
        );
      });
    },
  });
  /** Ends a line in the middle of what it sends. */
  const cut = ({ id }: SMTPServerSession) => {
    for (const line of server.connections as Set<{ session: SMTPServerSession; close(): void }>)
      if (line.session.id === id) line.close();
  };
  server.on('error', () => undefined);
  await new Promise<void>((resolve, reject) => {
    server.server.once('error', reject);
    server.listen(setting.port, setting.host, resolve);
  });
  return {
    port: (server.server.address() as AddressInfo).port,
    close: () => new Promise((resolve) => server.close(() => resolve())),
  };
}

async function storeChecked(
  { check, store }: Parameters<typeof listenForMail>[0],
  session: SMTPServerSession,
  content: Buffer,
): Promise<void> {
  const mail = { content, envelopeFrom: senderOf(session) };
  const { remoteAddress, hostNameAppearsAs } = session;
  const checks = check ? await check({ ...mail, remoteAddress, helo: hostNameAppearsAs || '' }) : null;
  await store({ ...mail, envelopeTo: session.envelope.rcptTo[0]?.address.toLowerCase() ?? null, checks });
}

function senderOf({ envelope }: SMTPServerSession): string | null {
  return envelope.mailFrom ? envelope.mailFrom.address : '';
}

const refusal = (responseCode: number, words: string) => Object.assign(new Error(words), { responseCode });
