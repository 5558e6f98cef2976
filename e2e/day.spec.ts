import { expect, test, type Page } from '@playwright/test';
import { choose } from './testing/choose';
import { opened } from './testing/dialog';
import { Installation } from './testing/installation';
import { collectComplaints, expectAccessible } from './testing/looks';

/** The day's loop on a fresh installation, from the first admin to a restart. */
test.describe.configure({ mode: 'serial' });

let installation: Installation;
let page: Page;
let complaints: string[];
test.beforeAll(async ({ browser }) => {
  installation = await Installation.make();
  page = await (await browser.newContext()).newPage();
  complaints = collectComplaints(page);
});
test.afterAll(async () => {
  await page.close();
  await installation.stop();
});
test.afterEach(() => expect(complaints).toEqual([]));

const go = (path: string) => page.goto(installation.url + path);
const row = (name: string) => page.getByRole('row').filter({ hasText: name });
const roundRow = (name: string) => page.locator('kettle-round-row').filter({ hasText: name });

const csv = [
  'Name;Firm;E-mail;Telephone;Country',
  'Maud Ellery;Penrow Laundry;maud@penrow.example;01632 960101;United Kingdom',
  'Tomas Quillen;Skell Bakery;tomas@skell.example;01632 960102;',
  'Ines Prado;Lavandaria do Cais;ines@cais.example;;Portugal',
  'Greta Holm;Hotel Linde;greta@linde.example;01632 960104;',
  'Nobody;;not an address;12;Atlantis',
].join('\r\n');

test('1. the first admin comes in, goes out, and signs in again', async () => {
  await go('/');
  await expect(page.getByRole('heading', { name: 'Nobody is here yet' })).toBeVisible();
  await expectAccessible(page);
  await page.getByLabel('Your name').fill('Petra Lund');
  await page.getByLabel('E-mail address').fill('petra@hollinbeck.example');
  await page.getByLabel(/Password/).fill('short');
  await page.getByRole('button', { name: 'Create the first admin' }).click();
  await expect(page.getByText('must be at least 12 characters long')).toBeVisible();
  await expect(page.getByLabel('Your name')).toHaveValue('Petra Lund');
  await page.getByLabel(/Password/).fill('steam over the ash');
  await page.getByRole('button', { name: 'Create the first admin' }).click();
  await expect(page.getByRole('heading', { name: 'Nothing waits for you today' })).toBeVisible();
  await page.getByRole('button', { name: 'Signed in as Petra Lund' }).click();
  await page.getByRole('menuitem', { name: 'Sign out' }).click();
  await page.getByLabel('E-mail address').fill('petra@hollinbeck.example');
  await page.getByLabel('Password').fill('not this one');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('alert')).toContainText('do not belong together');
  await page.getByLabel('Password').fill('steam over the ash');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page).toHaveURL(/\/round/);
});

