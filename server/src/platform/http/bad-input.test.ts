import { endpoints, routes, type EndpointName, type RouteSpec } from '@kettle/contract';
import request from 'supertest';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, aLead } from '../../../testing/people';
import { sampleOf } from '../../../testing/sample';
import { bytesOf, newId } from '../ids';

let installation: Installation;
let rep: Caller;
let admin: Caller;
const mine: Record<string, string> = {};

beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep');
  admin = await installation.as('admin');
  const contact = await aContact(rep);
  const deal = await aDeal(rep, contact.id);
  const lead = await aLead(rep);
  const { tasks } = await rep.ok('listTasks', { query: { contactId: contact.id } });
  const { pipelines } = await rep.ok('listPipelines');
  Object.assign(mine, {
    ...{ contact: contact.id, company: contact.companyId, deal: deal.id, lead: lead.id, user: rep.id },
    ...{ task: tasks[0]!.id, pipeline: pipelines[0]!.id, stage: deal.stageId, standing: contact.standingId },
  });
});
afterAll(() => installation.close());

/** What nobody means to send, by what stands in its place. */
const nasty: Readonly<Record<string, readonly unknown[]>> = {
  string: [
    '',
    '\u0000',
    '\ud800',
    'constructor',
    '__proto__',
    '9999-12-31',
    '0001-01-01T00:00:00.000Z',
    'é'.repeat(70_000),
  ],
  number: [1e308, -1, 0.1, Number.MAX_SAFE_INTEGER],
  boolean: ['true', null],
};

/** Every way to put one thing nobody means into a value. */
function* spoilt(value: unknown): Generator<unknown> {
  if (Array.isArray(value)) {
    yield Array.from({ length: 6000 }, () => value[0] ?? null);
    for (const part of spoilt(value[0])) yield [part];
  } else if (typeof value === 'object' && value !== null) {
    for (const [key, part] of Object.entries(value))
      for (const each of spoilt(part)) yield { ...value, [key]: each };
  } else yield* nasty[typeof value] ?? [];
}

const names = (Object.keys(endpoints) as EndpointName[]).filter(
  (name) => !['changes', 'signOut', 'endOtherSessions'].includes(name),
);

test.each(names)('%s answers no nonsense with a fault of its own', async (name) => {
  const spec: RouteSpec = routes[name];
  const of = (kind: string) => mine[kind] ?? newId<string>();
  const sample = (part: 'params' | 'query' | 'body') =>
    spec[part] ? (sampleOf(spec[part], { of, at: { path: '~', kind: '~', id: '~' } }) as object) : undefined;
  const whole = { params: sample('params'), query: sample('query'), body: sample('body') };
  const caller = spec.access === 'admin' ? admin : rep;
  const faults: unknown[] = [];
  for (const part of ['query', 'body'] as const)
    for (const each of whole[part] === undefined ? [] : spoilt(whole[part])) {
      const call = { ...whole, [part]: each } as Parameters<Caller['call']>[1];
      const response = await caller.call(name, call);
      if (response.status >= 500)
        faults.push([part, JSON.stringify(each).slice(0, 300), response.text.slice(0, 200)]);
    }
  expect(faults).toEqual([]);
});

describe('what is no request at all', () => {
  const post = () => request(installation.app).post('/api/session').set('Origin', 'http://kettle.test');

  test.each([
    ['an address that cannot be read', () => request(installation.app).get('/api/contacts/%E0%A4%A')],
    ['a query that cannot be read', () => request(installation.app).get('/api/contacts?q=%E0%A4%A')],
    ['a path out of the folder', () => request(installation.app).get('/..%2f..%2fetc/passwd')],
    [
      'an unknown charset',
      () => post().set('Content-Type', 'application/json; charset=x-klingon').send('{}'),
    ],
    [
      'an unknown encoding',
      () => post().set('Content-Type', 'application/json').set('Content-Encoding', 'snappy').send('{}'),
    ],
    [
      'a broken encoding',
      () => post().set('Content-Type', 'application/json').set('Content-Encoding', 'gzip').send('{}'),
    ],
    ['half a document', () => post().set('Content-Type', 'application/json').send('{"email":')],
    ['a list for an object', () => post().send([1])],
    [
      'a form with two thousand fields',
      () =>
        request(installation.app)
          .post('/out/forms/abc')
          .type('form')
          .send(Array.from({ length: 2000 }, (_, n) => `f${n}=1`).join('&')),
    ],
    [
      'a method of no meaning',
      () => request(installation.app).patch('/api/session').set('Origin', 'http://kettle.test'),
    ],
  ])('%s is answered 4xx', async (_, ask) => {
    const { status } = await ask();
    expect(Math.floor(status / 100)).toBe(4);
  });

  test('says that it cannot be read', async () => {
    const { body } = await request(installation.app).get('/api/contacts/%E0%A4%A');
    expect(body).toMatchObject({ status: 400, code: 'unreadable-request' });
  });

  test.each(['constructor', '__proto__', 'toString'])('a filter on %s is refused', async (field) => {
    const filter = JSON.stringify({ all: [{ field, is: 'equal', value: 'x' }] });
    expect((await rep.call('listContacts', { query: { filter } })).status).toBe(400);
  });
});

test('a mail of 200 kB is filed by hand', async () => {
  const id = newId<string>();
  await installation.services.database.change(
    `INSERT INTO mail (id, direction, state, message_id, thread_id, reference_ids, from_name, from_address, to_address, subject, text, links,
        user_id, at) VALUES (:id, 'in', 'unfiled', HEX(:id), :id, '', '', 'a@b.example', 'c@d.example', 's', :text, '[]', :user, :at)`,
    { id: bytesOf(id), user: bytesOf(rep.id), text: 'é'.repeat(100_000), at: '2026-11-24 09:00:00' },
  );
  const body = { version: 1, contactId: mine.contact, dealId: null, keepAddress: false };
  expect((await rep.call('fileMail', { params: { id }, body })).status).toBe(200);
});

test('deals of absurd amounts are refused, and those there are do not stop the page', async () => {
  const line = { name: 'gold', quantity: 1_000_000, priceMinor: 1_000_000_000, billing: 'once' };
  const refused = await rep.call('createDeal', {
    body: {
      ...{ name: 'x', contactId: mine.contact, stageId: mine.stage, amountMinor: 0, expectedCloseOn: null },
      ...{ lines: [line], next: { kind: 'none', reason: 'x' } },
    },
  });
  expect((refused.body as { fields: object[] }).fields).toEqual([
    { path: 'lines', message: 'come to more than an amount can be; make several of them' },
  ]);
  // Written by an earlier version, which knew no such limit.
  await installation.services.database.change(
    'UPDATE deal SET amount_minor = 9000000000000000, home_minor = 9000000000000000',
  );
  await aDeal(rep, mine.contact!);
  await installation.services.database.change(
    'UPDATE deal SET amount_minor = 9000000000000000, home_minor = 9000000000000000',
  );
  expect((await rep.call('countDeals', { query: { owner: 'all' } })).status).toBe(200);
  expect((await rep.call('listDeals', { query: { owner: 'all' } })).status).toBe(200);
  expect((await rep.call('round')).status).toBe(200);
});
