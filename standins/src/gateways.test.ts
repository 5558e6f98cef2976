import { createHmac, randomUUID } from 'node:crypto';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { Gateways } from './gateways';
import { Happened } from './happened';
import { TheirTime } from './their-time';

const secret = 'known to both sides';
let hook: Server;
let told: { kind: string; callId?: string; result?: string; seconds?: number; textId?: string }[];
let statuses: number[];
let isSigned: boolean;
let time: TheirTime;
let happened: Happened;
let gateways: Gateways;

beforeEach(async () => {
  [told, statuses, isSigned] = [[], [], true];
  // What an earlier test set going may still be told: to its own list.
  const mine = told;
  hook = createServer((request, response) => {
    let body = '';
    request.on('data', (part) => (body += String(part)));
    request.on('end', () => {
      isSigned &&= request.headers['x-signature'] === createHmac('sha256', secret).update(body).digest('hex');
      response.statusCode = statuses.shift() ?? 200;
      if (response.statusCode === 200) mine.push(JSON.parse(body));
      response.end();
    });
  });
  await new Promise<void>((resolve) => hook.listen(0, '127.0.0.1', resolve));
  time = new TheirTime(100_000);
  happened = new Happened();
  const url = `http://127.0.0.1:${(hook.address() as AddressInfo).port}/out/hooks`;
  gateways = new Gateways({ seed: 'kettle', time, happened, hook: url, secret });
});
afterEach(async () => {
  time.stop();
  gateways.stop();
  hook.closeAllConnections();
  await new Promise((resolve) => hook.close(resolve));
});

const until = async (isSo: () => boolean) => {
  const end = performance.now() + 4000;
  while (!isSo()) {
    if (performance.now() > end) throw new Error(`not so in time; told: ${JSON.stringify(told)}`);
    await new Promise((resolve) => setTimeout(resolve, 10));
  }
};
const kinds = () => told.map(({ kind }) => kind);

test('a call rings and ends, each told once and signed', async () => {
  gateways.dial({ id: randomUUID(), to: '+441632960101' }, 1000);
  await until(() => kinds().includes('call-ended'));
  expect(kinds()[0]).toBe('call-ringing');
  expect(kinds().filter((kind) => kind === 'call-ended')).toHaveLength(1);
  expect(isSigned).toBe(true);
});

test('one that is hung up before anybody answers is no answer, one after that was spoken', async () => {
  const id = randomUUID();
  gateways.dial({ id, to: '+441632960101' }, 0.001);
  gateways.hangUp(id);
  gateways.hangUp(id);
  await until(() => told.length === 1);
  expect(told[0]).toMatchObject({ kind: 'call-ended', callId: id, result: 'no-answer', seconds: 0 });
  // Somebody among so many numbers picks up.
  const numbers = Array.from({ length: 30 }, (_, n) => `+4416329601${n + 10}`);
  for (const to of numbers) gateways.dial({ id: randomUUID(), to }, 20);
  await until(() => kinds().includes('call-answered'));
  const { callId } = told.find(({ kind }) => kind === 'call-answered')!;
  gateways.hangUp(callId!);
  await until(() => told.some((event) => event.callId === callId && event.kind === 'call-ended'));
  const end = told.find((event) => event.callId === callId && event.kind === 'call-ended')!;
  expect(end.result).toBe('answered');
});

test('a text with the same key is the same text, and arrives once', async () => {
  const first = gateways.text('key', { to: '+441632960102', body: 'Hello' });
  expect(gateways.text('key', { to: '+441632960102', body: 'Hello' })).toEqual(first);
  await until(() => told.length > 0);
  expect(happened.list().filter(({ kind }) => kind === 'text')).toHaveLength(1);
  expect(told[0]).toMatchObject({ textId: first.id });
});

test('what the application did not take is told again', async () => {
  statuses = [503];
  const { id } = gateways.text('again', { to: '+441632960103', body: 'Hello' });
  // An answer of theirs may overtake the second telling.
  await until(() => told.some(({ textId }) => textId === id));
});

test('what is not a number is refused', () => {
  expect(() => gateways.text('x', { to: '1', body: 'Hello' })).toThrow();
  expect(() => gateways.dial({ id: 'not an id', to: '+441632960101' })).toThrow();
});
