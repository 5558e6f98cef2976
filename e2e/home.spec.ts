import { expect, type Page, test } from '@playwright/test';
import { opened } from './testing/dialog';
import { Installation } from './testing/installation';
import { collectComplaints, expectAccessible } from './testing/looks';

/** A manager sets quotas and sees the board; a Home is arranged; colleagues talk, thank, and see what was logged. */
test.describe.configure({ mode: 'serial' });

let installation: Installation;
let corin: Page;
let imogen: Page;
let complaints: string[];
test.beforeAll(async ({ browser }) => {
  installation = await Installation.make({ demo: true });
  const signedIn = async (name: RegExp) => {
    const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
    await page.goto(installation.url);
    await page.getByRole('button', { name }).click();
    await expect(page).toHaveURL(/\/round/);
    return page;
  };
  [corin, imogen] = [await signedIn(/Corin Vale/), await signedIn(/Imogen Thorne/)];
  complaints = collectComplaints(corin);
});
test.afterAll(async () => {
  await corin.close();
  await imogen.close();
  await installation.stop();
});
test.afterEach(() => expect(complaints).toEqual([]));

const card = (page: Page, name: string) => page.getByRole('region', { name, exact: true });

test('1. a manager sets a quota by keys, undoes it, and whoever it is for is told', async () => {
  await corin.goto(`${installation.url}/team?part=quotas`);
  const cell = corin
    .getByRole('row', { name: /^Imogen Thorne/ })
    .getByRole('button', { name: /^Dec: £24,000, change it/ });
  await expect(cell).toBeVisible();
  await expectAccessible(corin);
  await cell.press('Enter');
  const dialog = await opened(corin);
  await dialog.getByLabel('Quota a month').fill('a lot');
  await dialog.getByRole('button', { name: 'Set it' }).click();
  await expect(dialog.getByText(/must be an amount in GBP/)).toBeVisible();
  await dialog.getByLabel('Quota a month').fill('30,000');
  await dialog.getByRole('button', { name: 'Set it' }).click();
  const december = corin.getByRole('button', { name: /^Dec: £30,000/ });
  await expect(december).toBeVisible();
  await corin.getByRole('button', { name: 'Undo' }).click();
  await expect(december).toHaveCount(0);
  await cell.click();
  await (await opened(corin)).getByLabel('Quota a month').fill('26,000');
  await corin.getByRole('dialog').getByRole('button', { name: 'Set it' }).click();
  await expect(corin.getByRole('button', { name: /^Dec: £26,000/ })).toBeVisible();
  await imogen.getByRole('button', { name: /new notifications/ }).click();
  await expect(imogen.getByText(/Corin Vale set your quota for December 2026: £26,000/)).toBeVisible();
  await imogen.keyboard.press('Escape');
});

test('2. the board of the month adds up what the team won', async () => {
  await corin.keyboard.press('g');
  await corin.keyboard.press('h');
  await expect(corin.getByRole('heading', { name: 'Home', exact: true })).toBeVisible();
  const month = card(corin, 'Month against quota, the team’s');
  await expect(month.getByRole('row', { name: /Imogen Thorne/ })).toBeVisible();
  await expectAccessible(corin);
  const pounds = (text: string) => Number(/£([\d,]+)/.exec(text)![1]!.replaceAll(',', ''));
  const rows = await month.getByRole('row').allTextContents();
  const sum = rows.slice(1).reduce((all, row) => all + pounds(row), 0);
  expect(pounds(await month.locator('.big').innerText())).toBe(sum);
  await card(corin, 'The team’s day').getByRole('link', { name: 'Imogen Thorne' }).click();
  await expect(corin.getByRole('heading', { name: /Imogen Thorne/ }).first()).toBeVisible();
});

test('3. a Home is arranged by mouse and keys, with one undo for each step, and stays so', async () => {
  await imogen.goto(`${installation.url}/home`);
  await expect(card(imogen, 'Today')).toBeVisible();
  const names = async () => imogen.locator('kettle-home-card h2').allTextContents();
  const before = await names();
  await imogen.getByRole('button', { name: 'Arrange' }).click();
  await imogen.getByRole('button', { name: 'Move Today down' }).press('ArrowDown');
  await expect.poll(names).toEqual([before[1], before[0], ...before.slice(2)]);
  await imogen.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(names).toEqual(before);
  const kept = async (act: () => Promise<void>) => {
    const reply = imogen.waitForResponse(
      (each) => each.url().endsWith('/api/home') && each.request().method() === 'PUT',
    );
    await act();
    expect((await reply).ok()).toBe(true);
  };
  await kept(() => imogen.getByRole('button', { name: 'Take Stirrings off' }).click());
  await expect(card(imogen, 'Stirrings')).toHaveCount(0);
  await imogen.getByRole('button', { name: 'Add a card' }).click();
  await kept(() => imogen.getByRole('menuitem', { name: 'Effort of the team' }).click());
  await expect(card(imogen, 'Effort of the team')).toBeVisible();
  const [from, to] = [
    (await card(imogen, 'Effort of the team').locator('.grip').boundingBox())!,
    (await card(imogen, 'Month against quota').locator('header').boundingBox())!,
  ];
  await imogen.mouse.move(from.x + from.width / 2, from.y + from.height / 2);
  await imogen.mouse.down();
  await imogen.mouse.move(to.x + 40, to.y + 20, { steps: 12 });
  await imogen.mouse.move(to.x + 60, to.y + 30, { steps: 4 });
  await kept(() => imogen.mouse.up());
  await expect.poll(async () => (await names())[0]).not.toBe('Effort of the team');
  const after = await names();
  await imogen.getByRole('button', { name: 'Done' }).click();
  await imogen.reload();
  await expect.poll(names).toEqual(after);
  await expect(imogen.getByText('as you arranged it')).toBeVisible();
});

