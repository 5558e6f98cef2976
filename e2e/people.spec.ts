import { type Browser, expect, type Page, test } from '@playwright/test';
import { choose } from './testing/choose';
import { opened } from './testing/dialog';
import { Installation } from './testing/installation';
import { collectComplaints, expectAccessible } from './testing/looks';

/** Everything about someone in one place: the grid, journal, tasks, Jot, duplicates, the pool, files, on the demo's people. */

let installation: Installation;
let page: Page;
let complaints: string[];
test.beforeAll(async ({ browser }) => {
  installation = await Installation.make({ demo: true });
  page = await signedIn(browser, /Imogen Thorne/);
  complaints = collectComplaints(page);
});
test.afterAll(async () => {
  await page.close();
  await installation.stop();
});
test.afterEach(() => expect(complaints).toEqual([]));

async function signedIn(browser: Browser, name: RegExp): Promise<Page> {
  const made = await (await browser.newContext()).newPage();
  await made.goto(installation.url);
  await made.getByRole('button', { name }).click();
  await expect(made).toHaveURL(/\/round/);
  return made;
}

/** Goes to a place and waits for the frame, so that no key is pressed before anybody listens. */
const go = async (path: string) => {
  await page.goto(installation.url + path);
  await expect(page.getByRole('button', { name: /^Jot/ })).toBeVisible();
};
const dossier = () => page.getByRole('complementary', { name: 'Dossier' });
const row = (name: string) => page.getByRole('row').filter({ hasText: name });
const open = async (name: string) => {
  await go(`/people?q=${encodeURIComponent(name)}`);
  await page.getByRole('grid').getByRole('button', { name, exact: true }).click();
  await expect(dossier().getByRole('heading', { name, exact: true })).toBeVisible();
};

test('an admin defines a field; it works in form, grid, filter and facts like a built-in one', async ({
  browser,
}) => {
  const admin = await signedIn(browser, /Petra Lund/);
  await admin.goto(`${installation.url}/settings?part=fields`);
  await admin.getByLabel('Name').fill('Boilers');
  await choose(admin.getByLabel('Holds'), 'a number');
  await admin.getByRole('button', { name: 'Add the field' }).click();
  await expect(admin.getByText('Boilers is added.')).toBeVisible();
  await expectAccessible(admin);
  await admin.close();

  await open('Maud Ellery');
  await dossier().getByRole('tab', { name: 'Facts' }).click();
  await dossier().getByRole('button', { name: 'Change', exact: true }).click();
  const dialog = await opened(page);
  await dialog.getByLabel('Boilers').fill('several');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog.getByText('“several” is not a number').first()).toBeVisible();
  await dialog.getByLabel('Boilers').fill('3');
  await dialog.getByText('Further addresses, numbers').click();
  await dialog.getByRole('button', { name: 'add an e-mail' }).click();
  await dialog.getByLabel('Address or link').fill('maud.home@penrow.example');
  await expectAccessible(page);
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dossier().getByText('maud.home@penrow.example')).toBeVisible();
  await expect(dossier().getByText('Boilers')).toBeVisible();

  await go('/people');
  await page.getByRole('button', { name: 'filter', exact: true }).click();
  await choose(page.getByLabel('Field'), 'Boilers');
  await choose(page.getByLabel('Question', { exact: true }), 'is more than');
  await page.getByLabel('Value', { exact: true }).fill('2');
  await page.getByLabel('Value', { exact: true }).press('Enter');
  await expect(page.getByText(/1 found · a filter hides \d+/)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'columns' }).click();
  await page.getByRole('menuitem', { name: 'show Boilers' }).click();
  await expect(page.getByRole('columnheader', { name: /Boilers/ })).toBeVisible();
  await page.getByRole('button', { name: 'show all' }).click();
  await expect(page.getByText(/154 found/)).toBeVisible();
});

