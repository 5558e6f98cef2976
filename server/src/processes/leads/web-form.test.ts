import type { WebForm } from '@kettle/contract';
import request, { type Response } from 'supertest';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aMailServer, type MailServer } from '../../../testing/mail-server';
import { aContact, journalOf } from '../../../testing/people';
import { smtpOut } from '../mail/index';

let installation: Installation;
let admin: Caller;
let form: WebForm;
const fields = {
  name: 'site',
  title: 'Ask us about water',
  asksPhone: true,
  asksCompany: true,
  asksPostcode: false,
  consentWords: 'Hollin Beck may write to me about this.',
  thanks: 'We call you back within a day.',
  source: 'web site',
  campaign: 'spring',
  isOpen: true,
  origins: ['https://www.hollinbeck.example'],
};

beforeEach(async () => {
  installation = await install();
  admin = await installation.as('admin');
  form = await admin.ok('createWebForm', { body: fields });
});
afterEach(() => installation.close());

const page = () => request(installation.app).get(`/out/forms/${form.key}`);
const tokenIn = (response: Response) => /name="token" value="([^"]+)"/.exec(response.text)![1]!;
const whole = {
  name: 'Nora van der Pell',
  email: 'Nora@Pell.example',
  phone: '01632 960 777',
  company: 'Pell <Spa>',
  message: 'Our water is hard.\nCan you help?',
  consent: 'yes',
};
const send = (token: string, part: object = {}) =>
  request(installation.app)
    .post(`/out/forms/${form.key}`)
    .type('form')
    .send({ ...whole, token, ...part });
const wait = (seconds: number) =>
  installation.clock.set(new Date(installation.clock.millis() + seconds * 1000).toISOString());
const leads = async () => (await admin.ok('listLeads', { query: { owner: 'all' } })).rows;
async function aToken() {
  const token = tokenIn(await page());
  wait(20);
  return token;
}

test('the page may stand in the sites that were named, runs nothing, and asks what it should', async () => {
  const response = await page();
  expect(response.headers['content-security-policy']).toMatch(
    /frame-ancestors 'self' https:\/\/www\.hollinbeck\.example$/,
  );
  expect(response.headers['x-frame-options']).toBeUndefined();
  expect(response.headers['set-cookie']).toBeUndefined();
  expect(response.text).not.toContain('<script');
  expect(response.text).toContain(fields.consentWords);
  expect(response.text).toContain('name="phone"');
  expect(response.text).not.toContain('name="postcode"');
});

test('the page says whose it is, once the organisation has a name', async () => {
  expect((await page()).text).not.toContain('class="sender"');
  const organisation = await admin.ok('organisationSettings');
  const named = { ...organisation, name: 'Hollin <Beck> Water Care' };
  await admin.ok('changeOrganisationSettings', { body: named });
  const sender = '<p class="sender">Hollin &lt;Beck&gt; Water Care</p>';
  expect((await page()).text).toContain(sender);
  for (const path of ['/out/forms/none', '/out/forms/consent/none', '/out/u/none', '/out/c/none'])
    expect((await request(installation.app).get(path)).text).toContain(sender);
});

test('what is sent becomes a lead on a new person, with source, campaign and consent word for word', async () => {
  const thanks = await send(await aToken());
  expect([thanks.status, thanks.text]).toEqual([200, expect.stringContaining(fields.thanks)]);
  const [row] = await leads();
  const lead = await admin.ok('getLead', { params: { id: row!.id } });
  expect(lead).toMatchObject({
    contactName: 'Nora van der Pell',
    companyName: 'Pell <Spa>',
    companyId: null,
    email: 'nora@pell.example',
    phone: '+441632960777',
    subject: 'Our water is hard.',
    about: whole.message,
    source: 'web site',
    campaign: 'spring',
    status: 'untried',
    ownerId: null,
    formName: 'site',
    consent: { words: fields.consentWords, at: installation.clock.now() },
  });
});

test('sent twice it is one lead; filled in again it is a second one on the same person', async () => {
  const token = await aToken();
  await send(token);
  await send(token);
  expect(await leads()).toHaveLength(1);
  await send(await aToken(), { message: 'One more thing' });
  const all = await leads();
  expect(all).toHaveLength(2);
  expect(new Set(all.map(({ contactId }) => contactId)).size).toBe(1);
});

test('somebody known by their address is not typed in a second time', async () => {
  const rep = await installation.as('rep');
  const contact = await aContact(rep, { email: 'nora@pell.example' });
  await send(await aToken());
  expect(await leads()).toMatchObject([
    { contactId: contact.id, ownerId: rep.id, companyName: contact.companyName },
  ]);
});

