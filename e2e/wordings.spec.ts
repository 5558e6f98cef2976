import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { Installation } from './testing/installation';
import { collectComplaints, expectAccessible } from './testing/looks';

/** What goes out in others' names is released first; what is held of a person is given out and erased; on the demo's firm. */
test.describe.configure({ mode: 'serial' });

let installation: Installation;
let rep: Page;
let manager: Page;
let admin: Page;
let complaints: string[][];

test.beforeAll(async ({ browser }) => {
  installation = await Installation.make({ demo: true });
  const enter = async (name: RegExp) => {
    const page = await (await browser.newContext()).newPage();
    await page.goto(installation.url);
    await page.getByRole('button', { name }).click();
    await expect(page).toHaveURL(/\/round/);
    return page;
  };
  rep = await enter(/Imogen Thorne/);
  manager = await enter(/Corin Vale/);
  admin = await enter(/Petra Lund/);
  complaints = [rep, manager, admin].map((page) => collectComplaints(page));
});
test.afterAll(async () => {
  for (const page of [rep, manager, admin]) await page.close();
  await installation.stop();
});
test.afterEach(() => expect(complaints.flatMap((each) => each.splice(0))).toEqual([]));

test('a rep’s new text waits until a manager has read it, and is declined with a reason or released', async () => {
  await rep.goto(`${installation.url}/cadences/templates`);
  await rep.getByRole('button', { name: 'New template' }).click();
  const form = rep.getByRole('form', { name: 'The template' });
  await form.getByLabel('Name').fill('After the fair');
  await form.getByLabel('Subject').fill('Your water at the fair');
  await form.getByRole('textbox', { name: 'Text' }).fill('Good day, thank you for coming by.');
  await form.getByRole('button', { name: 'Send for release' }).click();
  await expect(rep.getByText('After the fair waits for release by a manager.')).toBeVisible();
  await expectAccessible(rep);

  await manager.goto(`${installation.url}/cadences/templates`);
  const waiting = manager.getByRole('region', { name: 'Waits for release' });
  await expect(waiting).toContainText('new by Imogen Thorne');
  await waiting.getByRole('button', { name: 'After the fair' }).click();
  const dialog = manager.getByRole('dialog');
  await expect(dialog).toContainText('thank you for coming by');
  await expectAccessible(manager);
  await dialog.getByRole('button', { name: 'Release it' }).click();
  await expect(manager.getByText('After the fair is released')).toBeVisible();
  // Until the page has heard of it, the text stands there too.
  await expect(rep.getByRole('region', { name: 'Waits for release' })).toHaveCount(0);
  await expect(rep.getByRole('button', { name: /^After the fair/ })).toBeVisible();
});

test('what is held of a person is saved with what is in their files, and erased by their name alone', async () => {
  await admin.goto(`${installation.url}/people?q=Maud`);
  await admin.getByRole('button', { name: 'Maud Ellery', exact: true }).click();
  const dossier = admin.getByRole('complementary', { name: 'Dossier' });
  await dossier.getByRole('button', { name: 'More acts' }).click();
  await admin.getByRole('menuitem', { name: 'Personal data …' }).click();
  const dialog = admin.getByRole('dialog');
  await expectAccessible(admin);
  const [file] = await Promise.all([
    admin.waitForEvent('download'),
    dialog.getByRole('link', { name: 'Save as JSON' }).click(),
  ]);
  const held = JSON.parse(readFileSync(await file.path(), 'utf8')) as {
    tables: Record<string, { rows: object[] }>;
    files: object;
  };
  expect(held.tables.contact!.rows).toHaveLength(1);
  expect(held.files).toEqual({});
  await dialog.getByRole('button', { name: 'Erase …' }).click();
  const name = dialog.getByLabel(/^Type the name/);
  await name.fill('Maud');
  await expect(dialog.getByRole('button', { name: /^Erase/ })).toBeDisabled();
  await name.fill('Maud Ellery');
  await dialog.getByRole('button', { name: /^Erase/ }).click();
  await expect(admin.getByText('What was held of them is erased.')).toBeVisible();
  await admin.goto(`${installation.url}/people?q=Maud%20Ellery`);
  await expect(admin.getByText('Nobody matches')).toBeVisible();
});