test('4. the journal: a rich note dated back, an edit that keeps the old, removal and undo, a comment that tells', async ({
  browser,
}) => {
  await open('Maud Ellery');
  await dossier().getByRole('button', { name: 'Write a note' }).click();
  await dossier().getByRole('button', { name: 'Bold' }).click();
  await page.keyboard.type('Two boilers');
  await page.keyboard.type(' @dar');
  await page.keyboard.press('Tab');
  await page.keyboard.type('knows them');
  await dossier().getByLabel('When (empty: now)').fill('20/11/2026');
  await dossier().getByLabel('Time', { exact: true }).fill('1430');
  await dossier().getByRole('button', { name: 'Save' }).click();
  const journal = dossier().getByRole('list', { name: 'Journal' });
  const note = journal.getByRole('listitem').filter({ hasText: 'Two boilers' });
  await expect(note).toContainText('Two boilers @Dara Finch knows them');
  await expect(note.locator('strong')).toContainText('Two boilers');
  await expect(note).toContainText('Fri 20 Nov 14:30');

  await note.getByRole('button', { name: /Acts on/ }).click();
  await page.getByRole('menuitem', { name: 'edit' }).click();
  await page.getByRole('dialog').locator('.tiptap').fill('Three boilers');
  await page.getByRole('dialog').getByRole('button', { name: 'Save' }).click();
  const edited = journal.getByRole('listitem').filter({ hasText: 'Three boilers' });
  // What it said before is for managers.
  await expect(edited.getByRole('button', { name: 'edited' })).toHaveCount(0);

  await edited.getByRole('button', { name: /Acts on/ }).click();
  await page.getByRole('menuitem', { name: 'comment' }).click();
  // A name that is begun is proposed; Enter takes it and sends nothing.
  await edited.getByLabel(/^Comment/).pressSequentially('@cor');
  await expect(page.getByRole('option', { name: 'Corin Vale' })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(edited.getByLabel(/^Comment/)).toHaveValue('@Corin Vale ');
  await page.keyboard.type('is that worth a visit?');
  await edited.getByRole('button', { name: 'Comment', exact: true }).click();
  await expect(edited).toContainText('is that worth a visit?');
  await edited.getByRole('button', { name: /Acts on/ }).click();
  await page.getByRole('menuitem', { name: 'remove' }).click();
  await expect(edited).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(edited).toBeVisible();

  await dossier().getByRole('button', { name: 'filter', exact: true }).click();
  await choose(dossier().getByLabel('Kind'), 'Note');
  await expect(journal.getByRole('listitem')).toHaveCount(1);
  await expectAccessible(page);

  const manager = await signedIn(browser, /Corin Vale/);
  await manager.getByRole('button', { name: '1 new notifications' }).click();
  await manager.getByRole('menuitem', { name: /Imogen Thorne on Maud Ellery/ }).click();
  await expect(manager).toHaveURL(/\/people\/[0-9a-f-]{36}/);
  await expect(manager.getByText('Three boilers')).toBeVisible();
  const seen = manager.getByRole('listitem').filter({ hasText: 'Three boilers' });
  await seen.getByRole('button', { name: 'edited' }).click();
  await expect(manager.getByRole('dialog')).toContainText('Two boilers');
  await manager.close();
});

test('5. a visit asks whether it took place; done is ticked, or the matching step is proposed; by keyboard alone', async () => {
  await open('Maud Ellery');
  await page.locator('body').press('c');
  await expect(page).toHaveURL(/\/walk/);
  await page.getByRole('button', { name: 'Visit', exact: true }).click();
  await expect(page.getByText('Did it take place?')).toBeVisible();
  await page.keyboard.press('2');
  await page.keyboard.press('1');
  await expect(page.getByText('still reachable today')).toBeVisible();
  await page.getByRole('button', { name: 'Yes', exact: true }).click();
  await page.getByLabel('took readings').check();
  await expectAccessible(page);
  await page.getByRole('button', { name: /Save and continue/ }).click();
  await expect(page.getByText('Held: Maud Ellery.')).toBeVisible();
  // Back to where it was logged from.
  await expect(page).toHaveURL(/\/people\?.*q=Maud/);
  await expect(dossier().getByRole('list', { name: 'Journal' })).toContainText('took readings');
});

test('3. log from the quiet list and come back to the same place, with the person gone from it', async () => {
  await go('/people?quiet=yes&owner=mine&sort=-check-in');
  const first = page.getByRole('grid').locator('.pick').first();
  const name = (await first.textContent())!.trim();
  const before = Number(/(\d+) found/.exec((await page.getByText(/\d+ found/).textContent())!)![1]);
  await first.click();
  await expect(dossier().getByRole('heading', { name, exact: true })).toBeVisible();
  await page.locator('body').press('c');
  await expect(page.getByRole('heading', { name })).toBeVisible();
  await expect(page.locator('.outcomes button').first()).toBeVisible();
  await page.keyboard.press('1');
  await expect(page.getByRole('button', { name: /Save and continue/ })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/quiet=yes/);
  await expect(page.getByText(`${before - 1} found`)).toBeVisible();
  await expect(row(name)).toHaveCount(0);
});

test('7. a task for a colleague with a rule and a reminder; table, list and columns; defer, done, reopen', async ({
  browser,
}) => {
  await open('Maud Ellery');
  await page.locator('body').press('t');
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Purpose').fill('check the salt');
  await choose(dialog.getByLabel('Assigned to'), 'Dara Finch');
  await choose(dialog.getByLabel('Comes again'), 'by a rule of my own');
  await dialog.getByLabel(/Own rule/).fill('each monday');
  await dialog.getByRole('button', { name: 'Plan' }).click();
  await expect(dialog.getByText('is not a rule for repeating', { exact: true })).toBeVisible();
  await dialog.getByLabel(/Own rule/).fill('FREQ=WEEKLY;BYDAY=MO');
  await choose(dialog.getByLabel('Remind'), 'an hour before');
  await expectAccessible(page);
  await dialog.getByRole('button', { name: 'Plan' }).click();
  await expect(dialog).toHaveCount(0);

  const dara = await signedIn(browser, /Dara Finch/);
  await dara.goto(`${installation.url}/tasks`);
  const task = dara.getByRole('row').filter({ hasText: 'check the salt' });
  await expect(task).toContainText('comes again');
  await task.getByRole('button', { name: 'done' }).click();
  await expect(dara.getByText('Done: check the salt.')).toBeVisible();
  await expect(task).toContainText('Monday');
  await task.getByRole('button', { name: 'More about check the salt' }).click();
  await dara.getByRole('menuitem', { name: 'Defer' }).click();
  await dara.getByLabel('Another day').fill('2026-12-02');
  await dara.getByRole('button', { name: 'Defer', exact: true }).click();
  await expect(task).toContainText('Wed 2 Dec');
  await dara.getByRole('button', { name: 'by state' }).click();
  await expect(dara.getByRole('region', { name: 'done' })).toContainText('check the salt');
  await expect(dara.getByRole('region', { name: 'ahead' })).toContainText('check the salt');
  await expectAccessible(dara);
  await dara.getByRole('button', { name: 'list', exact: true }).click();
  const shown = dara.getByRole('button', { name: 'check the salt', exact: true });
  // The columns show what is done too; it leaves with them.
  await expect(shown).toHaveCount(1);
  await shown.click();
  await expect(dara.getByRole('complementary', { name: 'Dossier' })).toContainText('Maud Ellery');
  await dara.close();

  const manager = await signedIn(browser, /Corin Vale/);
  await manager.goto(`${installation.url}/tasks?owner=team&q=check%20the%20salt`);
  await manager
    .getByRole('row')
    .filter({ hasText: 'check the salt' })
    .getByRole('button', { name: 'More about check the salt' })
    .click();
  await manager.getByRole('menuitem', { name: 'Change' }).click();
  await choose(manager.getByRole('dialog').getByLabel('Assigned to'), 'Rhys Calder');
  await manager.getByRole('button', { name: 'Save' }).click();
  await expect(manager.getByRole('row').filter({ hasText: 'check the salt' })).toContainText('Rhys Calder');
  await manager.close();
});

test('8. Jot: one line becomes a log with its next step, by keyboard alone; what is unclear is asked, who is unknown is offered', async () => {
  await go('/round');
  await page.keyboard.press('j');
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByPlaceholder(/spoke to/)).toBeFocused();
  await page.keyboard.type('spoke to Tomas Quillen, wants price, call thursday 10');
  const chips = dialog.getByRole('list', { name: 'Understood as' });
  await expect(chips).toContainText('Tomas Quillen');
  await expect(chips).toContainText('Spoke');
  await expect(chips).toContainText('wants price');
  await expect(chips).toContainText('in 2 days · Thu 26 Nov 10:00');
  await expectAccessible(page);
  await page.keyboard.press('Enter');
  await expect(page.getByText('Spoke: Tomas Quillen.')).toBeVisible();
  await expect(dossier().getByRole('list', { name: 'Journal' })).toContainText('wants price');

  await page.locator('body').press('j');
  await page.keyboard.type('call Maud Ellery next thursday');
  await expect(dialog.getByText('“next thursday”: which one?')).toBeVisible();
  await expect(dialog.getByRole('button', { name: 'Plan' })).toBeDisabled();
  await dialog.getByRole('button', { name: 'Thu 3 Dec' }).click();
  await expect(chips).toContainText('in 9 days · Thu 3 Dec');
  await dialog.getByRole('button', { name: 'Plan' }).click();
  await expect(page.getByText('Planned: Maud Ellery.')).toBeVisible();
  await expect(dialog).toBeHidden();

  await page.locator('body').press('j');
  await page.keyboard.type('spoke to Casimir Vogel, wants a brochure');
  await dialog.getByRole('button', { name: 'Add Casimir Vogel' }).click();
  const form = page.getByRole('dialog').filter({ hasText: 'Add a person' });
  await expect(form.getByLabel('Family name')).toHaveValue('Vogel');
  await form.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(chips).toContainText('Casimir Vogel');
  await dialog.getByRole('button', { name: 'Log it' }).click();
  await expect(page.getByText('Spoke: Casimir Vogel.')).toBeVisible();
});