test('2. a CSV is judged, corrected and written; the same file makes no second copy; a vCard comes too', async () => {
  await go('/import');
  const file = { name: 'people.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) };
  await page.locator('input[type=file]').setInputFiles(file);
  await expect(
    page.getByText('4 new · 0 likely here · 0 known already · 0 twice in the file · 1 wrong'),
  ).toBeVisible();
  const wrong = page.getByRole('row').filter({ hasText: 'Atlantis' });
  await expect(wrong).toContainText('6');
  await expect(wrong).toContainText('Country: “Atlantis” is not a country known here');
  await expect(wrong).toContainText('Telephone: “12” is not a telephone number');
  await choose(page.getByLabel('What the column Firm holds'), 'leave out');
  await expect(page.getByRole('cell', { name: 'Penrow Laundry' })).toHaveCount(0);
  await choose(page.getByLabel('What the column Firm holds'), 'company');
  await expect(page.getByRole('cell', { name: 'Penrow Laundry' })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Write 4 new people' }).click();
  await expect(page.getByText('Done: 4 people written.')).toBeVisible();

  await page.getByRole('button', { name: 'Import another file' }).click();
  await page.locator('input[type=file]').setInputFiles(file);
  await expect(page.getByText('0 new · 0 likely here · 4 known already')).toBeVisible();
  await expect(page.getByText('This very file was imported')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Write 0 new people' })).toBeDisabled();

  await page.getByRole('button', { name: 'Choose another file' }).click();
  const card =
    'BEGIN:VCARD\r\nVERSION:4.0\r\nN:Tarrant;Owen;;;\r\nFN:Owen Tarrant\r\nORG:Marrow Brewing\r\nTEL;VALUE=uri:tel:+44-1632-960105\r\nEMAIL:owen@marrow.example\r\nEND:VCARD\r\n';
  await page
    .locator('input[type=file]')
    .setInputFiles({ name: 'owen.vcf', mimeType: 'text/vcard', buffer: Buffer.from(card) });
  await page.getByRole('button', { name: 'Write 1 new person' }).click();
  await expect(page.getByText('Done: 1 person written.')).toBeVisible();
  await page.getByRole('link', { name: 'See people' }).click();
  await expect(row('Owen Tarrant')).toBeVisible();
});

test('3. People: search as you type, sort, the dossier beside the list, a tether for each', async () => {
  await go('/people');
  await expect(page.getByText('5 found')).toBeVisible();
  await page.keyboard.press('f');
  await page.keyboard.type('lavand');
  await expect(page.getByText('1 found · a filter hides 4')).toBeVisible();
  await expect(row('Ines Prado')).toBeVisible();
  await page.getByRole('button', { name: 'show all' }).click();
  await page.getByRole('button', { name: 'company', exact: true }).click();
  await expect(page.getByRole('columnheader', { name: 'company' })).toHaveAttribute('aria-sort', 'ascending');
  await expect(page.getByRole('row').nth(1)).toContainText('Hotel Linde');
  await expect(row('Ines Prado').getByRole('img', { name: 'never touched; no next step' })).toBeVisible();
  await row('Ines Prado').getByRole('button', { name: 'Ines Prado' }).click();
  const dossier = page.getByRole('complementary', { name: 'Dossier' });
  await expect(dossier.getByRole('heading', { name: 'Ines Prado' })).toBeVisible();
  await expect(row('Tomas Quillen')).toBeVisible();
  await expectAccessible(page);
  await page.reload();
  await expect(dossier.getByRole('heading', { name: 'Ines Prado' })).toBeVisible();
});

test('4. two people start on the three-step cadence, with the planned dates shown before', async () => {
  await go('/people');
  await page.getByLabel('Pick Maud Ellery').check();
  await page.getByLabel('Pick Owen Tarrant').check();
  await page.getByRole('button', { name: 'Start 2 on a cadence' }).click();
  const dialog = page.getByRole('dialog');
  const maud = dialog.locator('.people > li').filter({ hasText: 'Maud Ellery' });
  await expect(maud.locator('.moments li')).toHaveText([
    /Tue 24 Nov 09:30/,
    /Wed 25 Nov 09:30/,
    /Mon 30 Nov 09:30/,
  ]);
  await expectAccessible(page);
  await dialog.getByRole('button', { name: 'Start 2' }).click();
  await expect(page.getByText('2 started.')).toBeVisible();
  await expect(row('Maud Ellery')).toContainText('today');
});

test('7. a deal with its next step, a call logged against it, an agreement', async () => {
  await go('/people');
  await row('Greta Holm').getByRole('button', { name: 'Greta Holm' }).click();
  const dossier = page.getByRole('complementary', { name: 'Dossier' });
  await dossier.getByRole('tab', { name: 'Deals' }).click();
  await dossier.getByRole('button', { name: 'New deal' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByLabel('What it is about')).toBeFocused();
  await dialog.getByLabel('What it is about').fill('Softener for the spa');
  await dialog.getByLabel(/^Value/).fill('a lot');
  await dialog.getByLabel('Next step: purpose').fill('agree the survey');
  await dialog.getByRole('button', { name: 'Create deal' }).click();
  await expect(dialog.getByText('must be an amount in GBP such as 4,400')).toBeVisible();
  await dialog.getByLabel(/^Value/).fill('12.4k');
  await choose(dialog.getByRole('combobox', { name: 'Stage' }), 'Survey · 25 %');
  await dialog.getByLabel('When').fill('2026-11-24');
  await expectAccessible(page);
  await dialog.getByRole('button', { name: 'Create deal' }).click();
  await go('/deals?as=list');
  await expect(page.getByText('1 open · £12,400 · weighted £3,100')).toBeVisible();
  await page.getByRole('button', { name: 'Softener for the spa' }).click();
  await expectAccessible(page);
  await dossier.getByRole('button', { name: 'Call' }).click();
  await expect(page.locator('.outcomes button').first()).toBeVisible();
  // What is planned for today is most likely it; this call was another one.
  const planned = page.getByRole('group', { name: 'Was it a planned step?' });
  await expect(planned.getByRole('button', { name: /agree the survey/ })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  await page.keyboard.press('y');
  await expect(planned.getByRole('button', { name: 'no' })).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('1');
  await expect(page.getByRole('button', { name: /Save and continue/ })).toBeVisible();
  await page.keyboard.press('n');
  await page.keyboard.type('The survey waits for the owner.');
  await page.getByRole('button', { name: 'no next step' }).click();
  await page.getByLabel(/No next step, because/).fill('she calls us');
  await page.getByRole('button', { name: 'Save and continue' }).click();
  await expect(page.getByText('Spoke: Greta Holm.')).toBeVisible();
  await go('/deals?as=list');
  await page.getByRole('button', { name: 'Softener for the spa' }).click();
  await expect(dossier.getByText('The survey waits for the owner.')).toBeVisible();

  await go('/people');
  await row('Ines Prado').getByRole('button', { name: 'Ines Prado' }).click();
  await dossier.getByRole('tab', { name: 'Agreements' }).click();
  await dossier.getByRole('button', { name: 'New agreement' }).click();
  await expect(dialog.getByLabel('What they have bought')).toBeFocused();
  await dialog.getByLabel('What they have bought').fill('Yearly service');
  await dialog.getByLabel('Starts').fill('2025-12-31');
  await dialog.getByLabel('Value of the term').fill('3,180');
  await dialog.getByLabel('Notice before the end').fill('33');
  await dialog.getByRole('button', { name: 'Create agreement' }).click();
  await expect(dossier.getByText('notice until in 3 days · Fri 27 Nov')).toBeVisible();
  await go('/renewals');
  await expect(page.getByText('1 agreement · £3,180 a year')).toBeVisible();
  await expectAccessible(page);
});

test('5. the Round: steps, a task, the agreement whose notice is near, in computed order with reasons and arithmetic', async () => {
  await go('/round');
  await expect(page.locator('kettle-round-row')).toHaveCount(4);
  await expect(roundRow('Ines Prado')).toContainText('notice closes in 3 days · agreement £3,180 a year');
  await expect(roundRow('Maud Ellery')).toContainText('step 1 of 3, due today');
  await expect(roundRow('Greta Holm')).toContainText('agree the survey');
  await page.keyboard.press('ArrowDown');
  await expect(page.locator('kettle-round-row.chosen')).toContainText(
    /Done today £[\d,.]+; left, .* waiting costs £[\d,.]+ for \d+ min/,
  );
  await expectAccessible(page);
  // Meetings take the day's free minutes, and the cut line appears.
  await page
    .getByRole('button', { name: /minutes free: plan an appointment/ })
    .first()
    .click();
  const dialog = page.getByRole('dialog');
  // The dialog puts the cursor into its first field when it has opened; who types before that types there.
  await expect(dialog.getByLabel('Title')).toBeFocused();
  await dialog.getByLabel('Title').fill('Training');
  await dialog.getByLabel('Length').fill('485');
  await dialog.getByRole('button', { name: 'Plan', exact: true }).click();
  await expect(page.getByText('the day’s free minutes end here')).toBeVisible();
  await expect(page.locator('ol.below kettle-round-row')).toHaveCount(4);
  await page.getByRole('button', { name: 'Training' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Call off …' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Call off', exact: true }).click();
  await expect(page.locator('ol.above kettle-round-row')).toHaveCount(4);
});

test('6. from a due row to a call logged with its next step: three keys; undo puts it back', async () => {
  await go('/round');
  await expect(page.locator('kettle-round-row')).toHaveCount(4);
  await roundRow('Maud Ellery').getByRole('button').first().click();
  await page.keyboard.press('w');
  // The walk's own heading: the dossier beside the Round has one too.
  await expect(page.getByRole('heading', { name: 'Maud Ellery', level: 1 })).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press('2');
  await expect(page.getByText(/First contact, step 2 of 3.*tomorrow · Wed 25 Nov/)).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByText('No answer: Maud Ellery.')).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Maud Ellery' })).toHaveCount(0);
  await expect(page.getByText(/[234] of 4 in today’s round/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('Undone')).toBeVisible();
  await go('/round');
  await expect(page.locator('kettle-round-row')).toHaveCount(4);

  await roundRow('Maud Ellery').getByRole('button').first().click();
  await page.keyboard.press('w');
  // The walk's own heading: the dossier beside the Round has one too.
  await expect(page.getByRole('heading', { name: 'Maud Ellery', level: 1 })).toBeVisible();
  await page.keyboard.press('2');
  await page.keyboard.press('Enter');
  await expect(page.getByText('No answer: Maud Ellery.')).toBeVisible();
  await go('/people');
  await row('Maud Ellery').getByRole('button', { name: 'Maud Ellery' }).click();
  const dossier = page.getByRole('complementary', { name: 'Dossier' });
  await expect(
    dossier.getByRole('img', { name: 'last tried today by phone; next: e-mail tomorrow' }),
  ).toBeVisible();
  await expect(dossier.getByText('First contact, step 2 of 3')).toBeVisible();
  await expect(dossier.getByRole('list', { name: 'Journal' })).toContainText('No answer');
});

test('a half-written note survives a reload, and the walk says when it is over', async () => {
  await go('/round');
  await roundRow('Owen Tarrant').getByRole('button').first().click();
  await page.keyboard.press('w');
  await expect(page.getByRole('heading', { name: 'Owen Tarrant' })).toBeVisible();
  await expect(page.getByPlaceholder(/What was said/)).toBeVisible();
  await page.keyboard.press('n');
  await page.keyboard.type('He asked about 3 things');
  await page.reload();
  await expect(page.getByPlaceholder(/What was said/)).toHaveValue('He asked about 3 things');
  await page.getByRole('link', { name: 'end the walk' }).click();
  await expect(page.getByRole('heading', { name: 'What came of the walk' })).toBeVisible();
});

test('two people change one deal: the second sees the first one’s change and keeps what was typed', async ({
  browser,
}) => {
  await go('/deals?as=list');
  await page.getByRole('button', { name: 'Softener for the spa' }).click();
  await page.getByRole('complementary').getByRole('button', { name: 'Change', exact: true }).click();
  const dialog = await opened(page);
  await expect(dialog.getByLabel(/^Value/)).toHaveValue('12,400');
  await dialog.getByLabel(/^Value/).fill('15,000');
  const other = await (
    await browser.newContext({ storageState: await page.context().storageState() })
  ).newPage();
  await other.goto(page.url());
  await other.getByRole('complementary').getByRole('button', { name: 'Change', exact: true }).click();
  await expect(other.getByLabel(/^Value/)).toHaveValue('12,400');
  await other.getByLabel(/^Value/).fill('13,000');
  await other.getByRole('button', { name: 'Save' }).click();
  await expect(other.getByText('1 open · £13,000')).toBeVisible();
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog.getByRole('alert')).toContainText('Somebody changed this while you worked on it');
  await expect(dialog.getByText('Theirs: £13,000')).toBeVisible();
  await expect(dialog.getByLabel(/^Value/)).toHaveValue('15,000');
  await dialog.getByLabel('Mine: £15,000').check();
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('1 open · £15,000')).toBeVisible();
  // The other browser hears of it without a reload.
  await expect(other.getByText('1 open · £15,000')).toBeVisible();
  await other.close();
});

test('8. after a restart of the server everything is still there, and the open page finds its way back', async () => {
  await go('/round');
  await expect(page.locator('kettle-round-row')).toHaveCount(3);
  await installation.stop();
  await expect(page.getByText('not connected')).toBeVisible();
  await installation.start();
  await expect(page.getByText('not connected')).toHaveCount(0, { timeout: 20_000 });
  await page.reload();
  await expect(page.locator('kettle-round-row')).toHaveCount(3);
  await go('/deals?as=list');
  await expect(page.getByText('1 open · £15,000')).toBeVisible();
  await go('/people');
  await expect(page.getByText('5 found')).toBeVisible();
});
