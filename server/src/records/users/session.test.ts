import { randomUUID } from 'node:crypto';
import request from 'supertest';
import { install, password, type Installation } from '../../../testing/installation';
import { addFirstAdmin } from './users';

let installation: Installation;
beforeEach(async () => {
  installation = await install();
});
afterEach(() => installation.close());

const admin = {
  name: 'Petra Lund',
  email: 'Petra@Hollinbeck.example',
  password,
  zone: 'Europe/London',
  country: 'GB',
};

describe('the first admin', () => {
  test('is made once, and comes in signed in', async () => {
    expect((await installation.nobody('doorstep')).body).toMatchObject({ needsAdmin: true });
    const made = await installation.nobody('createFirstAdmin', { body: admin });
    expect(made.body).toMatchObject({
      person: { role: 'admin', email: 'petra@hollinbeck.example' },
      currency: 'GBP',
    });
    expect(made.get('Set-Cookie')?.[0]).toMatch(/kettle_session=[\w-]{43}; .*HttpOnly; SameSite=Strict/);
    const again = await installation.nobody('createFirstAdmin', { body: admin });
    expect(again.body).toMatchObject({ code: 'already-set-up', status: 409 });
  });

  test('is one when two come at once', async () => {
    const tries = await Promise.allSettled(
      [1, 2, 3, 4].map((n) => addFirstAdmin(installation.services, { ...admin, email: `p${n}@x.example` })),
    );
    expect(tries.filter((each) => each.status === 'fulfilled')).toHaveLength(1);
    expect(await installation.services.database.rows('SELECT id FROM app_user')).toHaveLength(1);
  });

  test('needs a long password, and is told so at the field', async () => {
    const refused = await installation.nobody('createFirstAdmin', { body: { ...admin, password: 'short' } });
    expect(refused.body).toMatchObject({
      code: 'invalid-request',
      fields: [{ path: 'password', message: expect.stringContaining('at least 12') }],
    });
  });
});

describe('signing in', () => {
  test('keeps only a hash of token and password', async () => {
    await installation.nobody('createFirstAdmin', { body: admin });
    const signedIn = await installation.nobody('signIn', {
      body: { email: 'PETRA@hollinbeck.example', password },
    });
    const token = /kettle_session=([^;]+)/.exec(signedIn.get('Set-Cookie')?.[0] ?? '')![1]!;
    const [user] = await installation.services.database.rows<{ password_hash: string }>(
      'SELECT password_hash FROM app_user',
    );
    expect(user!.password_hash).toMatch(/^\$argon2id\$/);
    const sessions = await installation.services.database.rows<{ token_hash: Buffer }>(
      'SELECT token_hash FROM session',
    );
    expect(sessions.every((each) => !each.token_hash.includes(token))).toBe(true);
  });

  test('a wrong password and an unknown address are answered alike', async () => {
    await installation.nobody('createFirstAdmin', { body: admin });
    const wrong = await installation.nobody('signIn', {
      body: { email: admin.email, password: 'not the password' },
    });
    const unknown = await installation.nobody('signIn', { body: { email: 'nobody@x.example', password } });
    expect([wrong.status, wrong.body.detail]).toEqual([401, unknown.body.detail]);
  });

  test('is limited, also over two servers, and says how long to wait', async () => {
    const sign = () =>
      installation.nobody('signIn', { body: { email: 'petra@x.example', password: 'wrong' } });
    const codes: string[] = [];
    for (let n = 0; n < 12; n += 1) codes.push((await sign()).body.code as string);
    expect(codes.slice(0, 10)).toEqual(Array(10).fill('wrong-sign-in'));
    expect(codes.slice(10)).toEqual(['too-many-tries', 'too-many-tries']);
    expect((await sign()).body.detail).toMatch(/Wait \d+ seconds/);
  });

  test('a session ends with its time, and by signing out', async () => {
    const rep = await installation.as('rep');
    await rep.ok('session');
    installation.clock.set('2026-12-24T09:00:00.000Z');
    expect((await rep.call('session')).status).toBe(401);
    const other = await installation.as('rep');
    await other.ok('signOut');
    expect((await other.call('session')).body).toMatchObject({ code: 'not-signed-in', status: 401 });
  });
});

describe('the door to every change', () => {
  test('a change from another site is refused before anything is read', async () => {
    const foreign = await request(installation.app)
      .post('/api/session')
      .set('Origin', 'http://elsewhere.example')
      .send({ email: 'a@b.example', password });
    expect(foreign.body).toMatchObject({ status: 403, code: 'foreign-origin' });
    expect((await request(installation.app).post('/api/session').send({})).status).toBe(403);
  });

  test('a strict policy is sent with everything', async () => {
    const { headers } = await request(installation.app).get('/api/health');
    expect(headers['content-security-policy']).toContain("default-src 'none'");
    expect(headers['content-security-policy']).toMatch(/script-src 'self';/);
    expect(headers['x-content-type-options']).toBe('nosniff');
    expect(headers['x-powered-by']).toBeUndefined();
  });
});

describe('my hours', () => {
  const hours = { weekdays: [1, 2, 3], start: 480, end: 960 };
  test('are changed over the version they were seen at; the same field meets what was changed since; undone', async () => {
    const rep = await installation.as('rep');
    const changeId = randomUUID();
    const body = { version: 1, zone: 'Europe/Dublin', country: 'IE', hours };
    expect((await rep.call('changeMyHours', { changeId, body })).body).toMatchObject({
      version: 2,
      hours,
      country: 'IE',
    });
    const stale = await rep.call('changeMyHours', {
      body: { version: 1, zone: 'Europe/Paris', country: 'IE', hours },
    });
    expect(stale.body).toMatchObject({
      status: 409,
      code: 'stale',
      current: { version: 2, zone: 'Europe/Dublin' },
      fields: [{ path: 'zone' }],
    });
    // Their holidays come with their country (the bank holidays of Ireland, citizensinformation.ie).
    expect((await rep.ok('session')).holidays).toMatchObject({
      '2027-03-17': expect.stringContaining('Patrick'),
    });
    await rep.ok('undoChange', { params: { id: changeId } });
    expect((await rep.ok('session')).person).toMatchObject({ zone: 'Europe/London', country: 'GB' });
  });

  test.each([
    [{ zone: 'Mars/Olympus' }, 'zone'],
    [{ country: 'Mars' }, 'country'],
    [{ hours: { ...hours, end: 400 } }, 'hours.end'],
    [{ hours: { ...hours, weekdays: [] } }, 'hours.weekdays'],
  ])('%j is refused at its field', async (part, field) => {
    const rep = await installation.as('rep');
    const refused = await rep.call('changeMyHours', {
      body: { version: 1, zone: 'Europe/London', country: 'GB', hours, ...part },
    });
    expect((refused.body.fields as { path: string }[]).map((each) => each.path)).toEqual([field]);
  });
});
