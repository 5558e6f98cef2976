import { expect, test, type Page } from '@playwright/test';
import { choose } from './testing/choose';
import { Installation } from './testing/installation';
import { collectComplaints, expectAccessible } from './testing/looks';

/** What an admin shapes, and what it does to the deals and leads of a rep; on the demo's firm. */

let installation: Installation;
let admin: Page;
let rep: Page;
let complaints: string[][];

test.beforeAll(async ({ browser }) => {
  installation = await Installation.make({ demo: true });
  const signIn = async (name: RegExp) => {
    const page = await (await browser.newContext()).newPage();
    await page.goto(installation.url);
    await page.getByRole('button', { name }).click();
    await expect(page).toHaveURL(/\/round/);
    return page;
  };
  admin = await signIn(/Petra Lund/);
  rep = await signIn(/Imogen Thorne/);
  complaints = [collectComplaints(admin), collectComplaints(rep)];
});
test.afterAll(async () => {
  await admin.close();
  await rep.close();
  await installation.stop();
});
test.afterEach(() => expect(complaints.flatMap((each) => each.splice(0))).toEqual([]));

const open = async (page: Page, path: string) => page.goto(installation.url + path);
const lane = (name: string) => rep.getByRole('row', { name });
const countOf = async (name: string) =>
  Number(/(\d+) deals?/.exec(await lane(name).getByRole('rowheader').innerText())?.[1]);
const summary = () => rep.locator('.page-head p').innerText();

test('a stage that goes is not left without a home for its deals, and none is lost', async () => {
  await open(rep, '/deals?owner=all');
  await expect(lane('Survey').locator('.deal').first()).toBeVisible();
  const [count] = (await summary()).split(' ·');
  const both = (await countOf('Inquiry')) + (await countOf('Survey'));
  await open(admin, '/settings?part=pipelines');
  await admin.getByRole('button', { name: 'remove', exact: true }).nth(1).click();
  await expect(admin.getByLabel('Deals in “Survey” go to')).toContainText(/./);
  await choose(admin.getByLabel('Deals in “Survey” go to'), 'Inquiry');
  await admin.getByRole('button', { name: 'Preview changes' }).click();
  const table = admin.getByRole('table', { name: 'What this does' });
  await expect(table.getByRole('row', { name: new RegExp(`^Inquiry ${both} `) })).toBeVisible();
  await expectAccessible(admin);
  await admin.getByRole('button', { name: 'Save changes' }).click();
  await expect(admin.getByText('Sales is saved.')).toBeVisible();
  // The rep's lanes follow without a reload.
  await expect(lane('Survey')).toHaveCount(0);
  await expect.poll(async () => (await summary()).split(' ·')[0]).toBe(count);
  expect(await countOf('Inquiry')).toBe(both);
});

test('deals go to another pipeline stage by stage, one of them by its own dialog', async () => {
  await open(admin, '/settings?part=pipelines');
  await admin.getByRole('button', { name: 'New pipeline' }).click();
  await admin.getByLabel('Name', { exact: true }).fill('Abroad');
  await admin.getByLabel('Stage', { exact: true }).fill('Asked');
  await admin.getByLabel('Chance', { exact: true }).fill('15');
  await admin.getByRole('button', { name: 'add a stage' }).click();
  await admin.getByLabel('Stage', { exact: true }).nth(1).fill('Offer');
  await admin.getByRole('button', { name: 'Create pipeline' }).click();
  await expect(admin.getByText('Abroad is added.')).toBeVisible();

  await open(rep, '/deals');
  const bar = lane('Offer').locator('.deal').first();
  const id = (await bar.getAttribute('data-deal'))!;
  await bar.locator('.name').focus();
  await rep.keyboard.press('s');
  const dialog = rep.getByRole('dialog');
  await choose(dialog.getByLabel('Pipeline'), 'Abroad');
  await expect(dialog.getByLabel('Stage')).toContainText('Offer');
  await expectAccessible(rep);
  await dialog.getByRole('button', { name: 'Move it' }).click();
  await expect(dialog).toHaveCount(0);
  await expect(rep.getByRole('heading', { name: 'Abroad' })).toBeVisible();
  await expect(
    rep
      .getByRole('table', { name: 'Abroad' })
      .getByRole('row', { name: 'Offer' })
      .locator(`[data-deal="${id}"]`),
  ).toBeVisible();
});

test('a form for the web: a machine falls into its trap unseen, and who is faster than a reader is asked to look again', async ({
  request,
}) => {
  const form = `${installation.url}/out/forms/ask-hollin-beck`;
  const token = /name="token" value="([^"]+)"/.exec(await (await request.get(form)).text())![1]!;
  const send = (part: object) => request.post(form, { form: { token, name: 'Robo', ...part } });
  const trapped = await send({ homepage: 'http://spam.example', email: 'robo@spam.example', message: 'Buy' });
  expect([trapped.status(), await trapped.text()]).toEqual([200, expect.stringContaining('Thank you')]);
  let last = trapped;
  // What becomes no lead counts against no limit, however often it is sent.
  for (let n = 0; n < 9; n += 1) last = await send({ message: 'again' });
  expect(last.status()).toBe(400);
  const words = await last.text();
  expect(words).toContain('That was very quick.');
  expect(words).toContain('value="Robo"');
  await open(rep, '/deals/leads?owner=all&q=Robo');
  await expect(rep.getByText('No lead here')).toBeVisible();
  await open(admin, '/settings?part=leads');
  await expect(admin.getByText(/1 sendings? fell into the trap/)).toBeVisible();
});

test('a file from a fair becomes a lead each, under its campaign, for whom the rule says', async () => {
  await open(admin, '/settings?part=leads');
  await admin.getByLabel('in turn: who had none for longest').check();
  await admin.getByRole('checkbox', { name: 'Imogen Thorne' }).check();
  await admin.getByRole('button', { name: 'Save the rule' }).click();
  await expect(admin.getByText('New leads follow this rule from now on.')).toBeVisible();

  await open(admin, '/import');
  const csv =
    'Name,Company,E-mail\nVera Plover,Quayside Linen,vera@quayside.example\nIvo Nettle,Low Mill Bread,ivo@lowmill.example\n';
  await admin
    .locator('input[type=file]')
    .setInputFiles({ name: 'spring fair.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) });
  await admin.getByRole('checkbox', { name: /each as a lead/ }).check();
  await admin.getByLabel('Campaign of the leads').fill('spring fair');
  await admin.getByRole('button', { name: 'Write 2 new people' }).click();
  await open(rep, '/deals/leads?campaign=spring%20fair');
  for (const name of ['Vera Plover', 'Ivo Nettle'])
    await expect(rep.getByRole('row', { name: new RegExp(name) })).toBeVisible({ timeout: 20_000 });
  await expect(rep.getByRole('row', { name: /Vera Plover/ })).toContainText('Quayside Linen');
});
