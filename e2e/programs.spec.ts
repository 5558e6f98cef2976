import { expect, type Page, test } from '@playwright/test';
import { choose } from './testing/choose';
import { Installation } from './testing/installation';
import { collectComplaints, expectAccessible } from './testing/looks';

/** Programs beside us: a key with which one asks in my name, and an address that is told what happens here. */
test.describe.configure({ mode: 'serial' });

let installation: Installation;
let rep: Page;
let admin: Page;
let complaints: string[][];
let token = '';
test.beforeAll(async ({ browser }) => {
  installation = await Installation.make({ demo: true, outside: true });
  rep = await (await browser.newContext()).newPage();
  admin = await (await browser.newContext()).newPage();
  complaints = [collectComplaints(rep), collectComplaints(admin)];
  await signIn(rep, /Imogen Thorne/);
  await signIn(admin, /Petra Lund/);
});
test.afterAll(async () => {
  await rep.close();
  await admin.close();
  await installation.stop();
});
test.afterEach(() => expect(complaints.flat()).toEqual([]));

async function signIn(of: Page, name: RegExp) {
  await of.goto(installation.url);
  await of.getByRole('button', { name }).click();
  await of.waitForURL(/round/);
}
/** As a program asks: with nothing but its key. */
const ask = (path: string, { method = 'GET', body = undefined as object | undefined } = {}) =>
  fetch(`${installation.url}/api/${path}`, {
    method,
    headers: { Authorization: `Bearer ${token}`, 'Content-Type': 'application/json' },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });

test('1. a rep makes a key by the keyboard; a program asks with it, as far as it goes', async () => {
  await rep.goto(`${installation.url}/settings?part=keys`);
  await rep.getByLabel('What it is for').fill('Stock room');
  await rep.getByLabel('Your password').fill('a guess');
  await rep.keyboard.press('Enter');
  await expect(rep.getByRole('alert').first()).toBeVisible();
  await expect(rep.getByLabel('What it is for')).toHaveValue('Stock room');
  await choose(rep.getByRole('combobox', { name: 'Leads, deals and agreements' }), 'read and change');
  await rep.getByLabel('Your password').fill('copper kettle on the hob');
  await rep.keyboard.press('Enter');
  const made = rep.getByLabel('The new key');
  await expect(made).toHaveValue(/^kettle_/);
  await expect(made).toBeFocused();
  token = await made.inputValue();
  await expectAccessible(rep);
  await rep.getByRole('button', { name: 'I have kept it' }).click();
  await expect(made).toHaveCount(0);
  expect((await ask('deals?owner=mine')).status).toBe(200);
  const refused = await ask('contacts');
  expect([refused.status, (await refused.json()).detail]).toEqual([
    403,
    expect.stringContaining('it needs “People and companies: read”'),
  ]);
});

const happened = async (): Promise<{ kind: string; words: string }[]> =>
  (await (await fetch(`${installation.outside}/happened`)).json()).events;
const told = async () =>
  (await happened()).filter(({ kind }) => kind === 'web hook').map(({ words }) => words);

test('2. an admin has an address told; what the program moves, another program hears', async () => {
  await admin.goto(`${installation.url}/settings?part=hooks`);
  await expect(admin.getByText('None yet.')).toBeVisible();
  await admin.getByLabel('What to call it').fill('Stock room');
  await admin.getByLabel('Its address').fill('https://192.168.0.7/told');
  await admin.getByRole('checkbox', { name: 'a deal went to another stage' }).check();
  await admin.getByRole('button', { name: 'Tell it' }).click();
  await expect(admin.getByText(/This address lies inside a network/)).toBeVisible();
  await admin.getByLabel('Its address').fill(`${installation.outside}/told`);
  await admin.getByRole('button', { name: 'Tell it' }).click();
  const secret = admin.getByLabel('The secret of Stock room');
  await expect(secret).toHaveValue(/^whsec_/);
  // It does not know the secret yet, and refused what was sent to try it.
  await expect(admin.getByText(/It answered 401/).first()).toBeVisible();
  await expectAccessible(admin);
  await fetch(`${installation.outside}/told/secret`, {
    method: 'POST',
    body: new URLSearchParams({ secret: await secret.inputValue() }),
    redirect: 'manual',
  });
  await admin.getByRole('button', { name: 'I have kept it' }).click();
  await admin.getByRole('button', { name: 'Try Stock room now' }).click();
  await expect(admin.getByText('Stock room took it.')).toBeVisible();
  const { rows } = await (await ask('deals?owner=mine')).json();
  const { pipelines } = await (await ask('pipelines')).json();
  const deal = rows.find(({ stageId }: { stageId: string }) => stageId === pipelines[0].stages[1].id);
  const moved = await ask(`deals/${deal.id}/move`, {
    method: 'POST',
    body: {
      version: deal.version,
      stageId: pipelines[0].stages[0].id,
      expectedCloseOn: deal.expectedCloseOn,
    },
  });
  expect(moved.status).toBe(200);
  await expect.poll(told).toContain(`deal.moved: /api/deals/${deal.id}`);
  await admin.getByRole('button', { name: 'What Stock room was told' }).click();
  await expect(admin.getByText('taken, answered 204')).toBeVisible();
  await expectAccessible(admin);
});

test('3. it is removed and put back by the key for undo; its state is as before', async () => {
  await admin.getByRole('button', { name: 'Remove Stock room' }).click();
  await expect(admin.getByText('None yet.')).toBeVisible();
  await admin.keyboard.press('Control+z');
  await expect(admin.getByText('Told when a deal went to another stage.')).toBeVisible();
});

test('4. the key is withdrawn, and the program is told why nothing opens any more', async () => {
  await rep.getByRole('button', { name: 'Withdraw Stock room' }).click();
  await rep.getByRole('button', { name: 'Withdraw it' }).click();
  await expect(rep.getByText('Stock room is withdrawn: it opens nothing any more.')).toBeVisible();
  const refused = await ask('deals');
  expect([refused.status, (await refused.json()).code]).toEqual([401, 'key-not-valid']);
});

test('5. the API’s page shows every group, and nothing of it comes from elsewhere', async () => {
  const asked: string[] = [];
  rep.on('request', (request) => asked.push(request.url()));
  await rep.goto(`${installation.url}/api/docs`);
  await expect(rep.getByRole('link', { name: 'Leads, deals and agreements' })).toBeVisible();
  await expect(rep.getByRole('link', { name: 'Web hooks' })).toBeVisible();
  await rep.getByRole('link', { name: 'Web hooks' }).click();
  await expect(rep.getByText('Sent when a deal went to another stage')).toBeVisible();
  expect(asked.filter((url) => !url.startsWith(installation.url) && !url.startsWith('data:'))).toEqual([]);
});
