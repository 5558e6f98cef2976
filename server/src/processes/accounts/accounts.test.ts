import { randomUUID } from 'node:crypto';
import type { Account, NewSecondFactor } from '@kettle/contract';
import { Secret, TOTP } from 'otpauth';
import request from 'supertest';
import { aMailServer, type MailServer } from '../../../testing/mail-server';
import { install, password, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, aLead } from '../../../testing/people';
import { bytesOf } from '../../platform/ids';
import { smtpOut } from '../mail/index';

let mail: MailServer;
let installation: Installation;
let admin: Caller;
beforeAll(async () => {
  mail = await aMailServer();
});
afterAll(() => mail.close());
beforeEach(async () => {
  mail.got.length = 0;
  mail.behave('accept');
  installation = await install({ mailOut: smtpOut(mail.url) });
  admin = await installation.as('admin', 'Ada Quick');
});
afterEach(() => installation.close());

const invitation = {
  name: 'Rufus Dale',
  email: 'Rufus@Hollinbeck.example',
  role: 'rep',
  zone: 'Europe/London',
  country: 'GB',
};
const chosen = 'three grey herons at dawn';
const tokenIn = (text: string) => /\/account#([\w-]{43})\b/.exec(text)![1]!;
const choose = (token: string, words = chosen) =>
  installation.nobody('choosePassword', { body: { token, password: words } });
const sign = (email: string, words: string, code?: string) =>
  installation.nobody('signIn', {
    body: { email, password: words, ...(code === undefined ? {} : { code }) },
  });
const cookieOf = (response: request.Response) => (response.get('Set-Cookie') ?? [''])[0]!.split(';')[0]!;
const withCookie = (cookie: string, path: string) =>
  request(installation.app).get(path).set('Cookie', cookie);
const accountOf = async (id: string): Promise<Account> =>
  (await admin.ok('listAccounts')).accounts.find((each) => each.id === id)!;
const emailOf = async (caller: Caller) => (await accountOf(caller.id)).email;

describe('an invitation', () => {
  test('is mailed, chooses a password once, and signs in with it', async () => {
    const { account, sentTo, link } = await admin.ok('invitePerson', { body: invitation });
    expect([account.state, sentTo, link]).toEqual(['invited', 'rufus@hollinbeck.example', null]);
    expect(mail.got[0]!.subject).toBe('Your account for Ash Kettle');
    const token = tokenIn(mail.got[0]!.text!);
    const read = await installation.nobody('readLink', { body: { token } });
    expect(read.body).toEqual({
      name: 'Rufus Dale',
      email: 'rufus@hollinbeck.example',
      purpose: 'invitation',
    });
    expect((await choose(token)).status).toBe(200);
    expect((await choose(token)).body).toMatchObject({ code: 'link-over', status: 410 });
    expect((await sign(invitation.email, chosen)).status).toBe(200);
    expect((await accountOf(account.id)).state).toBe('active');
  });

  test('is handed on by the admin where no mail leaves', async () => {
    mail.behave('refuse');
    const { sentTo, link } = await admin.ok('invitePerson', { body: invitation });
    expect(sentTo).toBeNull();
    expect((await choose(tokenIn(link!))).status).toBe(200);
  });

  test('is over after its time, and when another was sent', async () => {
    const { account } = await admin.ok('invitePerson', { body: invitation });
    await admin.ok('sendLink', { params: { id: account.id } });
    const [first, second] = mail.got.map(({ text }) => tokenIn(text!));
    expect((await choose(first!)).body.code).toBe('link-over');
    installation.clock.set('2026-12-01T09:11:00.000Z');
    expect((await choose(second!)).body.code).toBe('link-over');
  });

  test('lets nobody in before: no password fits an account that has none', async () => {
    await admin.ok('invitePerson', { body: invitation });
    expect((await sign(invitation.email, password)).body.code).toBe('wrong-sign-in');
  });

  test('of an address that is used is refused, and nothing is mailed', async () => {
    const rep = await installation.as('rep');
    const refused = await admin.call('invitePerson', {
      body: { ...invitation, email: await emailOf(rep) },
    });
    expect(refused.body.code).toBe('already-exists');
    expect(mail.got).toEqual([]);
  });
});

