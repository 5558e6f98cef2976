import { get, type IncomingMessage } from 'node:http';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { Session } from '@kettle/contract';
import { pino } from 'pino';
import { makeApp } from '../../app';
import { openDatabase, type Database } from '../database/database';
import { install, password, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, aLog, stagesOf } from '../../../testing/people';
import { readConcerned } from '../../records/rights/index';
import { ChangeFeed } from './feed';
import { Others } from './others';

let installation: Installation;
let rep: Caller;
let otherDatabase: Database;
let other: Server;
let cookie: string;
/** Whether the second server's feed finds its database away. */
let isAway = false;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep');
  // A second server over the same database: a pool and a feed of its own.
  otherDatabase = openDatabase(installation.url, { connections: 4 });
  const reaching = Object.create(otherDatabase, {
    rows: {
      value: (...asked: Parameters<Database['rows']>) =>
        isAway ? Promise.reject(new Error('away')) : otherDatabase.rows(...asked),
    },
  }) as Database;
  const pace = { everyMillis: 50, togetherMillis: 300, blindMillis: 800 };
  const feed = new ChangeFeed(reaching, readConcerned, pace);
  other = createServer(
    makeApp({ ...installation.services, database: otherDatabase, feed, log: pino({ level: 'silent' }) }),
  );
  await new Promise<void>((resolve) => other.listen(0, '127.0.0.1', resolve));
  cookie = await cookieOf(rep);
});
afterAll(async () => {
  other.closeAllConnections();
  await new Promise((resolve) => other.close(resolve));
  await otherDatabase.close();
  await installation.close();
});

async function cookieOf(caller: Caller): Promise<string> {
  const { email } = (await caller.ok('session')).person;
  const signedIn = await installation.nobody('signIn', { body: { email, password } });
  return signedIn.get('Set-Cookie')![0]!.split(';')[0]!;
}

interface Stream {
  readonly text: () => string;
  close(): void;
}

/** Listens at the second server, as a browser would. */
function listen(lastEventId?: string, query = '', as = cookie): Promise<Stream> {
  const { port } = other.address() as AddressInfo;
  const headers = { cookie: as, ...(lastEventId ? { 'last-event-id': lastEventId } : {}) };
  return new Promise((resolve, reject) => {
    const asked = get(
      { port, host: '127.0.0.1', path: `/api/changes${query}`, headers },
      (response: IncomingMessage) => {
        let text = '';
        response.on('data', (chunk: Buffer) => (text += String(chunk)));
        resolve({ text: () => text, close: () => asked.destroy() });
      },
    );
    asked.on('error', reject);
  });
}

async function until(isSo: () => boolean): Promise<void> {
  const end = Date.now() + 8000;
  while (!isSo() && Date.now() < end) await new Promise((resolve) => setTimeout(resolve, 20));
  expect(isSo()).toBe(true);
}

const afterOf = (last: Session['lastChange']) => `?after=${last!.id}&knownAt=${last!.knownAt}`;
const idsOf = (text: string) => [...text.matchAll(/^id: (\S+)$/gm)].map((found) => found[1]!);

test('a change made on one server reaches a browser on the other, once', async () => {
  const stream = await listen();
  await new Promise((resolve) => setTimeout(resolve, 150));
  const contact = await aContact(rep);
  await until(() => stream.text().includes(contact.id));
  await new Promise((resolve) => setTimeout(resolve, 300));
  expect(stream.text().split(`{"topic":"contact","ids":["${contact.id}"`)).toHaveLength(2);
  stream.close();
});

test('a record of which several events are written at once is told once', async () => {
  const deal = await aDeal(rep, (await aContact(rep)).id);
  const [, second] = await stagesOf(rep);
  const stream = await listen();
  await new Promise((resolve) => setTimeout(resolve, 150));
  await rep.ok('moveDeal', {
    params: { id: deal.id },
    body: { version: deal.version, stageId: second!.id, expectedCloseOn: deal.expectedCloseOn },
  });
  await until(() => stream.text().includes(deal.id));
  await new Promise((resolve) => setTimeout(resolve, 300));
  expect(stream.text().split(`{"topic":"deal","ids":["${deal.id}"`)).toHaveLength(2);
  stream.close();
});

test('a browser that comes back is told what it missed', async () => {
  const before = await listen();
  await new Promise((resolve) => setTimeout(resolve, 150));
  const first = await aContact(rep);
  await until(() => before.text().includes(first.id));
  const last = idsOf(before.text()).at(-1)!;
  before.close();
  const missed = await aContact(rep);
  const after = await listen(last);
  await until(() => after.text().includes(missed.id));
  expect(idsOf(after.text())).not.toContain(last);
  after.close();
});

test('after the database was away for a moment, what was written meanwhile is told', async () => {
  const stream = await listen();
  await new Promise((resolve) => setTimeout(resolve, 150));
  isAway = true;
  const meanwhile = await aContact(rep);
  await new Promise((resolve) => setTimeout(resolve, 200));
  isAway = false;
  await until(() => stream.text().includes(meanwhile.id));
  expect(stream.text()).not.toContain('resync');
  stream.close();
});

test('and after a longer while, that everything is to be read again', async () => {
  const stream = await listen();
  await new Promise((resolve) => setTimeout(resolve, 150));
  isAway = true;
  await new Promise((resolve) => setTimeout(resolve, 1000));
  isAway = false;
  await until(() => stream.text().includes('event: resync'));
  stream.close();
});

