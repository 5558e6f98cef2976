import type { Contact, JournalEntry } from '@kettle/contract';
import request from 'supertest';
import { v4 } from 'uuid';
import { GatewayRefusal, signatureOf } from './gateway';
import type { PhoneLine } from './phone-line';
import type { TextGateway } from './text-gateway';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, journalOf } from '../../../testing/people';

const secret = 'shared with the gateways';
let sent: { key: string; to: string; body: string }[];
let dialled: { id: string; to: string }[];
let trouble: Error | null;
let installation: Installation;
let rep: Caller;

const textGateway: TextGateway = {
  send: (text) => {
    if (trouble) return Promise.reject(trouble);
    const again = sent.findIndex(({ key }) => key === text.key);
    if (again < 0) sent.push(text);
    return Promise.resolve(`gw-${text.key}`);
  },
};
const phoneLine: PhoneLine = {
  dial: (call) => {
    if (trouble) return Promise.reject(trouble);
    dialled.push(call);
    return Promise.resolve();
  },
  hangUp: () => Promise.resolve(),
};

beforeEach(async () => {
  [sent, dialled, trouble] = [[], [], null];
  installation = await install({ textGateway, phoneLine, gatewaySecret: secret });
  rep = await installation.as('rep');
});
afterEach(() => installation.close());

const told = (event: object, signature?: string) => {
  const body = JSON.stringify({ id: v4(), ...event });
  return request(installation.app)
    .post('/out/hooks')
    .set('x-signature', signature ?? signatureOf(body, secret))
    .set('Content-Type', 'application/json')
    .send(body);
};
const next = { kind: 'none', reason: 'they know all' };
const aText = (contact: Contact, part: object = {}) => ({
  id: v4(),
  contactId: contact.id,
  body: 'Shall we come by on Thursday?',
  next,
  ...part,
});
const textsOf = async (contact: Contact) =>
  (await rep.ok('listTexts', { query: { contactId: contact.id } })).texts;
const stirringsOf = async () => (await rep.ok('listStirrings')).rows;
const afterGrace = async () => {
  const { clock } = installation;
  clock.set(new Date(clock.millis() + 60_000).toISOString());
  await installation.work();
};

describe('a call', () => {
  const dial = (contact: Contact, id = v4()) =>
    rep.call('dial', { body: { id, contactId: contact.id, number: contact.phone } });
  const callOf = (id: string) => rep.ok('getCall', { params: { id } });

  test('is dialled once, and what the line tells of it proposes an outcome and its length', async () => {
    const contact = await aContact(rep);
    const id = v4();
    await dial(contact, id);
    await dial(contact, id);
    expect(dialled).toEqual([expect.objectContaining({ id, to: contact.phone })]);
    await told({ kind: 'call-ringing', callId: id });
    expect((await callOf(id)).state).toBe('ringing');
    await told({ kind: 'call-answered', callId: id });
    await told({ kind: 'call-ended', callId: id, result: 'answered', seconds: 185 });
    expect(await callOf(id)).toMatchObject({
      state: 'ended',
      result: 'answered',
      seconds: 185,
      outcomeId: 'call-spoke',
    });
  });

  test('that has ended stays so, in whatever order the line tells it', async () => {
    const id = v4();
    await dial(await aContact(rep), id);
    await told({ kind: 'call-ended', callId: id, result: 'busy', seconds: 0 });
    await told({ kind: 'call-ringing', callId: id });
    await told({ kind: 'call-answered', callId: id });
    expect(await callOf(id)).toMatchObject({ state: 'ended', result: 'busy', outcomeId: 'call-busy' });
  });

  test('is nobody else’s to look at', async () => {
    const id = v4();
    await dial(await aContact(rep), id);
    const other = await installation.as('rep');
    expect((await other.call('getCall', { params: { id } })).body).toMatchObject({ code: 'not-found' });
  });

  test('is not made to who asked for none, nor while the line does not answer', async () => {
    const quiet = await aContact(rep, { doNotContact: ['call'] });
    expect((await dial(quiet)).body).toMatchObject({ code: 'not-to-be-contacted' });
    trouble = new Error('the gateway answered 502');
    const refused = await dial(await aContact(rep));
    expect(refused.body).toMatchObject({ code: 'not-reached', status: 503 });
    expect(refused.body.detail).toContain('502');
  });

  test('from outside that nobody took is a stirring for the owner, and counts once', async () => {
    const contact = await aContact(rep);
    const event = { id: 'in-1', kind: 'call-in', from: contact.phone };
    await told(event);
    await told(event);
    expect(await stirringsOf()).toEqual([
      expect.objectContaining({ kind: 'missed-call', contactId: contact.id, times: 1 }),
    ]);
  });
});

