import type { AddressInfo } from 'node:net';
import { createTransport, type SendMailOptions } from 'nodemailer';
import { simpleParser, type ParsedMail } from 'mailparser';
import { SMTPServer } from 'smtp-server';

/** How the far end of a line behaves when a mail is handed over to it. */
export type Behaviour =
  | 'accept'
  /** 550 5.1.1 at RCPT. */
  | 'unknown-address'
  /** 554 after the message. */
  | 'refuse'
  /** 451 after the message. */
  | 'later'
  /** Takes the message, then the line breaks without an answer. */
  | 'vanish'
  /** The line breaks in the middle of the conversation, before the message. */
  | 'break-early';

export interface MailServer {
  readonly url: string;
  /** Every message that came over whole, also one whose answer was lost. */
  readonly got: ParsedMail[];
  behave(next: Behaviour): void;
  /** Called after a message has come over and before it is answered. */
  beforeAnswer(work: () => Promise<void>): void;
  close(): Promise<void>;
}

/** A mail server of somebody else, on loopback. */
export async function aMailServer(): Promise<MailServer> {
  const got: ParsedMail[] = [];
  let behaviour: Behaviour = 'accept';
  let work: () => Promise<void> = async () => undefined;
  const sockets = new Map<string, { destroy(): void }>();
  const answer = (code: number, words: string) => Object.assign(new Error(words), { responseCode: code });
  const server = new SMTPServer({
    disabledCommands: ['STARTTLS', 'AUTH'],
    authOptional: true,
    logger: false,
    onMailFrom: (_address, session, done) => {
      if (behaviour === 'break-early') sockets.get(session.remoteAddress + session.remotePort)?.destroy();
      else done();
    },
    onRcptTo: (_address, _session, done) =>
      behaviour === 'unknown-address' ? done(answer(550, '5.1.1 no such mailbox')) : done(),
    onData: (stream, session, done) => {
      const parts: Buffer[] = [];
      stream.on('data', (part: Buffer) => parts.push(part));
      stream.on('end', () => {
        void (async () => {
          if (behaviour === 'refuse') return done(answer(554, '5.7.1 not wanted here'));
          if (behaviour === 'later') return done(answer(451, '4.3.0 busy'));
          got.push(await simpleParser(Buffer.concat(parts)));
          await work();
          if (behaviour === 'vanish') sockets.get(session.remoteAddress + session.remotePort)?.destroy();
          else done(null, 'queued');
        })();
      });
    },
  });
  server.on('error', () => undefined);
  server.server.on('connection', (socket) =>
    sockets.set(`${socket.remoteAddress}${socket.remotePort}`, socket),
  );
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  return {
    url: `smtp://127.0.0.1:${(server.server.address() as AddressInfo).port}`,
    got,
    behave: (next) => {
      behaviour = next;
    },
    beforeAnswer: (next) => {
      work = next;
    },
    close: () => new Promise((resolve) => server.close(() => resolve())),
  };
}

/**
 * Hands a mail over to a server at a port of this machine, as another mail server would.
 * @returns whether it was taken; false is to be tried again
 * @throws Error when it will never be taken
 */
export async function handOver(port: number, mail: SendMailOptions): Promise<boolean> {
  const transport = createTransport({ host: '127.0.0.1', port, secure: false, ignoreTLS: true });
  try {
    await transport.sendMail(mail);
    return true;
  } catch (error) {
    const { responseCode } = error as { responseCode?: number };
    if (responseCode !== undefined && responseCode >= 500) throw error;
    return false;
  } finally {
    transport.close();
  }
}
