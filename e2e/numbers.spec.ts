import { expect, type Page, test } from '@playwright/test';
import { choose } from './testing/choose';
import { Installation } from './testing/installation';
import { collectComplaints, expectAccessible } from './testing/looks';

/** Will we make it: what the month may bring, what it would if a deal came out otherwise, and whether chances can be trusted. */
test.describe.configure({ mode: 'serial' });

let installation: Installation;
let manager: Page;
let complaints: string[];
test.beforeAll(async ({ browser }) => {
  installation = await Installation.make({ demo: true });
  manager = await (await browser.newContext()).newPage();
  complaints = collectComplaints(manager);
  await manager.goto(installation.url);
  await manager.getByRole('button', { name: /Corin Vale/ }).click();
  await manager.waitForURL(/home|round/);
});
test.afterAll(async () => {
  await manager.close();
  await installation.stop();
});
test.afterEach(() => expect(complaints).toEqual([]));

const expected = () =>
  manager
    .locator('dl div')
    .filter({ hasText: /^expected/ })
    .locator('dd');
const amountOf = async () => Number((await expected().innerText()).replace(/\D/g, ''));

test('1. a manager goes there by keys, and asks for the team and the month after', async () => {
  await manager.keyboard.press('g');
  await manager.keyboard.press('u');
  await expect(manager.getByRole('heading', { name: 'Numbers' })).toBeVisible();
  await choose(manager.getByRole('combobox', { name: 'Whose deals' }), 'the team’s');
  await choose(manager.getByRole('combobox', { name: 'Period' }), 'December');
  await expect(manager).toHaveURL(/whose=team/);
  await expect(manager.getByText(/deals may close inside/)).toBeVisible();
  await expect.poll(amountOf).toBeGreaterThan(0);
  await expectAccessible(manager);
});

test('2. what if one is won: it is said beside what is foreseen, and nothing is saved', async () => {
  const before = await amountOf();
  const deals = manager.getByRole('table', { name: 'Deals that may close inside' });
  const first = deals.getByRole('row').nth(1);
  const name = await first.getByRole('link').innerText();
  await choose(first.getByRole('combobox', { name: `What if ${name}` }), 'it is won');
  const supposed = manager.getByText(/With what you suppose/);
  await expect(supposed).toContainText('(+£');
  expect(await amountOf()).toBe(before);
  await choose(first.getByRole('combobox', { name: `What if ${name}` }), 'it is worth');
  await first.getByRole('textbox', { name: `What ${name} would be worth` }).fill('1');
  await expect(supposed).toContainText('(−£');
  await manager.getByRole('button', { name: 'forget it' }).click();
  await expect(supposed).toBeHidden();
  await first.getByRole('link').click();
  await expect(manager.getByRole('heading', { name }).first()).toBeVisible();
});

test('3. the chances of stages are set against what came of deals', async () => {
  await manager.goto(`${installation.url}/numbers?part=chances`);
  const row = manager.getByRole('row').filter({ hasText: 'Sales Survey' });
  await expect(row).toContainText('25 %');
  await expect(manager.getByText(/Score: 0\.\d{3}/)).toBeVisible();
  await expectAccessible(manager);
});
