import { expect, type Page, test } from '@playwright/test';
import { choose } from './testing/choose';
import { opened } from './testing/dialog';
import { Installation } from './testing/installation';
import { collectComplaints, expectAccessible } from './testing/looks';

/** From a won deal over a year of clock to the next term; what is at stake, and what stays. */
test.describe.configure({ mode: 'serial' });

let installation: Installation;
let page: Page;
let complaints: string[];
let agreement = '';
let wonDeal = '';
test.beforeAll(async ({ browser }) => {
  installation = await Installation.make({ demo: true });
  page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  complaints = collectComplaints(page);
  await page.goto(installation.url);
  await page.getByRole('button', { name: /Imogen Thorne/ }).click();
  await page.waitForURL(/round/);
});
test.afterAll(async () => {
  await page.close();
  await installation.stop();
});
test.afterEach(() => expect(complaints).toEqual([]));

const go = (path: string) => page.goto(`${installation.url}${path}`);
/** Days pass while the server is off; what they brought is caught up with. */
async function wait(on: string): Promise<void> {
  await installation.goTo(`${on}T09:10:00.000Z`);
  complaints.length = 0;
}

test('1. a deal is won with an agreement, which has a page of its own', async () => {
  await go('/deals');
  await page.locator('.deal .name').filter({ hasText: 'Skell Bakery' }).first().click();
  const dossier = page.getByRole('complementary', { name: 'Dossier' });
  await dossier.getByRole('button', { name: 'Won', exact: true }).click();
  const dialog = await opened(page);
  await dialog.getByRole('combobox', { name: 'What won it' }).fill('service');
  const box = dialog.getByLabel('with an agreement');
  if (!(await box.isChecked())) await box.check();
  await dialog.getByLabel('What it is for').fill('Basin care');
  await dialog.getByLabel('Value of the term').fill('4,800');
  await dialog.getByRole('button', { name: 'It is won' }).click();
  await expect(dialog).toHaveCount(0);
  await go('/renewals');
  await page.getByRole('link', { name: /Basin care/ }).click();
  await expect(page.getByRole('heading', { name: 'Basin care', level: 1 })).toBeVisible();
  agreement = new URL(page.url()).pathname;
  await expect(page.getByText('notice until')).toBeVisible();
  await expectAccessible(page);
  wonDeal = (await page.getByRole('definition').getByRole('link').last().getAttribute('href')) ?? '';
});

test('2. more in mid-term by the keyboard, refused where the day is wrong, and undone', async () => {
  await page.getByRole('button', { name: 'More or less' }).press('Enter');
  const dialog = await opened(page);
  await dialog.getByLabel('A whole term brings').fill('6,000');
  await dialog.getByLabel('From').fill('1.1.2020');
  await dialog.getByLabel('Why').fill('a second basin');
  await dialog.getByRole('button', { name: 'Change the value' }).press('Enter');
  await expect(dialog.getByText(/lies before the start/)).toBeVisible();
  await expect(dialog.getByLabel('Why')).toHaveValue('a second basin');
  await dialog.getByLabel('From').fill('1.2.2027');
  await dialog.getByLabel('From').press('Enter');
  await expect(dialog).toHaveCount(0);
  await expect(page.getByText(/£6,000 a term from/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('Undone.')).toBeVisible();
  await expect(page.getByText(/£6,000 a term from/)).toHaveCount(0);
});

test('3. a year later its renewal has begun: a deal, a task in the Round, and a word to whoever leads it', async () => {
  await wait('2027-08-24');
  await go(agreement);
  await page.getByRole('link', { name: 'Go to its renewal' }).click();
  await expect(page.getByRole('heading', { name: 'Basin care, 2027' })).toBeVisible();
  await expect(page.getByText('To talk about, Renewals')).toBeVisible();
  await expect(page.getByText('Talk about the next term: Basin care').first()).toBeVisible();
  await expect(page.getByText(/Basin care: £4,800 for 12 months, with us since/)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: /new notifications/ }).click();
  await expect(page.getByText(/A renewal comes up: Basin care/).first()).toBeVisible();
  await page.keyboard.press('Escape');
});

test('4. it is won for two years; the deal of last year is as it was', async () => {
  await page.getByRole('button', { name: 'Won', exact: true }).click();
  const dialog = await opened(page);
  await expect(dialog.getByText(/Basin care: the next term, from/)).toBeVisible();
  await dialog.getByRole('combobox', { name: 'What won it' }).fill('service');
  await dialog.getByLabel('Final value').fill('9,900');
  await dialog.getByRole('textbox', { name: /^Term/ }).fill('24');
  await expectAccessible(page);
  await dialog.getByRole('button', { name: 'It is won' }).click();
  await expect(dialog).toHaveCount(0);
  await go(agreement);
  await expect(page.getByText(/renewed · this term ends/)).toBeVisible();
  await expect(page.getByRole('cell', { name: '£9,900' })).toBeVisible();
  await expect(page.getByRole('cell', { name: '£4,950' })).toBeVisible();
  await go(wonDeal);
  await expect(page.getByText(/won on Tue 24 Nov 2026/).first()).toBeVisible();
});

test('5. its next term runs; what is at stake and what stays say so, and each figure opens its customers', async ({
  browser,
}) => {
  await wait('2027-12-01');
  // Half a year of days is caught up with meanwhile.
  await expect(async () => {
    await go(agreement);
    await expect(page.getByText('term 2', { exact: true })).toBeVisible({ timeout: 3_000 });
  }).toPass({ timeout: 60_000 });
  await go('/renewals?owner=all&as=at%20stake');
  await expect(
    page.getByRole('heading', { name: 'At stake by the month in which notice closes' }),
  ).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'retention' }).click();
  await expect(page.getByText(/gross .* stayed/)).toBeVisible();
  await expectAccessible(page);
  const figure = page.getByRole('cell').getByRole('button', { name: /^£/ }).first();
  await figure.click();
  await expect(page.getByRole('columnheader', { name: 'customer', exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'timeline' }).click();
  await page.getByRole('button', { name: /^renewed/ }).click();
  await expect(page).toHaveURL(/window=renewed/);
  await expect(page.getByRole('link', { name: /Basin care/ })).toBeVisible();

  // A colleague reads it and cannot change it; a manager sees a notice come in at once.
  const other = await (await browser.newContext()).newPage();
  await other.goto(installation.url);
  await other.getByRole('button', { name: /Corin Vale/ }).click();
  await other.waitForURL(/round/);
  await other.goto(`${installation.url}${agreement}`);
  await go(agreement);
  await page.getByRole('button', { name: 'Notice or end' }).click();
  const dialog = await opened(page);
  await choose(dialog.getByRole('combobox', { name: 'How' }), 'they gave notice');
  await dialog.getByRole('combobox', { name: 'Why' }).fill('price');
  await dialog.getByRole('button', { name: 'End it' }).click();
  await expect(dialog).toHaveCount(0);
  await expect(page.getByText(/leaves .* · price/)).toBeVisible();
  await expect(other.getByText(/leaves .* · price/)).toBeVisible();
  await other.getByRole('button', { name: 'They stay' }).click();
  await expect(page.getByRole('button', { name: 'Notice or end' })).toBeVisible();
  await other.close();
});
