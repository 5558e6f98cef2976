import type { EndpointName, KeyScope } from '@kettle/contract';
import { endpoints, keyScopes, keyUsesPerHour, mostKeys, placeOf, routes } from '@kettle/contract';
import request from 'supertest';
import { aMailServer, type MailServer } from '../../../testing/mail-server';
import { install, password, type Caller, type Installation } from '../../../testing/installation';
import { aContact } from '../../../testing/people';
import { smtpOut } from '../mail/index';

let mail: MailServer;
let installation: Installation;
let rep: Caller;
let other: Caller;
let admin: Caller;
beforeAll(async () => {
  mail = await aMailServer();
  installation = await install({ mailOut: smtpOut(mail.url) });
  rep = await installation.as('rep', 'Imogen Thorne');
  other = await installation.as('rep', 'Owen Marsh');
  admin = await installation.as('admin', 'Petra Lindholm');
});
afterAll(async () => {
  await installation.close();
  await mail.close();
});
beforeEach(async () => {
  installation.clock.set('2026-11-24T09:10:00.000Z');
  for (const who of [rep, other, admin])
    for (const { id, state } of (await who.ok('apiKeys')).keys)
      if (state !== 'withdrawn') await who.call('withdrawApiKey', { params: { id } });
  await installation.services.database.change('DELETE FROM rate_limit');
});

const body = (scopes: readonly KeyScope[], part: object = {}) => ({
  ...{ name: 'Stock room', scopes, lastOn: null, password },
  ...part,
});
const make = (scopes: readonly KeyScope[], part: object = {}, who = rep) =>
  who.ok('makeApiKey', { body: body(scopes, part) });
/** As a program asks: no cookie, no Origin. */
function ask(token: string, name: EndpointName, parts: { id?: string; body?: object; query?: object } = {}) {
  const [method, route] = endpoints[name].split(' ') as [string, string];
  const path = route.replace(/:\w+/g, parts.id ?? '01938f6c-0000-7000-8000-0000000000ff');
  const program = request(installation.app);
  const verb = method.toLowerCase() as 'get';
  const sent = program[verb](path).set('Authorization', `Bearer ${token}`);
  if (parts.query) sent.query(parts.query);
  return parts.body ? sent.send(parts.body) : sent;
}
const hale = { givenName: 'Wren', familyName: 'Hale', country: 'GB' };
const codeOf = async (sent: ReturnType<typeof ask>) => {
  const { status, body: reply } = await sent;
  return [status, reply.code ?? null];
};

test('a key asks in its owner’s name, without a cookie and without an Origin', async () => {
  const { key, token } = await make(['people:write']);
  expect(token).toMatch(/^kettle_[\w-]{43}$/);
  expect([key.start, key.state, key.usedAt]).toEqual([token.slice(0, 11), 'counts', null]);
  const person = await aContact(rep);
  const read = await ask(token, 'getContact', { id: person.id });
  expect([read.status, read.body.id]).toEqual([200, person.id]);
  const made = await ask(token, 'createContact', { body: hale });
  expect(made.status).toBe(200);
  expect(made.body.ownerId).toBe(rep.id);
  const me = await ask(token, 'session');
  expect(me.body.person.id).toBe(rep.id);
  expect((await rep.ok('apiKeys')).keys[0]!.usedAt).toBe('2026-11-24T09:10:00.000Z');
});

test('it opens what its scopes say, to read or to change, and names what is missing', async () => {
  const person = await aContact(rep);
  const { token } = await make(['people:read', 'deals:write']);
  expect(await codeOf(ask(token, 'getContact', { id: person.id }))).toEqual([200, null]);
  const refused = await ask(token, 'createContact', { body: hale });
  expect([refused.status, refused.body.code]).toEqual([403, 'key-not-enough']);
  expect(refused.body.detail).toContain('it needs “People and companies: read and change”');
  expect(await codeOf(ask(token, 'listPipelines'))).toEqual([200, null]);
  expect(await codeOf(ask(token, 'readHome'))).toEqual([403, 'key-not-enough']);
});