test.each([
  ['name', { name: ' ' }, 'Please say your name.'],
  ['email', { email: 'nora' }, 'Please give an address'],
  ['phone', { phone: 'call me' }, 'does not look like a telephone number'],
  ['message', { message: '' }, 'Please say what it is about.'],
  ['consent', { consent: undefined }, 'We need your consent'],
])('a wrong %s is told at its field, and nothing typed is lost', async (name, part, words) => {
  const response = await send(await aToken(), part);
  expect(response.status).toBe(400);
  expect(response.text).toContain(`id="${name}-wrong"`);
  expect(response.text).toContain(words);
  if (name !== 'message') expect(response.text).toContain('Our water is hard.');
  expect(response.text).toContain('Pell &lt;Spa&gt;');
  expect(await leads()).toEqual([]);
});

test('a machine that fills in what nobody sees is thanked, counted and not believed', async () => {
  const response = await send(await aToken(), { homepage: 'http://spam.example' });
  expect(response.text).toContain(fields.thanks);
  expect(await leads()).toEqual([]);
  const { forms } = await admin.ok('listWebForms');
  expect(forms).toMatchObject([{ trapped: 1, leads: 0 }]);
});

test('another inquiry from the same page is another lead', async () => {
  const token = await aToken();
  await send(token);
  await send(token, { name: 'Otto Brand', email: 'otto@brand.example' });
  const { found } = await admin.ok('countLeads', { query: { owner: 'all' } });
  expect(found).toBe(2);
});

test('faster than anybody reads it is asked for again; a page left open gets a new token', async () => {
  const token = tokenIn(await page());
  wait(1);
  const quick = await send(token);
  expect([quick.status, quick.text]).toEqual([400, expect.stringContaining('very quick')]);
  wait(25 * 3600);
  const late = await send(token);
  expect(late.status).toBe(400);
  wait(5);
  expect((await send(tokenIn(late))).status).toBe(200);
  expect(await leads()).toHaveLength(1);
});

test('a token of another form, or none, is not taken', async () => {
  const token = await aToken();
  form = await admin.ok('createWebForm', { body: { ...fields, name: 'other' } });
  expect((await send(token)).status).toBe(400);
  expect((await send('')).status).toBe(400);
  expect(await leads()).toEqual([]);
});

test('many from one address are slowed down, and told when to try again', async () => {
  const token = await aToken();
  let last: Response | undefined;
  // What was mistyped counts for nothing.
  for (let n = 0; n < 20; n += 1) expect((await send(token, { name: '' })).status).toBe(400);
  for (let n = 0; n < 9; n += 1) last = await send(token, { name: `Nora Pell ${n}` });
  expect(last!.status).toBe(429);
  expect(Number(last!.headers['retry-after'])).toBeGreaterThan(0);
  expect(last!.text).toContain('Our water is hard.');
});

test('a closed form and an unknown key are not here', async () => {
  await admin.ok('changeWebForm', {
    params: { id: form.id },
    body: { ...fields, version: form.version, isOpen: false },
  });
  expect((await page()).status).toBe(404);
  expect((await send('x')).status).toBe(404);
  expect((await request(installation.app).get('/out/forms/nothing')).status).toBe(404);
});

test('a form changed by two admins at once: the second is shown the first one’s change', async () => {
  const change = (part: object) =>
    admin.call('changeWebForm', {
      params: { id: form.id },
      body: { ...fields, version: form.version, ...part },
    });
  await change({ title: 'first' });
  expect((await change({ title: 'second' })).body).toMatchObject({
    code: 'stale',
    current: { title: 'first' },
  });
  expect((await change({ origins: ['www.no-scheme.example'] })).body.fields[0].path).toBe('origins.0');
});

test('by region, a sending goes to whose postcode it is', async () => {
  const [north, south] = [await installation.as('rep'), await installation.as('rep')];
  const { version } = await admin.ok('leadSettings');
  const regions = [
    { country: 'GB', places: ['MW1', 'MW2'], userId: north.id },
    { country: 'GB', places: ['MW'], userId: south.id },
  ];
  const ownerRule = { kind: 'region', regions, otherwise: { kind: 'pool' } };
  await admin.ok('changeLeadSettings', { body: { version, ownerRule } });
  form = await admin.ok('createWebForm', { body: { ...fields, name: 'local', asksPostcode: true } });
  const owners = [];
  for (const [index, postcode] of ['mw2 4aa', 'MW9 1AB', 'ZZ1 1ZZ'].entries()) {
    await send(await aToken(), { email: `sender${index}@pell.example`, phone: '', postcode });
    const row = (await leads()).find(({ email }) => email === `sender${index}@pell.example`);
    owners.push(row!.ownerId);
  }
  expect(owners).toEqual([north.id, south.id, null]);
});