test('a page that has just begun is told what changed since it asked who is signed in', async () => {
  await aContact(rep);
  const { lastChange } = await rep.ok('session');
  const between = await aContact(rep);
  const stream = await listen(undefined, afterOf(lastChange));
  await until(() => stream.text().includes(between.id));
  stream.close();
});

test('and of nothing that was long known by then, so that it does not read all again', async () => {
  const { database } = installation.services;
  const known = await aContact(rep);
  await database.change('UPDATE event SET at = at - INTERVAL 60 SECOND');
  const { lastChange } = await rep.ok('session');
  const between = await aContact(rep);
  const stream = await listen(undefined, afterOf(lastChange));
  await until(() => stream.text().includes(between.id));
  expect(stream.text()).not.toContain(known.id);
  stream.close();
});

test('one that was away for longer is told to read everything again', async () => {
  const stream = await listen('01938f6c-0000-7000-8000-00000000ffff');
  await until(() => stream.text().includes('event: resync'));
  stream.close();
});

test('where everybody reads their own, a deal is told to its team, and to nobody else', async () => {
  const admin = await installation.as('admin');
  const rights = await admin.ok('rightsSettings');
  await admin.ok('changeRightsSettings', { body: { ...rights, reading: 'own' } });
  const [mate, stranger] = [await installation.as('rep'), await installation.as('rep')];
  const deal = await aDeal(rep, (await aContact(rep)).id);
  const change = (part: object) =>
    rep.ok('changeDeal', {
      params: { id: deal.id },
      body: {
        ...{ version: deal.version, name: deal.name, stageId: deal.stageId, amountMinor: deal.amountMinor },
        ...{ expectedCloseOn: deal.expectedCloseOn, winProbability: null, teamIds: [mate.id], ...part },
      },
    });
  const changed = await change({});
  const streams = [
    await listen('', '', await cookieOf(mate)),
    await listen('', '', await cookieOf(stranger)),
  ];
  await change({ version: changed.version, amountMinor: 12_300 });
  await until(() => streams[0]!.text().includes(deal.id));
  expect(streams[1]!.text()).not.toContain(deal.id);
  for (const stream of streams) stream.close();
  await admin.ok('changeRightsSettings', {
    body: { ...(await admin.ok('rightsSettings')), reading: 'all' },
  });
});

/** As the installation of the tests gathers what others do. */
const togetherMillis = 200;

/** The events of a stream, each with what it says. */
const eventsOf = (text: string) =>
  [...text.matchAll(/^event: (\w+)\ndata: (.*)$/gm)].map(([, name, data]) => ({
    name: name!,
    data: JSON.parse(data!) as Record<string, unknown>,
  }));

test('what colleagues do with theirs is told together; what they do with mine, at once', async () => {
  const mate = await installation.as('rep');
  const mine = await aContact(rep);
  const manager = await installation.as('manager');
  const stream = await listen();
  await new Promise((resolve) => setTimeout(resolve, 150));
  const begun = performance.now();
  const theirs = [await aContact(mate), await aContact(mate), await aContact(mate)];
  for (const { id } of theirs) await aLog(mate, id);
  const tellings = (performance.now() - begun) / togetherMillis;
  await until(() => stream.text().includes('event: others'));
  await new Promise((resolve) => setTimeout(resolve, 500));
  const heard = eventsOf(stream.text());
  expect(heard.filter(({ name }) => name === 'change')).toEqual([]);
  // Six acts and their tasks, journal entries and contacts: one telling for each stretch, however many acts lie in it.
  expect(heard.length).toBeLessThanOrEqual(2 + tellings);
  const contacts = heard.flatMap(({ data }) => (data.contact as string[] | undefined) ?? []);
  expect(contacts).toEqual(expect.arrayContaining(theirs.map(({ id }) => id)));

  const before = stream.text().length;
  await aLog(manager, mine.id);
  await until(() => stream.text().slice(before).includes(mine.id));
  const now = eventsOf(stream.text().slice(before));
  expect(now.some(({ name, data }) => name === 'change' && data.topic === 'journal')).toBe(true);
  expect(now.filter(({ name }) => name === 'others')).toEqual([]);
  stream.close();
});

test('others’ are gathered until they are told; too many to name are told as many', () => {
  jest.useFakeTimers();
  const told: object[] = [];
  const others = new Others(300, (id, notice) => told.push({ id, ...notice }));
  const add = (n: number, topic: 'contact' | 'task') =>
    others.add({ id: `e${n}`, topic, ids: [`r${n}`, 'same'], byUserId: null, owners: [] });
  for (let n = 0; n < 3; n += 1) add(n, 'contact');
  jest.advanceTimersByTime(299);
  expect(told).toEqual([]);
  jest.advanceTimersByTime(1);
  for (let n = 3; n < 110; n += 1) add(n, n === 3 ? 'task' : 'contact');
  jest.advanceTimersByTime(300);
  expect(told).toEqual([
    { id: 'e2', contact: ['r0', 'same', 'r1', 'r2'] },
    { id: 'e109', task: ['r3', 'same'], contact: null },
  ]);
  add(110, 'task');
  others.stop();
  jest.advanceTimersByTime(1000);
  expect(told).toHaveLength(2);
  jest.useRealTimers();
});