test('whatever it asks for, no key opens accounts, keys, web hooks, exports of a person or the stream', async () => {
  const { token } = await make(keyScopes, {}, admin);
  const never = (Object.keys(endpoints) as EndpointName[]).filter((name) => placeOf(name) === 'never');
  expect(never).toEqual(
    expect.arrayContaining(['makeApiKey', 'addHook', 'invitePerson', 'changePassword', 'erasePerson']),
  );
  for (const name of never)
    if (!('withoutSession' in routes[name]))
      expect([name, ...(await codeOf(ask(token, name)))]).toEqual([name, 403, 'key-not-here']);
});

test('every request of the contract has its place', () => {
  const places = new Set((Object.keys(endpoints) as EndpointName[]).map(placeOf));
  expect([...places].sort()).toEqual(
    ['calendar', 'data', 'deals', 'journal', 'mail', 'never', 'open', 'people', 'settings', 'work'].sort(),
  );
});

test('it reaches no further than its owner: another’s record stays closed, an admin’s request refused', async () => {
  const theirs = await aContact(other);
  const { token } = await make(keyScopes);
  const mine = await rep.call('changeContact', { params: { id: theirs.id }, body: {} });
  const byKey = await ask(token, 'changeContact', { id: theirs.id, body: {} });
  expect([byKey.status, byKey.body.code]).toEqual([mine.status, mine.body.code]);
  expect(await codeOf(ask(token, 'changeOrganisationSettings', { body: {} }))).toEqual([403, 'not-allowed']);
});

test('a key that is wrong, withdrawn, over, or whose owner has left opens nothing, whatever cookie comes with it', async () => {
  const { key, token } = await make(['people:read'], { lastOn: '2026-11-30' });
  const wrong = await ask('kettle_nothing', 'session');
  expect([wrong.status, wrong.body.code, wrong.headers['www-authenticate']]).toEqual([
    401,
    'key-not-valid',
    'Bearer error="invalid_token"',
  ]);
  expect(await codeOf(ask('', 'session'))).toEqual([401, 'key-not-valid']);
  installation.clock.set('2026-11-30T23:00:00.000Z');
  expect(await codeOf(ask(token, 'session'))).toEqual([200, null]);
  installation.clock.set('2026-12-01T00:00:00.000Z');
  expect(await codeOf(ask(token, 'session'))).toEqual([401, 'key-not-valid']);
  expect((await rep.ok('apiKeys')).keys.find(({ id }) => id === key.id)!.state).toBe('over');
  installation.clock.set('2026-11-24T09:20:00.000Z');
  await rep.ok('withdrawApiKey', { params: { id: key.id } });
  expect(await codeOf(ask(token, 'session'))).toEqual([401, 'key-not-valid']);
  const leaver = await installation.as('rep', 'Mina Osei');
  const { token: theirs } = await make(['people:read'], {}, leaver);
  expect(await codeOf(ask(theirs, 'session'))).toEqual([200, null]);
  await installation.services.database.change(
    'UPDATE app_user SET deactivated_at = NOW(3) WHERE id = UNHEX(:id)',
    {
      id: leaver.id.replaceAll('-', ''),
    },
  );
  expect(await codeOf(ask(theirs, 'session'))).toEqual([401, 'key-not-valid']);
});

test('only a hash of it is kept, and nothing of it in what is kept of the change', async () => {
  const { token } = await make(['people:read'], { name: 'Ledger' });
  const tail = token.slice(11);
  const { rows } = installation.services.database;
  for (const [table, columns] of [
    ['api_key', "CONCAT_WS(' ', name, HEX(token_hash), token_start, scopes)"],
    ['change_set', "CONCAT_WS(' ', words, result)"],
    ['security_event', 'data'],
  ] as const) {
    const found = await rows<{ text: string }>(`SELECT ${columns} AS text FROM ${table}`);
    expect(found.length).toBeGreaterThan(0);
    expect(found.filter(({ text }) => text.includes(tail) || text.includes(password))).toEqual([]);
  }
});

