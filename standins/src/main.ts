import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import * as z from 'zod';
import { CalendarServer } from './calendar-server';
import { Gateways } from './gateways';
import { Happened } from './happened';
import { overImap, overSmtp, patient } from './letterbox';
import { openMailboxes } from './mailboxes';
import { HookReader } from './hook-reader';
import { pageOf } from './page';
import { TheirTime } from './their-time';

/** The simulated outside world as a process of its own; see the README for how real services take its place. */
const setting = z
  .object({
    STANDINS_PORT: z.coerce.number().int().default(4310),
    STANDINS_SMTP_PORT: z.coerce.number().int().default(4325),
    STANDINS_SEED: z.string().default('kettle'),
    /** Their minutes in one of our seconds. */
    STANDINS_SPEED: z.coerce.number().positive().default(1),
    KETTLE_MAIL_IN_PORT: z.coerce.number().int(),
    /** A mailbox they put what they write into, instead of handing it over by SMTP. */
    STANDINS_IMAP_URL: z.url({ protocol: /^imaps?$/ }).optional(),
    KETTLE_HOOK_URL: z.url(),
    KETTLE_GATEWAY_SECRET: z.string().min(16),
  })
  .parse(process.env);

const calendars = new CalendarServer();
const time = new TheirTime(setting.STANDINS_SPEED);
const happened = new Happened();
const hookReader = new HookReader(happened);
const gateways = new Gateways({
  seed: setting.STANDINS_SEED,
  time,
  happened,
  hook: setting.KETTLE_HOOK_URL,
  secret: setting.KETTLE_GATEWAY_SECRET,
});
const mailboxes = await openMailboxes({
  port: setting.STANDINS_SMTP_PORT,
  seed: setting.STANDINS_SEED,
  time,
  happened,
  letterbox: patient(
    setting.STANDINS_IMAP_URL === undefined
      ? overSmtp('127.0.0.1', setting.KETTLE_MAIL_IN_PORT)
      : overImap(setting.STANDINS_IMAP_URL),
  ),
});

const server = createServer((request, response) => {
  answer(request, response).catch((error: Error) => {
    response.statusCode = 400;
    response.end(error.message);
  });
});

async function answer(request: IncomingMessage, response: ServerResponse): Promise<void> {
  const path = new URL(request.url ?? '/', 'http://standins').pathname;
  const method = request.method ?? 'GET';
  if (/^\/(calendars|dav|\.well-known)\//.test(path)) {
    const reply = calendars.answer({ method, path, headers: request.headers, body: await bodyOf(request) });
    response.writeHead(reply?.status ?? 404, reply?.headers);
    return void response.end(reply?.body);
  }
  const send = (value: unknown) => {
    response.setHeader('Content-Type', 'application/json');
    response.end(JSON.stringify(value));
  };
  if (request.method === 'GET' && path === '/') {
    response.setHeader('Content-Type', 'text/html; charset=utf-8');
    return void response.end(
      pageOf(happened.list(), {
        ...{ speed: time.speed, waiting: time.waitingCount, diaries: calendars.list() },
        hasSecret: hookReader.hasSecret,
      }),
    );
  }
  if (request.method === 'GET' && path === '/happened')
    return send({ events: happened.list(), waiting: time.waitingCount });
  if (request.method !== 'POST') {
    response.statusCode = 404;
    return void response.end();
  }
  const body = await bodyOf(request);
  const hangUp = /^\/calls\/([0-9a-f-]{36})\/hang-up$/.exec(path)?.[1];
  if (path === '/told') {
    response.statusCode = hookReader.take(body, request.headers);
    return void response.end();
  }
  if (path === '/told/secret') {
    hookReader.trust(new URLSearchParams(body).get('secret') ?? '');
    response.writeHead(303, { Location: '/' });
    return void response.end();
  }
  if (path === '/messages')
    return send(gateways.text(String(request.headers['idempotency-key'] ?? ''), JSON.parse(body)));
  if (path === '/calls') {
    gateways.dial(JSON.parse(body));
    return send({ ok: true });
  }
  if (hangUp !== undefined) {
    gateways.hangUp(hangUp);
    return send({ ok: true });
  }
  if (path === '/diaries') {
    const asked = new URLSearchParams(body);
    const hours = Number(asked.get('hours'));
    const act = asked.get('act') === 'delete' ? 'delete' : { hours };
    calendars.change(asked.get('login') ?? '', asked.get('name') ?? '', act);
    response.writeHead(303, { Location: '/' });
    return void response.end();
  }
  if (path === '/speed') {
    time.speed = z.coerce
      .number()
      .positive()
      .max(100_000)
      .parse(new URLSearchParams(body).get('minutesPerSecond'));
    response.statusCode = 303;
    response.setHeader('Location', '/');
    return void response.end();
  }
  response.statusCode = 404;
  response.end();
}

async function bodyOf(request: IncomingMessage): Promise<string> {
  const parts: Buffer[] = [];
  for await (const part of request) parts.push(part as Buffer);
  return Buffer.concat(parts).toString('utf8');
}

await new Promise<void>((resolve) => server.listen(setting.STANDINS_PORT, '127.0.0.1', resolve));
process.stdout.write(
  `standing in at http://127.0.0.1:${(server.address() as AddressInfo).port} smtp ${mailboxes.port}\n`,
);
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => {
    time.stop();
    gateways.stop();
    server.close();
    void mailboxes.close().then(() => process.exit(0));
  });
