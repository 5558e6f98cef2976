import { expect, test, type Page } from '@playwright/test';
import { anImapServer, type ImapServer } from '../server/testing/imap-server';
import { Installation } from './testing/installation';

/** The people outside answer into a mailbox, which is read over IMAP; a stranger's consent is confirmed by mail. */

const people = 40;

let mailbox: ImapServer;
let installation: Installation;
let page: Page;
test.beforeAll(async ({ browser }) => {
  mailbox = await anImapServer();
  // Something waits there before anybody reads.
  await mailbox.put(
    'office',
    'Authentication-Results: mx.outside.localhost; dmarc=pass\nFrom: Fair <fair@countyshow.example>\nTo: petra@hollinbeck.example\nSubject: Your stand\nMessage-ID: <stand@countyshow.example>\n\nChoose a place.\n',
  );
  installation = await Installation.make({ outside: true, imap: mailbox.urlOf('office') });
  page = await (await browser.newContext()).newPage();
  await page.goto(installation.url);
  await page.getByLabel('Your name').fill('Petra Lund');
  await page.getByLabel('E-mail address').fill('petra@hollinbeck.example');
  await page.getByLabel(/Password/).fill('steam over the ash');
  await page.getByRole('button', { name: 'Create the first admin' }).click();
  await expect(page).toHaveURL(/\/round/);
});
test.afterAll(async () => {
  await page.close();
  await installation.stop();
  await mailbox.close();
});

const call = async <Reply>(method: string, path: string, data?: object): Promise<Reply> => {
  const reply = await page.request.fetch(installation.url + path, {
    method,
    headers: { Origin: installation.url },
    ...(data ? { data } : {}),
  });
  expect(reply.ok(), `${path}: ${await reply.text()}`).toBe(true);
  return (await reply.json()) as Reply;
};
const outside = async () =>
  (await (await page.request.get(`${installation.outside}/happened`)).json()) as {
    events: { kind: string; who: string; text: string }[];
    waiting: number;
  };

test('answers, absences and returns are read from the mailbox, each once', async () => {
  const settings = await call<object>('GET', '/api/mail-settings');
  await call('PUT', '/api/mail-settings', { ...settings, paceSeconds: 0 });
  const { id: template } = await call<{ id: string }>('POST', '/api/templates', {
    name: 'Hello',
    channel: 'email',
    subject: 'Hello',
    body: 'Hello',
  });
  const step = {
    channel: 'email',
    offsetDays: 0,
    windowStart: 540,
    windowEnd: 1020,
    minutes: 4,
    purpose: 'hello',
    mode: 'by-itself',
    templateIds: [template],
  };
  const cadence = await call<{ id: string; versionId: string }>('POST', '/api/cadences', {
    name: 'Hello',
    definition: { steps: [step] },
  });
  const contactIds: string[] = [];
  for (let n = 0; n < people; n += 1) {
    const contact = { givenName: 'Person', familyName: `Wells${n}`, companyName: `Firm ${n}`, country: 'GB' };
    const email = `person${n}@firm${n}.example`;
    contactIds.push((await call<{ id: string }>('POST', '/api/contacts', { ...contact, email })).id);
  }
  await call('POST', `/api/cadences/${cadence.id}/runs`, {
    requestId: '00000000-0000-4000-8000-000000000001',
    versionId: cadence.versionId,
    contactIds,
  });
  const count = (events: { kind: string }[], kind: string) =>
    events.filter((event) => event.kind === kind).length;
  await expect.poll(async () => count((await outside()).events, 'mail'), { timeout: 60_000 }).toBe(people);
  await expect.poll(async () => (await outside()).waiting, { timeout: 30_000 }).toBe(0);
  const { events } = await outside();
  const written = ['answer', 'away', 'bounce'].map((kind) => count(events, kind));
  expect(written[0]! + written[1]! + written[2]!).toBeGreaterThan(0);
  const read = async () => {
    const { rows } = await call<{ rows: { kind: string }[] }>('GET', '/api/mail?box=filed&limit=200');
    return ['human', 'out-of-office', 'bounce'].map((kind) => count(rows, kind));
  };
  await expect.poll(read, { timeout: 30_000 }).toEqual(written);
  await page.goto(`${installation.url}/mail`);
  await expect(page.getByRole('grid', { name: 'mails' })).toContainText('Your stand');
});

test('a stranger who agreed on a form is asked by mail whether it was them, and says so once', async ({
  browser,
}) => {
  await page.goto(`${installation.url}/settings?part=leads`);
  const form = page.getByRole('form', { name: 'A new form' });
  await form.getByLabel('Name, for us').fill('Fair');
  await form.getByLabel('Title, for them').fill('Meet us at the fair');
  await form.getByLabel('asks by mail to confirm the consent').check();
  await form.getByRole('button', { name: 'Create form' }).click();
  await expect(page.getByText('The form Fair is saved.')).toBeVisible();
  const address = await page
    .getByRole('group', { name: 'Fair', exact: true })
    .getByRole('link', { name: 'look at it' })
    .getAttribute('href');

  const stranger = await (await browser.newContext()).newPage();
  await stranger.goto(address!);
  await stranger.getByLabel('Your name').fill('Ottilie Marsh');
  await stranger.getByLabel('E-mail').fill('ottilie@marshspa.example');
  await stranger.getByLabel('What is it about?').fill('Our basins scale up.');
  await stranger.getByRole('checkbox').check();
  await expect(async () => {
    await stranger.getByRole('button', { name: 'Send' }).click();
    await expect(stranger.getByRole('status')).toContainText('Thank you', { timeout: 500 });
  }).toPass({ intervals: [1000] });
  await page.goto(`${installation.url}/deals/leads?owner=all`);
  await page.getByRole('button', { name: /Ottilie Marsh/ }).click();
  const dossier = page.getByRole('complementary', { name: 'Dossier' });
  await expect(dossier).toContainText('not confirmed by mail yet');

  const mails = async () =>
    (await outside()).events.filter(({ kind, who }) => kind === 'mail' && who === 'ottilie@marshspa.example');
  await expect.poll(async () => (await mails()).length, { timeout: 30_000 }).toBe(1);
  const link = /https?:\S+\/out\/forms\/consent\/\S+/.exec((await mails())[0]!.text)![0];
  // Looking at the page agrees to nothing.
  await stranger.goto(link);
  await expect(stranger.getByRole('heading', { name: 'Do you agree?' })).toBeVisible();
  await expect(dossier).toContainText('not confirmed by mail yet');
  await stranger.getByRole('button', { name: 'Yes, I agree' }).click();
  await expect(stranger.getByRole('status')).toContainText('Your consent is confirmed.');
  await stranger.goto(link);
  await expect(stranger.getByRole('status')).toContainText('Your consent is confirmed.');
  await expect(dossier).toContainText('confirmed by mail today');
  await expect(dossier.getByText(/^Consent confirmed by mail/)).toHaveCount(1);
});