test('asked for again because no answer came, it is one key; what it was called before opens nothing', async () => {
  const changeId = '01938f6c-0000-7000-8000-0000000000ba';
  const asked = { body: body(['people:read'], { name: 'Twice' }), changeId };
  const [first, second] = [await rep.ok('makeApiKey', asked), await rep.ok('makeApiKey', asked)];
  expect(second.key.id).toBe(first.key.id);
  expect((await rep.ok('apiKeys')).keys.filter(({ name }) => name === 'Twice')).toHaveLength(1);
  expect(await codeOf(ask(first.token, 'session'))).toEqual([401, 'key-not-valid']);
  expect(await codeOf(ask(second.token, 'session'))).toEqual([200, null]);
});

test('nobody makes one without their password, without a name or a scope, or that is over already', async () => {
  const refused = async (part: object) => {
    const { status, body: reply } = await rep.call('makeApiKey', { body: body(['people:read'], part) });
    return [status, reply.code, reply.fields?.[0]?.path ?? null];
  };
  expect(await refused({ password: 'a guess at it' })).toEqual([403, 'wrong-password', null]);
  expect(await refused({ name: ' ' })).toEqual([400, 'invalid-request', 'name']);
  expect(await refused({ scopes: [] })).toEqual([400, 'invalid-request', 'scopes']);
  expect(await refused({ scopes: ['everything'] })).toEqual([400, 'invalid-request', 'scopes.0']);
  expect(await refused({ lastOn: '2026-11-23' })).toEqual([400, 'invalid-request', 'lastOn']);
  expect((await rep.ok('apiKeys')).keys.filter(({ state }) => state === 'counts')).toEqual([]);
});

test('whoever may change may read: one scope of the two is kept', async () => {
  const { key } = await make(['mail:read', 'mail:write', 'work:read']);
  expect(key.scopes).toEqual(['work:read', 'mail:write']);
});

test('each sees their own keys; an admin sees and withdraws all, and nobody else another’s', async () => {
  const { key } = await make(['people:read']);
  expect((await other.ok('apiKeys')).keys.filter(({ userId }) => userId !== other.id)).toEqual([]);
  expect((await other.call('withdrawApiKey', { params: { id: key.id } })).status).toBe(404);
  const seen = (await admin.ok('apiKeys')).keys.find(({ id }) => id === key.id);
  expect(seen).toMatchObject({ owner: 'Imogen Thorne', state: 'counts' });
  const gone = await admin.ok('withdrawApiKey', { params: { id: key.id } });
  expect(gone.state).toBe('withdrawn');
  const { events } = await admin.ok('listSecurityEvents', { query: { kind: 'key-withdrawn' } });
  expect(events).toContainEqual(expect.objectContaining({ who: 'Petra Lindholm', about: 'Imogen Thorne' }));
});

test('its owner is told by mail that it was made', async () => {
  await make(['people:read']);
  await installation.work();
  expect(mail.got.some(({ text }) => text?.includes('an API key was made'))).toBe(true);
});

test('there is an end to how many, and to how often one asks', async () => {
  for (let n = 0; n < mostKeys; n += 1) {
    await installation.services.database.change('DELETE FROM rate_limit');
    await make(['people:read']);
  }
  await installation.services.database.change('DELETE FROM rate_limit');
  const refused = await rep.call('makeApiKey', { body: body(['people:read']) });
  expect([refused.status, refused.body.code]).toEqual([409, 'too-many-keys']);
  const [{ id } = { id: '' }] = (await rep.ok('apiKeys')).keys;
  await rep.ok('withdrawApiKey', { params: { id } });
  const { token } = await make(['people:read']);
  expect(await codeOf(ask(token, 'session'))).toEqual([200, null]);
  await installation.services.database.change(
    "UPDATE rate_limit SET points = :points WHERE `key` LIKE 'api-key%'",
    { points: keyUsesPerHour },
  );
  expect(await codeOf(ask(token, 'session'))).toEqual([429, 'too-many-tries']);
});
