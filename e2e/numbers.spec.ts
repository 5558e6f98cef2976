import { expect, type Page, test } from '@playwright/test';
import { choose } from './testing/choose';
import { Installation } from './testing/installation';
import { collectComplaints, expectAccessible } from './testing/looks';

/** Will we make it: what the month may bring, what it would if a deal came out otherwise, and whether chances can be trusted; and a report, from its figures to a mail. */
test.describe.configure({ mode: 'serial' });

let installation: Installation;
let manager: Page;
let complaints: string[];
test.beforeAll(async ({ browser }) => {
  installation = await Installation.make({ demo: true, outside: true });
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

test('4. where deals are lost: another question, its rows, its figures down to the deals', async () => {
  await manager.getByRole('link', { name: 'What do we win and lose?' }).click();
  await choose(manager.getByRole('combobox', { name: 'Period' }), 'this year');
  await choose(manager.getByRole('combobox', { name: 'Whose', exact: true }), 'the team’s');
  await choose(manager.getByRole('combobox', { name: 'Rows' }), 'by competitor');
  const table = manager.getByRole('table', { name: 'What do we win and lose?' });
  const first = table.getByRole('row').nth(1);
  await expect(first).toBeVisible();
  await expectAccessible(manager);
  const figure = first.getByRole('button', { name: /: lost, .*Show them/ }).first();
  const count = Number(await figure.innerText());
  await figure.press('Enter');
  await expect(manager.getByText(`${count} record`)).toBeVisible();
  const records = manager.locator('section.records').getByRole('row');
  await expect(records).toHaveCount(count + 1);
  await expectAccessible(manager);
  // The figure is in the address: a colleague who is sent it sees the same.
  await manager.reload();
  await expect(records).toHaveCount(count + 1);
});

test('5. it is taken as a file, and sent on by mail to whoever may read it', async () => {
  await manager.getByRole('button', { name: 'export' }).click();
  const download = manager.waitForEvent('download');
  await manager.getByRole('menuitem', { name: 'PDF' }).click();
  expect((await download).suggestedFilename()).toBe('lost.pdf');
  await manager.getByRole('button', { name: 'send by mail' }).click();
  const dialog = manager.getByRole('dialog');
  await dialog.getByRole('textbox', { name: 'Subject' }).fill('Where we lose');
  await dialog.getByRole('button', { name: 'Send' }).click();
  await expect(dialog.getByText(/must name somebody|enter|choose/i).first()).toBeVisible();
  await dialog.getByRole('combobox', { name: 'To' }).click();
  await manager.getByRole('option', { name: 'Corin Vale' }).click();
  await manager.keyboard.press('Escape');
  await dialog.getByRole('button', { name: 'Send' }).click();
  await expect(manager.getByText('It is on its way.')).toBeVisible();
  await expect
    .poll(async () => {
      const reply = await manager.request.get(`${installation.outside}/happened`);
      const { events } = (await reply.json()) as { events: { kind: string; text: string }[] };
      return events.filter(({ text }) => text.includes('Corin Vale sends you a report.')).length;
    })
    .toBe(1);
});

test('6. pinned to Home it is a card, whose bars lead back to it; and undone', async () => {
  await manager.getByRole('button', { name: 'pin to Home' }).click();
  await expect(manager.getByText(/is the first card on Home/)).toBeVisible();
  await manager.goto(`${installation.url}/home`);
  const card = manager.locator('kettle-report-card');
  await expect(card).toBeVisible();
  await card.getByRole('link').first().click();
  await expect(manager.getByRole('heading', { name: 'What do we win and lose?' })).toBeVisible();
  await expect(manager).toHaveURL(/by=competitor/);
});
