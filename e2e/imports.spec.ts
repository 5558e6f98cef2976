import { expect, type Page, test } from '@playwright/test';
import { choose } from './testing/choose';
import { Installation } from './testing/installation';
import { collectComplaints, expectAccessible } from './testing/looks';

/** A spreadsheet of deals comes in with the people it is about: judged, corrected, written, changed by a second one, and undone. */
test.describe.configure({ mode: 'serial' });

let installation: Installation;
let page: Page;
let complaints: string[];
test.beforeAll(async ({ browser }) => {
  installation = await Installation.make({ demo: true });
  page = await (await browser.newContext()).newPage();
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

const file = (name: string, ...lines: string[]) => ({
  name,
  mimeType: 'text/csv',
  buffer: Buffer.from(lines.join('\r\n')),
});
const people = file('people.csv', 'Name;E-mail;Company', 'Pia Packer;pia@packer.example;Packer Spa');
const deals = (value: string) =>
  file(
    'deals.csv',
    'What;Contact;How much;When',
    `Spa softener;Pia Packer;${value};24/12/2027`,
    'Nothing;Nobody Known;5;',
  );
const row = (text: string) => page.getByRole('row').filter({ hasText: text });
const sums = (text: string) => expect(page.getByText(text, { exact: true })).toBeVisible();

test('1. people and deals are chosen together: people first, and what a column holds is put right', async () => {
  await page.goto(`${installation.url}/import`);
  await page.locator('input[type=file]').setInputFiles([deals('1.500,00'), people]);
  await sums('1 new · 0 likely here · 0 known already · 0 twice in the file · 0 wrong');
  await expect(page.getByRole('list', { name: 'Files that were chosen together' })).toContainText(
    '1. people.csv',
  );
  await page.getByRole('button', { name: 'Write 1 new person' }).click();
  await expect(page.getByText('Done: 1 person written.')).toBeVisible();
  await page.getByRole('button', { name: 'Go on to deals.csv' }).click();
  await choose(page.getByLabel('What the column What holds'), 'name (needed)');
  await choose(page.getByLabel('What the column How much holds'), 'value');
  await choose(page.getByLabel('What the column When holds'), 'expected close');
  await sums('1 new · 0 likely here · 0 known already · 0 twice in the file · 1 wrong');
  await expect(row('Nobody Known')).toContainText(
    'Contact: nobody called Nobody Known is here; import people first.',
  );
  await expect(row('Spa softener')).toContainText('£1,500');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Write 1 new deal' }).click();
  await expect(page.getByText('Done: 1 deal written.')).toBeVisible();
  await page.getByRole('link', { name: 'See deals' }).click();
  await page.goto(`${installation.url}/deals?owner=mine&as=list&q=Spa softener`);
  await expect(page.getByText('Spa softener').first()).toBeVisible();
});

test('2. the next file of that make is read as the last one, and changes what is here when that is asked for', async () => {
  await page.goto(`${installation.url}/import?kind=deals`);
  await page.locator('input[type=file]').setInputFiles(deals('1.750,00'));
  await expect(page.getByText('As the last time that a file with these columns was imported.')).toBeVisible();
  await expect(row('Spa softener')).toContainText('value: £1,500 → £1,750');
  await page.getByRole('checkbox', { name: /also change 1/ }).check();
  await page.getByRole('button', { name: 'Change 1 deal' }).click();
  await expect(page.getByText('Done: 0 deals written, 1 changed.')).toBeVisible();
});

test('3. each file is undone by itself', async () => {
  await page.goto(`${installation.url}/changes`);
  const imported = page.getByRole('region', { name: 'Imported files' });
  await imported.getByRole('button', { name: 'Undo' }).first().click();
  await expect(imported.getByText('undone', { exact: true })).toHaveCount(1);
  await imported.getByRole('button', { name: 'Undo' }).first().click();
  await expect(imported.getByText('undone', { exact: true })).toHaveCount(2);
  await page.goto(`${installation.url}/deals?owner=all&as=list&q=Spa softener`);
  await expect(page.getByRole('heading', { name: /No deal/ })).toBeVisible();
});