test('9. the grid: several sort fields, groups, edit in the cell with undo, a saved view to land on', async () => {
  await go('/people');
  await page.getByRole('button', { name: 'standing', exact: true }).click();
  await page.getByRole('button', { name: 'company', exact: true }).click({ modifiers: ['Shift'] });
  await expect(page).toHaveURL(/sort=standing,company/);
  await page.getByRole('button', { name: 'group', exact: true }).click();
  await page.getByRole('menuitem', { name: 'by standing' }).click();
  const group = page.getByRole('gridcell', { name: /^New \d+/ });
  await expect(group).toHaveAttribute('aria-expanded', 'true');
  await group.click();
  await expect(group).toHaveAttribute('aria-expanded', 'false');
  await page.getByRole('button', { name: 'views' }).click();
  await page.getByRole('menuitem', { name: 'Save this view' }).click();
  await page.getByRole('dialog').getByLabel('Name').fill('My order');
  await page.getByRole('dialog').getByRole('button', { name: 'Save' }).click();
  await page.getByRole('button', { name: 'My order' }).click();
  await page.getByRole('menuitem', { name: 'Open first', exact: true }).click();
  await go('/people');
  await expect(page).toHaveURL(/group=standing/);
  await page.getByRole('button', { name: 'My order' }).click();
  await page.getByRole('menuitem', { name: 'No longer open first' }).click();

  await open('Maud Ellery');
  await page.locator('body').press('ArrowRight');
  await page.locator('body').press('e');
  const cell = page.getByLabel('company of Maud Ellery');
  await cell.fill('Penrow Steam');
  await cell.press('Enter');
  await expect(page.getByText('Maud Ellery: company changed.')).toBeVisible();
  await expect(row('Maud Ellery').first()).toContainText('Penrow Steam');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('Undone.')).toBeVisible();
  await expect(row('Maud Ellery').first()).toContainText('Penrow Laundry');
});

