import type { AddressInfo } from 'node:net';
import { SMTPServer, type SMTPServerSession } from 'smtp-server';

export interface ArrivedMail {
  readonly content: Buffer;
  readonly envelopeFrom: string | null;
}

export interface MailListener {
  readonly port: number;
  close(): Promise<void>;
}

const mostBytes = 25 * 1024 * 1024;

/**
 * Takes mail in over SMTP. The sender hears `250` only once `store` has committed, so that what is lost is sent again.
 * Recipients that `isOurs` does not know are refused before any content.
 */
export async function listenForMail(setting: {
  readonly host: string;
  readonly port: number;
  isOurs(address: string): Promise<boolean>;
  store(mail: ArrivedMail): Promise<void>;
}): Promise<MailListener> {
  const server = new SMTPServer({
    banner: 'Ash Kettle',
    disabledCommands: ['AUTH', 'STARTTLS'],
    authOptional: true,
    size: mostBytes,
    logger: false,
    onRcptTo: ({ address }, _session, done) => {
      setting.isOurs(address.toLowerCase()).then(
        (isOurs) => (isOurs ? done() : done(refusal(550, '5.1.1 nobody of this address is here'))),
        () => done(refusal(451, '4.3.0 try again later')),
      );
    },
    onData: (stream, session, done) => {
      const parts: Buffer[] = [];
      stream.on('data', (part: Buffer) => parts.push(part));
      stream.on('end', () => {
        if (stream.sizeExceeded) return done(refusal(552, '5.3.4 the message is too large'));
        setting.store({ content: Buffer.concat(parts), envelopeFrom: senderOf(session) }).then(
          () => done(null, 'stored'),
          () => done(refusal(451, '4.3.0 it could not be stored, try again later')),
        );
      });
    },
  });
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

function senderOf({ envelope }: SMTPServerSession): string | null {
  return envelope.mailFrom ? envelope.mailFrom.address : '';
}

const refusal = (responseCode: number, words: string) => Object.assign(new Error(words), { responseCode });
