import { readFileSync } from 'node:fs';
import type { Environment } from './platform/environment';
import {
  checkMail,
  listenForMail,
  readCursor,
  readMailbox,
  smtpOut,
  storeArrival,
} from './processes/mail/index';
import type { Services } from './platform/services';
import type { Channels } from './platform/channels';
import { fetchOutside } from './platform/outside/fetch-outside';
import { httpPhoneLine, httpTextGateway } from './processes/telephone/index';

/** The ways outside that the installation's settings name. */
export function makeChannels(environment: Environment): Channels {
  const { KETTLE_SMTP_URL, KETTLE_TEXT_URL, KETTLE_PHONE_URL } = environment;
  return {
    mailOut: KETTLE_SMTP_URL ? smtpOut(KETTLE_SMTP_URL) : null,
    textGateway: KETTLE_TEXT_URL ? httpTextGateway(KETTLE_TEXT_URL) : null,
    phoneLine: KETTLE_PHONE_URL ? httpPhoneLine(KETTLE_PHONE_URL) : null,
    publicOrigin:
      environment.KETTLE_PUBLIC_ORIGIN ?? `http://${environment.KETTLE_HOST}:${environment.KETTLE_PORT}`,
    mailDomain: environment.KETTLE_MAIL_DOMAIN,
    mailAuthority: environment.KETTLE_MAIL_AUTHSERV?.toLowerCase() ?? null,
    fetchOutside: fetchOutside({ allowed: environment.KETTLE_INSIDE_ALLOWED }),
    gatewaySecret: environment.KETTLE_GATEWAY_SECRET ?? null,
  };
}

/** Begins to take mail in, by the ways that are set up; answers with how to stop. */
export async function startListening(
  environment: Environment,
  services: Services,
  afterArrival: () => void,
): Promise<() => Promise<void>> {
  const stops: (() => Promise<void>)[] = [];
  const { KETTLE_MAIL_IN_PORT: port, KETTLE_IMAP_URL: imap } = environment;
  if (port !== undefined) {
    const listener = await listenForMail({
      host: environment.KETTLE_HOST,
      port,
      tls: tlsOf(environment),
      isOurs: (address) => isOurs(services, address),
      check: services.channels.mailAuthority === null ? checkMail : null,
      store: async (arrived) => {
        await storeArrival(services, arrived);
        afterArrival();
      },
    });
    stops.push(() => listener.close());
  }
  if (imap !== undefined)
    stops.push(watchMailbox(services, imap, environment.KETTLE_IMAP_SECONDS * 1000, afterArrival));
  return async () => {
    for (const stop of stops) await stop();
  };
}

/** @throws Error when a file that is set cannot be read */
function tlsOf({ KETTLE_MAIL_TLS_CERT: cert, KETTLE_MAIL_TLS_KEY: key }: Environment) {
  return cert && key ? { cert: readFileSync(cert, 'utf8'), key: readFileSync(key, 'utf8') } : null;
}

/** A user's own address, or one of those for returns and unsubscribing. */
async function isOurs({ database, channels }: Services, address: string): Promise<boolean> {
  const [local = '', domain = ''] = address.split('@');
  if (domain === channels.mailDomain) return /^(bounces\+[0-9a-f-]{36}|unsubscribe)$/.test(local);
  const users = await database.rows('SELECT 1 FROM app_user WHERE email = :address', { address });
  return users.length > 0;
}

/** Reads a mailbox again and again, one reading after the other. */
export function watchMailbox(
  services: Services,
  url: string,
  everyMillis: number,
  afterArrival: () => void,
): () => Promise<void> {
  const { username, host, pathname } = new URL(url);
  const name = `${username}@${host}${pathname}`.slice(0, 200);
  let isStopping = false;
  let wake: () => void = () => undefined;
  const pause = () =>
    new Promise<void>((resolve) => {
      const timer = setTimeout(resolve, everyMillis);
      wake = () => {
        clearTimeout(timer);
        resolve();
      };
    });
  const loop = (async () => {
    while (!isStopping) {
      try {
        const stored = await readMailbox({
          url,
          cursor: () => readCursor(services.database, name),
          store: (mail, cursor) => storeArrival(services, mail, { name, cursor }),
        });
        if (stored > 0) afterArrival();
      } catch (error) {
        services.log.warn({ err: error }, 'the mailbox could not be read');
      }
      if (!isStopping) await pause();
    }
  })();
  return async () => {
    isStopping = true;
    wake();
    await loop;
  };
}