describe('a new password', () => {
  test.each([
    ['password1234', 'most used'],
    ['aaaaaaaaaaaaaaaa', 'again and again'],
    ['Rufus-Dale-2026!', 'little more than your name'],
    ['AshKettle Kettle 12', 'little more than your name'],
    ['short', 'at least 12'],
  ])('%s is refused at its field', async (weak, why) => {
    await admin.ok('invitePerson', { body: invitation });
    const refused = await choose(tokenIn(mail.got[0]!.text!), weak);
    expect(refused.body).toMatchObject({
      code: 'invalid-request',
      fields: [{ path: 'password', message: expect.stringContaining(why) }],
    });
  });

  test('is changed with the old one, and signs out every other browser', async () => {
    const rep = await installation.as('rep');
    const email = await emailOf(rep);
    const elsewhere = cookieOf(await sign(email, password));
    const wrong = await rep.call('changePassword', { body: { current: 'not mine', password: chosen } });
    expect(wrong.body.code).toBe('wrong-password');
    await rep.ok('changePassword', { body: { current: password, password: chosen } });
    expect((await withCookie(elsewhere, '/api/session')).status).toBe(401);
    await rep.ok('session');
    expect((await sign(email, password)).status).toBe(401);
    expect((await sign(email, chosen)).status).toBe(200);
  });

  test('is asked for by whoever forgot theirs; who has no account is answered alike and mailed nothing', async () => {
    const rep = await installation.as('rep');
    const email = await emailOf(rep);
    for (const each of [email, 'nobody@hollinbeck.example'])
      expect((await installation.nobody('forgotPassword', { body: { email: each } })).body).toEqual({
        ok: true,
      });
    await expectMails(1);
    expect(mail.got[0]!.to).toMatchObject({ text: email });
    await choose(tokenIn(mail.got[0]!.text!));
    expect((await rep.call('session')).status).toBe(401);
    expect((await sign(email, chosen)).status).toBe(200);
  });

  test('is asked for so often and no more', async () => {
    const ask = () => installation.nobody('forgotPassword', { body: { email: 'x@hollinbeck.example' } });
    const codes = [];
    for (let n = 0; n < 6; n += 1) codes.push((await ask()).status);
    expect(codes).toEqual([200, 200, 200, 200, 200, 429]);
  });
});

/** A mail that leaves after the answer. */
async function expectMails(count: number): Promise<void> {
  for (let n = 0; n < 200 && mail.got.length < count; n += 1)
    await new Promise((resolve) => setTimeout(resolve, 10));
  expect(mail.got).toHaveLength(count);
}