test('10. many at once: shown first, carried out with progress, undone', async () => {
  await go('/people?owner=mine');
  await page.getByLabel('Pick Maud Ellery').check();
  await page.getByRole('button', { name: /^pick all \d+/ }).click();
  await page.locator('body').press('b');
  const dialog = await opened(page);
  await dialog.getByRole('button', { name: 'add a tag' }).click();
  await dialog.getByLabel('Tag', { exact: true }).fill('autumn');
  await expect(dialog.getByText(/\d+ will change/)).toBeVisible();
  await expectAccessible(page);
  await dialog.getByRole('button', { name: /^Change \d+/ }).click();
  await expect(dialog.getByText(/done: \d+ changed/)).toBeVisible({ timeout: 30_000 });
  await dialog.getByRole('button', { name: 'Undo it all' }).click();
  await expect(dialog.getByText(/undone for \d+/)).toBeVisible({ timeout: 30_000 });
  await dialog.getByRole('button', { name: 'Close' }).click();
});

test('11. a double is warned of while typing, merged field by field, and taken apart again', async () => {
  await go('/people');
  await page.locator('body').press('a');
  const form = page.getByRole('dialog');
  await form.getByLabel('Given name').fill('Nel');
  await form.getByLabel('Family name').fill('Harker');
  await form.getByLabel('Company', { exact: true }).fill('Harker & Daughter');
  await expect(form.getByText('Already here?')).toBeVisible();
  await expect(form.getByText(/both at Harker & Daughter/).first()).toBeVisible();
  await form.getByRole('button', { name: 'Cancel' }).click();

  await go('/people/duplicates');
  await expect(page.getByText('1 likely pair ·')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Merge' }).click();
  await expect(form.getByText('Nel Harker stays', { exact: true })).toBeVisible();
  await expectAccessible(page);
  await form.getByRole('button', { name: 'Merge' }).click();
  await expect(page.getByText('0 likely pairs ·')).toBeVisible();
  await page.getByRole('button', { name: 'take apart again' }).click();
  await expect(page.getByText('1 likely pair ·')).toBeVisible();
});

test('12. two claim one contact from the pool: one has it, the other is told who', async ({ browser }) => {
  const other = await signedIn(browser, /Mina Okell/);
  await go('/people?owner=unowned');
  await other.goto(`${installation.url}/people?owner=unowned`);
  const name = (await page.getByRole('grid').locator('.pick').first().textContent())!.trim();
  // The second page has not heard of it when it asks as well.
  const theirs = other.getByRole('row').filter({ hasText: name }).getByRole('button', { name: 'claim' });
  await expect(theirs).toBeVisible();
  await other.route('**/api/changes', (route) => route.abort());
  await other.route(/\/api\/contacts(\/count)?\?/, (route) => route.abort());
  await row(name).getByRole('button', { name: 'claim' }).click();
  await expect(page.getByText(`${name} is yours.`)).toBeVisible();
  await theirs.click();
  await expect(other.getByText(/Imogen Thorne was faster/)).toBeVisible();
  await other.close();
});

test('13. files: sent, looked at, too large is refused with the reason, taken away and back', async () => {
  await open('Maud Ellery');
  await dossier().getByRole('tab', { name: 'Files' }).click();
  const picture = Buffer.from(
    'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
    'base64',
  );
  const choose = dossier().getByLabel('Choose files');
  await choose.setInputFiles([
    { name: 'boiler.png', mimeType: 'image/png', buffer: picture },
    { name: 'page.html', mimeType: 'text/html', buffer: Buffer.from('<script>alert(1)</script>') },
  ]);
  await dossier().getByRole('button', { name: 'boiler.png', exact: true }).click();
  await expect(dossier().getByRole('img', { name: 'boiler.png' })).toHaveJSProperty('naturalWidth', 1);
  await expect(dossier().getByRole('button', { name: 'page.html', exact: true })).toHaveCount(0);
  await choose.setInputFiles({ name: 'empty.txt', mimeType: 'text/plain', buffer: Buffer.alloc(0) });
  await expect(dossier().getByRole('alert')).toContainText('empty.txt: it is empty.');
  await expectAccessible(page);
  await dossier().getByRole('button', { name: 'Take away page.html' }).click();
  await expect(page.getByText('page.html is removed.')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(dossier().getByText('page.html')).toBeVisible();
});

test('14. search across everything: names, digits in any form, what was written; by keyboard', async () => {
  await go('/round');
  const box = page.getByRole('combobox', { name: 'Find anything' });
  const hits = page.getByRole('listbox', { name: 'Found' });
  await page.keyboard.press('/');
  await page.keyboard.type('dunmere');
  await expect(hits.getByRole('option', { name: /company Dunmere Clinic/ })).toBeVisible();
  await box.fill('three boilers');
  await expect(hits.getByRole('option').filter({ hasText: 'Three boilers' })).toContainText('Maud Ellery');
  // Names and what was written are answered apart, and what was found before stays on screen until then.
  const answered = (among: string) =>
    page.waitForResponse((response) => response.url().includes(`960%20010&among=${among}`));
  await Promise.all([answered('names'), answered('notes'), box.fill('+44 1632-960 010')]);
  const maud = hits.getByRole('option', { name: /contact Maud Ellery/ });
  await expect(maud).toBeVisible();
  // Three people have this number, the first of them chosen.
  await expect(hits.getByRole('option').first()).toHaveAttribute('aria-selected', 'true');
  await page.keyboard.press('ArrowDown');
  await expect(maud).toHaveAttribute('aria-selected', 'true');
  await page.keyboard.press('Enter');
  await expect(dossier().getByRole('heading', { name: 'Maud Ellery' })).toBeVisible();
});

test('15. who is of no use any more is archived and deleted, and is back by one press', async () => {
  await open('Maud Ellery');
  await dossier().getByRole('button', { name: 'More acts' }).click();
  await page.getByRole('menuitem', { name: 'Archive this contact' }).click();
  await expect(page.getByText(/the (deal|agreement|lead) “.*” is/).first()).toBeVisible();

  await go('/people');
  await page.locator('body').press('a');
  const form = page.getByRole('dialog');
  await form.getByLabel('Given name').fill('Asher');
  await form.getByLabel('Family name').fill('Tolly');
  await form.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(dossier().getByRole('heading', { name: 'Asher Tolly' })).toBeVisible();
  await dossier().getByRole('button', { name: 'More acts' }).click();
  await page.getByRole('menuitem', { name: 'Archive this contact' }).click();
  await expect(page.getByText(/Asher Tolly.*archive/).first()).toBeVisible();
  await go('/people?q=Asher');
  await expect(page.getByText('Nobody matches')).toBeVisible();
  await page.getByRole('button', { name: 'archived' }).click();
  await expect(row('Asher Tolly')).toBeVisible();

  await row('Asher Tolly').getByRole('button', { name: 'Asher Tolly' }).click();
  await dossier().getByRole('button', { name: 'More acts' }).click();
  await page.getByRole('menuitem', { name: 'Delete this contact' }).click();
  await expect(row('Asher Tolly')).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await row('Asher Tolly').getByRole('button', { name: 'Asher Tolly' }).click();
  await dossier().getByRole('button', { name: 'More acts' }).click();
  await page.getByRole('menuitem', { name: 'Restore from the archive' }).click();
  await expect(row('Asher Tolly')).toHaveCount(0);
});

test('a company rolls up its people, deals and journal, and has sites', async () => {
  await go('/people/companies');
  await page.getByRole('button', { name: 'Dunmere Clinic', exact: true }).click();
  await expect(dossier().getByRole('heading', { name: 'Dunmere Clinic' })).toBeVisible();
  await expect(dossier().getByRole('list', { name: 'Journal' })).toContainText('with Tilda Quarrie');
  await expectAccessible(page);
  await dossier()
    .getByRole('tab', { name: /People/ })
    .click();
  await expect(dossier().getByRole('link', { name: 'Tilda Quarrie' })).toBeVisible();
});

test('on the road: People, Tasks and Jot at 390 x 844', async () => {
  await page.setViewportSize({ width: 390, height: 844 });
  for (const path of ['/people', '/tasks', '/people/duplicates']) {
    await go(path);
    await expect(page.getByRole('main')).toBeVisible();
    await expectAccessible(page);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  }
  await page.getByRole('button', { name: /^Jot/ }).click();
  await expect(page.getByPlaceholder(/spoke to/)).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press('Escape');
  await page.setViewportSize({ width: 1280, height: 800 });
});