test('4. what was logged is in the team log; a colleague thanks and comments, and both are told', async () => {
  await corin.keyboard.press('g');
  await corin.keyboard.press('e');
  await expect(corin.getByRole('heading', { name: 'Team', exact: true })).toBeVisible();
  await corin.getByRole('combobox', { name: 'Who' }).click();
  await corin.getByRole('option', { name: 'Imogen Thorne' }).click();
  await expect(corin).toHaveURL(/user=/);
  const entry = corin.getByRole('listitem').filter({ hasText: 'Imogen Thorne' }).first();
  await expect(entry).toBeVisible();
  await expectAccessible(corin);
  await entry.getByRole('button', { name: /^Acts on/ }).click();
  await corin.getByRole('menuitem', { name: 'thank' }).click();
  await expect(entry.getByText('thanked by Corin Vale')).toBeVisible();
  await entry.getByRole('button', { name: /^Acts on/ }).click();
  await corin.getByRole('menuitem', { name: 'comment' }).click();
  await entry.getByLabel(/^Comment/).fill('Well done @Dar');
  await corin.getByRole('option', { name: 'Dara Finch' }).click();
  await entry.getByRole('button', { name: 'Comment' }).click();
  await expect(entry.getByText('Well done @Dara Finch')).toBeVisible();
  await imogen.getByRole('button', { name: /new notifications/ }).click();
  await expect(imogen.getByText(/Corin Vale thanks you for what you logged/)).toBeVisible();
  await imogen.keyboard.press('Escape');
  await corin.goto(`${installation.url}/team?part=ranking`);
  await expect(corin.getByRole('row', { name: /Dara Finch/ })).toBeVisible();
});

test('5. colleagues talk about a record, seen at once; the journal stays the customer’s', async () => {
  for (const page of [corin, imogen]) {
    await page.goto(`${installation.url}/people?q=Maud%20Ellery&owner=all`);
    await page.getByRole('button', { name: 'Maud Ellery' }).first().click();
    await page.getByRole('tab', { name: 'Talk' }).click();
    await expect(page.getByText('Nobody said anything yet.')).toBeVisible();
  }
  await imogen.getByLabel(/^Say something/).fill('Does she still have the old softener?');
  await imogen.keyboard.press('Enter');
  await expect(corin.getByText('Does she still have the old softener?')).toBeVisible();
  await imogen.getByRole('button', { name: 'remove', exact: true }).click();
  await expect(corin.getByText('Does she still have the old softener?')).toHaveCount(0);
  await imogen.getByRole('button', { name: 'Undo' }).click();
  await expect(corin.getByText('Does she still have the old softener?')).toBeVisible();
  await imogen.getByRole('tab', { name: 'Journal' }).click();
  await expect(imogen.getByText('Does she still have the old softener?')).toHaveCount(0);
});

test('6. a manager shares leads out among several, sees how far leads came, and undoes it', async () => {
  await corin.goto(`${installation.url}/deals/leads?owner=all`);
  const boxes = corin.getByRole('main').getByRole('checkbox');
  await expect(boxes.nth(3)).toBeVisible();
  for (const at of [1, 2, 3]) await boxes.nth(at).click();
  await corin.getByRole('button', { name: /^Change owner/ }).click();
  const dialog = await opened(corin);
  await dialog.getByRole('combobox', { name: 'New owner' }).click();
  await corin.getByRole('option', { name: 'Dara Finch' }).click();
  await dialog.getByRole('checkbox', { name: 'Mina Okell' }).check();
  await dialog.getByRole('button', { name: 'Change owner', exact: true }).click();
  await expect(corin.getByText(/now with Dara Finch, Mina Okell/)).toBeVisible();
  await corin.getByRole('button', { name: 'Undo' }).click();
  await expect(corin.getByText('Undone.')).toBeVisible();
  await corin.getByRole('button', { name: 'Drop-off' }).click();
  await expect(corin.getByRole('heading', { name: 'By source' })).toBeVisible();
  await expectAccessible(corin);
});