describe('a second factor', () => {
  // The real time is what an authenticator app goes by; it stands still, so that no test crosses from one code to the next.
  beforeEach(() => {
    const at = Date.now();
    jest.spyOn(Date, 'now').mockReturnValue(at);
  });
  afterEach(() => jest.restoreAllMocks());

  const codeFor = ({ secret }: NewSecondFactor, offsetSeconds = 0) =>
    new TOTP({ secret: Secret.fromBase32(secret.replaceAll(' ', '')) }).generate({
      timestamp: Date.now() + offsetSeconds * 1000,
    });
  const setUp = async (caller: Caller) => {
    const made = await caller.ok('beginSecondFactor');
    const { codes } = await caller.ok('proveSecondFactor', { body: { code: codeFor(made) } });
    return { made, codes };
  };

  test('counts once it is proven: then a password alone does not sign in, a code does, once', async () => {
    const rep = await installation.as('rep');
    const email = await emailOf(rep);
    const made = await rep.ok('beginSecondFactor');
    expect(made.picture).toContain('<svg');
    expect((await sign(email, password)).status).toBe(200);
    const wrong = await rep.call('proveSecondFactor', { body: { code: '000000' } });
    expect(wrong.body).toMatchObject({ code: 'wrong-code', fields: [{ path: 'code' }] });
    const { codes } = await rep.ok('proveSecondFactor', { body: { code: codeFor(made) } });
    expect(new Set(codes).size).toBe(10);
    expect((await sign(email, password)).body.code).toBe('code-needed');
    // The code that proved it was used; the next one's time is within the window.
    expect((await sign(email, password, codeFor(made))).body.code).toBe('wrong-code');
    const next = codeFor(made, 30);
    expect((await sign(email, password, `${next.slice(0, 3)} ${next.slice(3)}`)).status).toBe(200);
    expect((await sign(email, password, next)).body.code).toBe('wrong-code');
    expect(await accountOf(rep.id)).toMatchObject({ hasSecondFactor: true });
  });

  test('a recovery code signs in once, in any spelling; new ones replace all', async () => {
    const rep = await installation.as('rep');
    const email = await emailOf(rep);
    const { codes } = await setUp(rep);
    const first = codes[0]!.toLowerCase().replace('-', ' ');
    expect((await sign(email, password, first)).status).toBe(200);
    expect((await sign(email, password, first)).body.code).toBe('wrong-code');
    expect(await rep.ok('myAccount')).toMatchObject({ secondFactor: 'on', recoveryCodesLeft: 9 });
    await rep.ok('newRecoveryCodes', { body: { password } });
    expect((await sign(email, password, codes[1]!)).body.code).toBe('wrong-code');
  });

  test('the secret is sealed and recovery codes are hashed in the database', async () => {
    const rep = await installation.as('rep');
    const { made, codes } = await setUp(rep);
    const [row] = await installation.services.database.rows<{ secret: Buffer }>(
      'SELECT secret FROM second_factor',
    );
    const plain = Buffer.from(Secret.fromBase32(made.secret.replaceAll(' ', '')).bytes);
    expect(row!.secret.includes(plain)).toBe(false);
    const hashes = await installation.services.database.rows<{ code_hash: Buffer }>(
      'SELECT code_hash FROM recovery_code',
    );
    expect(hashes.some(({ code_hash }) => code_hash.includes(codes[0]!.replace('-', '')))).toBe(false);
  });

  test('where the role needs it nothing else can be done before; afterwards it cannot be ended', async () => {
    const rep = await installation.as('rep');
    await admin.ok('changeAccountsSettings', {
      body: { version: 1, idleHours: 12, absoluteDays: 14, secondFactorFrom: 'rep' },
    });
    expect((await rep.call('listContacts')).body).toMatchObject({
      status: 403,
      code: 'second-factor-needed',
    });
    expect((await rep.ok('session')).needsSecondFactor).toBe(true);
    await setUp(rep);
    await rep.ok('listContacts');
    expect((await rep.call('endSecondFactor', { body: { password } })).body.code).toBe(
      'second-factor-needed',
    );
  });

  test('is ended with the password, and taken away by an admin when it was lost', async () => {
    const rep = await installation.as('rep');
    const email = await emailOf(rep);
    await setUp(rep);
    expect((await rep.call('endSecondFactor', { body: { password: 'x' } })).body.code).toBe('wrong-password');
    await rep.ok('endSecondFactor', { body: { password } });
    expect((await sign(email, password)).status).toBe(200);
    await setUp(rep);
    await admin.ok('resetSecondFactor', { params: { id: rep.id } });
    expect((await sign(email, password)).status).toBe(200);
  });

  test('that is proven is not replaced unseen', async () => {
    const rep = await installation.as('rep');
    await setUp(rep);
    expect((await rep.call('beginSecondFactor')).body.code).toBe('already-done');
  });
});

describe('my sessions', () => {
  test('are listed with their browser, and ended one by one or all but this', async () => {
    const rep = await installation.as('rep');
    const email = await emailOf(rep);
    const agent = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0';
    const enter = async () =>
      cookieOf(
        await request(installation.app)
          .post('/api/session')
          .set('Origin', 'http://kettle.test')
          .set('User-Agent', agent)
          .send({ email, password }),
      );
    const [one, two] = [await enter(), await enter()];
    const { sessions } = await rep.ok('myAccount');
    expect(sessions).toHaveLength(3);
    expect(sessions.filter(({ isThis }) => isThis)).toHaveLength(1);
    const other = sessions.find(({ isThis }) => !isThis)!;
    expect(other.device).toBe('Firefox on Linux');
    await rep.ok('endSession', { params: { id: other.id } });
    expect(
      [(await withCookie(one, '/api/session')).status, (await withCookie(two, '/api/session')).status].sort(),
    ).toEqual([200, 401]);
    await rep.ok('endOtherSessions');
    expect((await withCookie(two, '/api/session')).status).toBe(401);
    expect((await withCookie(one, '/api/session')).status).toBe(401);
    await rep.ok('session');
  });

  test('another’s session is not there', async () => {
    const [rep, other] = [await installation.as('rep'), await installation.as('rep')];
    const { sessions } = await other.ok('myAccount');
    expect((await rep.call('endSession', { params: { id: sessions[0]!.id } })).status).toBe(404);
    await other.ok('session');
  });

  test('end when nobody used them for twelve hours, and at the latest after fourteen days', async () => {
    const rep = await installation.as('rep');
    const email = await emailOf(rep);
    const enter = async () => cookieOf(await sign(email, password));
    const statusAt = async (cookie: string, at: string) => {
      installation.clock.set(at);
      return (await withCookie(cookie, '/api/session')).status;
    };
    const left = await enter();
    expect(await statusAt(left, '2026-11-24T21:00:00.000Z')).toBe(200);
    expect(await statusAt(left, '2026-11-25T09:05:00.000Z')).toBe(401);
    const kept = await enter();
    for (let hours = 10; hours <= 14 * 24 - 6; hours += 10) {
      const at = new Date(Date.parse('2026-11-25T09:05:00.000Z') + hours * 3_600_000).toISOString();
      expect([at, await statusAt(kept, at)]).toEqual([at, 200]);
    }
    expect(await statusAt(kept, '2026-12-09T09:00:00.000Z')).toBe(200);
    expect(await statusAt(kept, '2026-12-09T09:06:00.000Z')).toBe(401);
  });
});