test('a number without its country code is of the organisation’s country', async () => {
  const refused = await send(await aToken(), { phone: '020 910 0123 44 55' });
  expect([refused.status, refused.text]).toEqual([400, expect.stringContaining('telephone number')]);
  const { database } = installation.services;
  const irish = JSON.stringify({ homeCountry: 'IE', homeZone: 'Europe/Dublin' });
  await database.change("INSERT INTO setting (name, value) VALUES ('organisation', :irish)", { irish });
  expect((await send(await aToken(), { phone: '020 910 0123' })).status).toBe(200);
  expect((await leads())[0]!.phone).toBe('+353209100123');
});

describe('a consent that is confirmed by mail', () => {
  let mail: MailServer;
  beforeEach(async () => {
    await installation.close();
    mail = await aMailServer();
    installation = await install({ mailOut: smtpOut(mail.url) });
    admin = await installation.as('admin');
    form = await admin.ok('createWebForm', { body: { ...fields, confirmsConsent: true } });
  });
  afterEach(() => mail.close());

  const theLead = async () => admin.ok('getLead', { params: { id: (await leads())[0]!.id } });
  const linkIn = (text: string) => /http:\/\/kettle\.test(\/out\/forms\/consent\/\S+)/.exec(text)![1]!;
  const sent = async () => {
    await send(await aToken());
    await installation.work();
    return linkIn(mail.got[0]!.text!);
  };

  test('is asked for once, with its words; the lead is there meanwhile and says that it is open', async () => {
    const token = await aToken();
    await send(token);
    await send(token);
    await installation.work();
    expect(mail.got).toHaveLength(1);
    expect(mail.got[0]!.text).toContain(fields.consentWords);
    expect((await theLead()).consent).toMatchObject({ mustBeConfirmed: true, confirmedAt: null });
  });

  test('looking at the link confirms nothing; pressing does, once, and the journal has it', async () => {
    const link = await sent();
    const shown = await request(installation.app).get(link);
    expect([shown.status, shown.text]).toEqual([200, expect.stringContaining(fields.consentWords)]);
    expect(shown.headers['content-security-policy']).toContain("frame-ancestors 'none'");
    expect((await theLead()).consent!.confirmedAt).toBeNull();
    for (let n = 0; n < 2; n += 1) expect((await request(installation.app).post(link)).status).toBe(200);
    const lead = await theLead();
    expect(lead.consent!.confirmedAt).toBe(installation.clock.now());
    const told = (await journalOf(admin, { contactId: lead.contactId })).filter(({ body }) =>
      body.includes('Consent confirmed by mail'),
    );
    expect(told).toHaveLength(1);
  });

  test('a made-up link, and one of more than 30 days, lead nowhere', async () => {
    const link = await sent();
    expect((await request(installation.app).post(`${link.slice(0, -4)}AAAA`)).status).toBe(404);
    wait(31 * 86_400);
    expect((await request(installation.app).post(link)).status).toBe(404);
    admin = await installation.as('admin');
    expect((await theLead()).consent!.confirmedAt).toBeNull();
  });

  test('until then no cadence that sends by itself can be started with them', async () => {
    const link = await sent();
    const lead = await theLead();
    const template = await admin.ok('createTemplate', {
      body: { name: 'Hello', channel: 'email', subject: 'Hello', body: 'Hello' },
    });
    const step = {
      channel: 'email',
      offsetDays: 0,
      windowStart: 540,
      windowEnd: 1020,
      minutes: 4,
      purpose: 'hello',
    };
    const cadence = async (mode: string) =>
      admin.ok('createCadence', {
        body: { name: mode, definition: { steps: [{ ...step, mode, templateIds: [template.id] }] } },
      });
    const leftOut = async ({ id, versionId }: { id: string; versionId: string }) => {
      const body = { versionId, contactIds: [lead.contactId] };
      return (await admin.ok('planStart', { params: { id }, body })).people[0]!.leftOut;
    };
    const byItself = await cadence('by-itself');
    expect(await leftOut(byItself)).toMatchObject({ reason: 'consent-open' });
    expect(await leftOut(await cadence('by-hand'))).toBeNull();
    await request(installation.app).post(link);
    expect(await leftOut(byItself)).toBeNull();
  });
});

test('where no mail leaves, a form cannot ask for it', async () => {
  const refused = await admin.call('createWebForm', {
    body: { ...fields, name: 'x', confirmsConsent: true },
  });
  expect(refused.body).toMatchObject({ code: 'invalid-request', fields: [{ path: 'confirmsConsent' }] });
});