describe('a text', () => {
  test('goes after the moment of grace, once, and its delivery is told', async () => {
    const contact = await aContact(rep);
    const text = aText(contact);
    await rep.ok('sendText', { body: text });
    await rep.ok('sendText', { body: text });
    await installation.work();
    expect(sent).toEqual([]);
    await afterGrace();
    expect(sent).toEqual([expect.objectContaining({ to: contact.phone, body: text.body })]);
    expect((await textsOf(contact))[0]).toMatchObject({ direction: 'out', state: 'sent' });
    await told({ kind: 'text-delivered', textId: `gw-${sent[0]!.key}` });
    expect((await textsOf(contact))[0]).toMatchObject({ state: 'delivered' });
    expect(
      (await journalOf(rep, { contactId: contact.id })).map((entry: JournalEntry) => entry.kind),
    ).toContain('text');
  });

  test('cancelled in time it never goes', async () => {
    const contact = await aContact(rep);
    const text = aText(contact);
    await rep.ok('sendText', { body: text });
    await rep.ok('undoLog', { params: { id: text.id } });
    await afterGrace();
    expect(sent).toEqual([]);
    expect(await textsOf(contact)).toEqual([]);
  });

  test('while the gateway is away it waits; a refusal ends it with its words', async () => {
    const contact = await aContact(rep);
    await rep.ok('sendText', { body: aText(contact) });
    trouble = new Error('connect ECONNREFUSED');
    await afterGrace();
    expect((await textsOf(contact))[0]).toMatchObject({ state: 'waiting' });
    trouble = new GatewayRefusal('no such number');
    for (let n = 0; n < 4; n += 1) await afterGrace();
    expect((await textsOf(contact))[0]).toMatchObject({ state: 'failed', said: 'no such number' });
  });

  test('that could not be delivered is told to who wrote it', async () => {
    const contact = await aContact(rep);
    await rep.ok('sendText', { body: aText(contact) });
    await afterGrace();
    await told({ kind: 'text-failed', textId: `gw-${sent[0]!.key}`, said: 'unknown subscriber' });
    expect((await textsOf(contact))[0]).toMatchObject({ state: 'failed', said: 'unknown subscriber' });
    const { notifications } = await rep.ok('listNotifications');
    expect(notifications[0]!.words).toContain('did not arrive');
  });

  test('has no way without a number', async () => {
    const contact = await aContact(rep, { phone: null });
    const refused = await rep.call('sendText', { body: aText(contact) });
    expect(refused.body).toMatchObject({ code: 'nothing-to-reach-on' });
  });

  test('that comes in is in the journal, a stirring, and told to the owner', async () => {
    const contact = await aContact(rep);
    await told({ kind: 'text-in', from: contact.phone, body: 'Thursday is fine' });
    expect((await textsOf(contact))[0]).toMatchObject({ direction: 'in', body: 'Thursday is fine' });
    expect(await stirringsOf()).toEqual([expect.objectContaining({ kind: 'text-in' })]);
    expect((await journalOf(rep, { contactId: contact.id }))[0]).toMatchObject({ kind: 'text' });
  });

  test('from a number nobody has is filed by hand, and the number is known from then on', async () => {
    const contact = await aContact(rep);
    const from = '+441632960999';
    await told({ kind: 'text-in', from, body: 'This is my new number' });
    const [unknown] = await stirringsOf();
    expect(unknown).toMatchObject({ kind: 'text-in', contactId: null });
    const body = { version: unknown!.version, contactId: contact.id };
    const filed = await rep.ok('fileStirring', { params: { id: unknown!.id }, body });
    expect(filed).toMatchObject({ contactId: contact.id });
    expect((await journalOf(rep, { contactId: contact.id }))[0]).toMatchObject({
      body: 'This is my new number',
    });
    expect((await rep.call('fileStirring', { params: { id: unknown!.id }, body })).body).toMatchObject({
      code: 'already-done',
    });
    await told({ kind: 'text-in', from, body: 'And again' });
    expect((await textsOf(contact)).map((text) => text.body).sort()).toEqual([
      'And again',
      'This is my new number',
    ]);
  });

  test('“stop” ends texts to them', async () => {
    const contact = await aContact(rep);
    await told({ kind: 'text-in', from: contact.phone, body: ' Stop. ' });
    const refused = await rep.call('sendText', { body: aText(contact) });
    expect(refused.body).toMatchObject({ code: 'not-to-be-contacted' });
  });

  test('longer than a gateway takes is refused, with what to do', async () => {
    const refused = await rep.call('sendText', {
      body: aText(await aContact(rep), { body: 'x'.repeat(601) }),
    });
    expect(refused.body.fields).toEqual([{ path: 'body', message: 'a text has at most 600 characters' }]);
  });
});

describe('what the gateways tell', () => {
  test.each([
    ['with a signature that does not fit', { kind: 'call-in', from: '+44' }, 'ab'.repeat(32), 403],
    ['of a kind nobody knows', { kind: 'text-eaten' }, undefined, 400],
    ['of a call nobody made', { kind: 'call-ringing', callId: v4() }, undefined, 200],
  ])('%s', async (_, event, signature, status) => {
    expect((await told(event, signature)).status).toBe(status);
    expect(await stirringsOf()).toEqual([]);
  });
});

test('without gateways it says what is missing', async () => {
  const bare = await install();
  const caller = await bare.as('rep');
  const contact = await aContact(caller);
  const call = await caller.call('dial', {
    body: { id: v4(), contactId: contact.id, number: '+441632960123' },
  });
  expect(call.body).toMatchObject({ code: 'not-set-up' });
  expect((await caller.call('sendText', { body: aText(contact) })).body).toMatchObject({
    code: 'not-set-up',
  });
  await bare.close();
});