describe('an account', () => {
  const change = (id: string, account: Account, part: object, changeId: string = randomUUID()) =>
    admin.call('changeAccount', {
      params: { id },
      changeId,
      body: {
        version: account.version,
        name: account.name,
        role: account.role,
        managerId: account.managerId,
        ...part,
      },
    });

  test('gets another role at once, undone as any change', async () => {
    const rep = await installation.as('rep');
    const changeId = randomUUID();
    expect((await change(rep.id, await accountOf(rep.id), { role: 'manager' }, changeId)).body).toMatchObject(
      {
        role: 'manager',
      },
    );
    await rep.ok('listAccounts');
    await admin.ok('undoChange', { params: { id: changeId } });
    expect((await rep.call('listAccounts')).body.code).toBe('not-allowed');
  });

  test('that lost its role cannot take it back by undoing, nor can anybody below the role the change needs', async () => {
    const other = await installation.as('admin');
    const changeId = randomUUID();
    expect((await change(other.id, await accountOf(other.id), { role: 'manager' }, changeId)).status).toBe(
      200,
    );
    const undo = (by: Caller, id: string) => by.call('undoChange', { params: { id } });
    expect((await undo(other, changeId)).body.code).toBe('not-allowed');
    expect((await accountOf(other.id)).role).toBe('manager');
    const undoId = randomUUID();
    await admin.ok('undoChange', { params: { id: changeId }, changeId: undoId });
    const manager = await installation.as('manager');
    expect((await undo(manager, undoId)).body.code).toBe('not-allowed');
    expect((await accountOf(other.id)).role).toBe('admin');
  });

  test('of the last admin stays an admin’s', async () => {
    expect((await change(admin.id, await accountOf(admin.id), { role: 'rep' })).body.code).toBe('last-admin');
  });

  test('has a manager who leads others, never in a circle', async () => {
    const [rep, middle, top] = [
      await installation.as('rep'),
      await installation.as('manager'),
      await installation.as('manager'),
    ];
    const lead = async (id: string, managerId: string) => change(id, await accountOf(id), { managerId });
    expect((await lead(middle.id, rep.id)).body.fields).toEqual([
      { path: 'managerId', message: 'is a rep; only managers and admins lead others' },
    ]);
    expect((await lead(rep.id, middle.id)).status).toBe(200);
    expect((await lead(middle.id, top.id)).status).toBe(200);
    expect((await lead(top.id, middle.id)).body.fields[0].message).toContain('circle');
    expect((await accountOf(rep.id)).managerName).toBe((await accountOf(middle.id)).name);
  });

  test('changed by two admins keeps what each changed', async () => {
    const rep = await installation.as('rep');
    const seen = await accountOf(rep.id);
    await change(rep.id, seen, { role: 'manager' });
    expect((await change(rep.id, seen, { name: 'Rhea Dale' })).body).toMatchObject({
      name: 'Rhea Dale',
      role: 'manager',
    });
  });
});

describe('whoever leaves', () => {
  test('is signed out everywhere, hands over what they own, and stays in what they did', async () => {
    const [leaver, heir] = [await installation.as('rep', 'Lena Marsh'), await installation.as('rep')];
    const email = await emailOf(leaver);
    const contact = await aContact(leaver);
    const deal = await aDeal(leaver, contact.id);
    await aLead(leaver);
    expect(await admin.ok('readOwned', { params: { id: leaver.id } })).toMatchObject({
      contacts: 2,
      deals: 1,
      leads: 1,
      tasks: 1,
    });
    const alone = await admin.call('deactivate', { params: { id: leaver.id }, body: { handOverTo: null } });
    expect(alone.body).toMatchObject({
      code: 'hand-over-needed',
      detail: 'Lena Marsh has 1 open deals, 1 open tasks. Choose who gets them.',
    });
    const changeId = randomUUID();
    await admin.ok('deactivate', { changeId, params: { id: leaver.id }, body: { handOverTo: heir.id } });
    expect((await leaver.call('session')).status).toBe(401);
    expect((await sign(email, password)).body.code).toBe('wrong-sign-in');
    expect(await admin.ok('getDeal', { params: { id: deal.id } })).toMatchObject({ ownerId: heir.id });
    expect((await admin.ok('getContact', { params: { id: contact.id } })).ownerId).toBe(heir.id);
    expect((await admin.ok('listColleagues')).people.map(({ id }) => id)).not.toContain(leaver.id);
    const { entries } = await admin.ok('listJournal', { query: { contactId: contact.id } });
    expect(entries.some(({ userName }) => userName === 'Lena Marsh')).toBe(true);
    await admin.ok('undoChange', { params: { id: changeId } });
    expect(await admin.ok('getDeal', { params: { id: deal.id } })).toMatchObject({ ownerId: leaver.id });
    expect((await sign(email, password)).status).toBe(200);
  });

  test('may come back; what was handed over stays where it is', async () => {
    const [leaver, heir] = [await installation.as('rep'), await installation.as('rep')];
    const contact = await aContact(leaver);
    await admin.ok('deactivate', { params: { id: leaver.id }, body: { handOverTo: heir.id } });
    await admin.ok('reactivate', { params: { id: leaver.id } });
    expect((await sign(await emailOf(leaver), password)).status).toBe(200);
    expect((await admin.ok('getContact', { params: { id: contact.id } })).ownerId).toBe(heir.id);
  });

  test('hands people to nobody where nothing needs an owner; their team goes to their own manager', async () => {
    const [top, middle, rep] = [
      await installation.as('manager'),
      await installation.as('manager'),
      await installation.as('rep'),
    ];
    const contact = await aContact(middle);
    const lead = (id: string, manager: string) =>
      installation.services.database.change('UPDATE app_user SET manager_id = :manager WHERE id = :id', {
        id: bytesOf(id),
        manager: bytesOf(manager),
      });
    await lead(middle.id, top.id);
    await lead(rep.id, middle.id);
    await admin.ok('deactivate', { params: { id: middle.id }, body: { handOverTo: null } });
    expect((await admin.ok('getContact', { params: { id: contact.id } })).ownerId).toBeNull();
    expect((await accountOf(rep.id)).managerId).toBe(top.id);
  });

  test('is not oneself', async () => {
    const refused = await admin.call('deactivate', { params: { id: admin.id }, body: { handOverTo: null } });
    expect(refused.body.code).toBe('own-account');
  });
});

describe('the demo’s accounts', () => {
  const asDemo = (caller: Caller) =>
    installation.services.database.change("UPDATE app_user SET demo_words = 'demo' WHERE id = :id", {
      id: bytesOf(caller.id),
    });

  test('are warned of beside real ones, and removed in one act', async () => {
    const [demo, demoAdmin] = [await installation.as('rep'), await installation.as('admin')];
    await asDemo(demo);
    await asDemo(demoAdmin);
    const contact = await aContact(demo);
    const email = await emailOf(demo);
    expect((await admin.ok('session')).demoAccounts).toBe(2);
    expect((await demoAdmin.call('removeDemoAccounts')).body.code).toBe('demo-admin');
    expect(await admin.ok('removeDemoAccounts')).toEqual({ removed: 2 });
    expect((await admin.ok('session')).demoAccounts).toBe(0);
    expect((await installation.nobody('doorstep')).body).toMatchObject({ demoPeople: [] });
    expect((await sign(email, password)).status).toBe(401);
    expect((await admin.ok('getContact', { params: { id: contact.id } })).ownerId).toBe(admin.id);
    await admin.ok('reactivate', { params: { id: demo.id } });
    expect((await sign(email, password)).status).toBe(401);
  });

  test('alone they are no reason to warn', async () => {
    await asDemo(admin);
    expect((await admin.ok('session')).demoAccounts).toBe(0);
  });
});

describe('the log of security', () => {
  test('holds sign-ins, refusals, exports and changed rights, and no address, name or password', async () => {
    const rep = await installation.as('rep');
    const email = await emailOf(rep);
    await sign(email, 'not the password');
    await sign('nobody@hollinbeck.example', 'not the password');
    await sign(email, password);
    await rep.call('exportContacts');
    const rights = await admin.ok('rightsSettings');
    await admin.ok('changeRightsSettings', { body: { ...rights, reading: 'own' } });
    const { events } = await admin.ok('listSecurityEvents');
    expect(events.map(({ kind, data }) => [kind, data])).toEqual([
      ['settings-changed', { setting: 'rights' }],
      ['exported', { what: 'people', count: 0 }],
      ['signed-in', { device: 'an unknown browser', isNew: 0 }],
      ['sign-in-refused', { why: 'unknown' }],
      ['sign-in-refused', { why: 'password' }],
    ]);
    expect(events[3]!.address).toBe(events[4]!.address);
    const stored = JSON.stringify(
      await installation.services.database.rows('SELECT kind, data, HEX(address_hash) FROM security_event'),
    );
    for (const secret of [email, 'nobody@', '127.0.0.1', 'not the password'])
      expect(stored).not.toContain(secret);
    expect((await rep.call('listSecurityEvents')).body.code).toBe('not-allowed');
  });
});

test('a guess spread over many addresses is limited by the account', async () => {
  const rep = await installation.as('rep');
  const email = await emailOf(rep);
  const from = (address: string) =>
    request(installation.app)
      .post('/api/session')
      .set('Origin', 'http://kettle.test')
      .set('X-Forwarded-For', address)
      .send({ email, password: 'wrong' });
  const codes: string[] = [];
  for (let n = 0; n < 42; n += 1) codes.push(((await from(`203.0.113.${n}`)).body as { code: string }).code);
  expect(codes.indexOf('too-many-tries')).toBe(40);
});

describe('the owner of an account is told by mail', () => {
  const texts = async () => {
    await installation.work();
    return mail.got.map(({ text }) => text!.replace(/\s+/g, ' '));
  };
  const from = (browser: string, email: string) =>
    request(installation.app)
      .post('/api/session')
      .set('Origin', 'http://kettle.test')
      .set('User-Agent', browser)
      .send({ email, password });
  const firefox = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0';
  const other = 'Mozilla/5.0 (Windows NT 10.0; Win64; x64; rv:140.0) Gecko/20100101 Firefox/140.0';

  test('of a browser that was not seen before, not of the first nor of a known one', async () => {
    const rep = await installation.as('rep');
    const email = await emailOf(rep);
    for (const browser of [firefox, firefox]) expect((await from(browser, email)).status).toBe(200);
    expect(await texts()).toEqual([]);
    await from(other, email);
    expect(await texts()).toEqual([expect.stringContaining('not seen before: Firefox on Windows')]);
    await from(other, email);
    expect(await texts()).toHaveLength(1);
  });

  test('of a new password and of what an admin changed; a first password by invitation is no news', async () => {
    const rep = await installation.as('rep');
    await rep.ok('changePassword', { body: { current: password, password: chosen } });
    expect(await texts()).toEqual([expect.stringContaining('your password was changed')]);
    const { account } = await admin.ok('invitePerson', { body: invitation });
    await choose(tokenIn(mail.got.at(-1)!.text!));
    expect(await texts()).toHaveLength(2);
    expect(account.state).toBe('invited');
  });
});

test.each([
  [11, 'must be at least 12 characters long; a few words in a row are easy to keep'],
  [129, 'may have at most 128 characters'],
])('a password of %i characters is refused with the reason', async (length, message) => {
  const rep = await installation.as('rep');
  const body = { current: password, password: 'heron at dawn '.repeat(20).slice(0, length) };
  const refused = await rep.call('changePassword', { body });
  expect(refused.body).toMatchObject({ code: 'invalid-request', fields: [{ path: 'password', message }] });
  const longest = { current: password, password: 'heron at dawn '.repeat(20).slice(0, 128) };
  expect((await rep.call('changePassword', { body: longest })).status).toBe(200);
});

test('a page that reads again by itself does not keep its session', async () => {
  const rep = await installation.as('rep');
  const cookie = cookieOf(await sign(await emailOf(rep), password));
  const { clock } = installation;
  const later = (hours: number) => clock.set(new Date(clock.millis() + hours * 3_600_000).toISOString());
  for (let hour = 0; hour < 11; hour += 1) {
    later(1);
    expect((await withCookie(cookie, '/api/session').set('X-Idle', '1')).status).toBe(200);
  }
  later(2);
  expect((await withCookie(cookie, '/api/session')).status).toBe(401);
});
