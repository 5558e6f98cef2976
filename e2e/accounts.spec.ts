import { expect, test, type Page } from '@playwright/test';
import { Secret, TOTP } from 'otpauth';
import { choose } from './testing/choose';
import { opened } from './testing/dialog';
import { Installation } from './testing/installation';
import { collectComplaints, expectAccessible } from './testing/looks';

/** Somebody new: invited, with a password and a second factor of their own, and gone again; on the demo's firm. */
test.describe.configure({ mode: 'serial' });

let installation: Installation;
let admin: Page;
let rufus: Page;
let complaints: string[][];
let secret = '';
let recoveryCode = '';
const password = 'three grey herons at dawn';

test.beforeAll(async ({ browser }) => {
  installation = await Installation.make({ demo: true });
  admin = await (await browser.newContext()).newPage();
  rufus = await (await browser.newContext()).newPage();
  complaints = [collectComplaints(admin), collectComplaints(rufus)];
  await admin.goto(installation.url);
  await admin.getByRole('button', { name: /Petra Lund/ }).click();
  await expect(admin).toHaveURL(/\/round/);
});
test.afterAll(async () => {
  await admin.close();
  await rufus.close();
  await installation.stop();
});
/** A refused password and an ended session are answers that the browser writes down as complaints. */
const expected = /status of (400|401|403)/;
test.afterEach(() =>
  expect(complaints.flatMap((each) => each.splice(0)).filter((each) => !expected.test(each))).toEqual([]),
);

/** The app's code, `ahead` steps from now: each counts once. */
const code = (ahead = 0) =>
  new TOTP({ secret: Secret.fromBase32(secret) }).generate({ timestamp: Date.now() + ahead * 30_000 });

test('1. an admin invites; whoever has the link chooses a password, and comes in', async () => {
  await admin.goto(`${installation.url}/settings?part=team`);
  await admin.getByRole('button', { name: 'Invite somebody' }).click();
  const dialog = await opened(admin);
  await dialog.getByLabel('Name').fill('Rufus Dale');
  await dialog.getByLabel('E-mail address').fill('rufus@hollinbeck.example');
  await choose(dialog.getByLabel('Manager'), 'Corin Vale');
  await expectAccessible(admin);
  await dialog.getByRole('button', { name: 'Send the invitation' }).click();
  // No way for mail to leave is set up here: the admin hands the link on.
  const link = await admin.getByText(/\/account#/).innerText();
  const row = admin.getByRole('row', { name: /Rufus Dale/ });
  await expect(row).toContainText('invited, no password yet');
  await expect(row).toContainText('Corin Vale');

  await rufus.goto(link.trim());
  await expect(rufus.getByText('rufus@hollinbeck.example')).toBeVisible();
  await rufus.getByLabel(/^Password/).fill('RufusDale2026');
  await rufus.getByRole('button', { name: 'Save password and sign in' }).click();
  await expect(rufus.getByText('is little more than your name')).toBeVisible();
  await expectAccessible(rufus);
  await rufus.getByLabel(/^Password/).fill(password);
  await rufus.keyboard.press('Enter');
  await expect(rufus).toHaveURL(/\/round/);
  await rufus.goto(link.trim());
  await expect(rufus.getByText('This link was used or is too old')).toBeVisible();
});

test('2. a second factor is set up by its key, and asked for at the door', async () => {
  await rufus.goto(`${installation.url}/settings?part=account`);
  await rufus.getByRole('button', { name: 'Set up' }).click();
  secret = (await rufus.locator('.key').innerText()).replace(/\s/g, '');
  await rufus.getByLabel('The six digits that the app shows').fill(code(-1));
  await rufus.keyboard.press('Enter');
  const codes = rufus.getByRole('listitem').filter({ hasText: /^[A-Z2-9]{5}-[A-Z2-9]{5}$/ });
  await expect(codes).toHaveCount(10);
  recoveryCode = await codes.first().innerText();
  await expectAccessible(rufus);
  await rufus.getByRole('button', { name: 'I have kept them' }).click();

  await rufus.getByRole('button', { name: /Signed in as/ }).click();
  await rufus.getByRole('menuitem', { name: 'Sign out' }).click();
  await rufus.getByLabel('E-mail address').fill('rufus@hollinbeck.example');
  await rufus.getByLabel('Password').fill(password);
  await rufus.keyboard.press('Enter');
  await rufus.getByLabel(/^Code of the authenticator app/).fill(code());
  await expectAccessible(rufus);
  await rufus.keyboard.press('Enter');
  await expect(rufus).toHaveURL(/\/round/);
});

test('3. the demo’s accounts are warned of, now that somebody real is here', async () => {
  await admin.reload();
  await expect(admin.getByRole('link', { name: 'demo accounts are still here' })).toBeVisible();
  await expect(admin.getByText('6 demo accounts are still here.')).toBeVisible();
  await admin.getByRole('button', { name: 'Remove all demo accounts' }).click();
  await expect(admin.getByText('You are signed in with a demo account.')).toBeVisible();
});

test('4. under a narrow policy a rep finds only what is theirs or nobody’s', async () => {
  await admin.goto(`${installation.url}/settings?part=rights`);
  await admin.getByLabel(/^Their own and nobody/).check();
  await admin.getByRole('button', { name: 'Save rights' }).click();
  await expect(admin.getByText('Rights saved: they hold from now on.')).toBeVisible();
  await expectAccessible(admin);
  await rufus.goto(`${installation.url}/people?owner=all`);
  await expect(rufus.getByText(/Maud Ellery/)).toHaveCount(0);
  await rufus.getByPlaceholder('Find anything').fill('Maud Ellery');
  await expect(rufus.getByText(/Nothing|No/).first()).toBeVisible();
});

test('5. a session that is ended elsewhere covers the page; signed in again, what was typed is there', async ({
  browser,
}) => {
  await rufus.goto(`${installation.url}/round`);
  await rufus.getByRole('button', { name: /^Jot/ }).click();
  const jot = rufus.getByRole('textbox', { name: 'Jot one line' });
  await jot.fill('called Maud, half a sent');
  const elsewhere = await (await browser.newContext()).newPage();
  await elsewhere.goto(`${installation.url}/sign-in?to=/settings%3Fpart%3Daccount`);
  await elsewhere.getByLabel('E-mail address').fill('rufus@hollinbeck.example');
  await elsewhere.getByLabel('Password').fill(password);
  await elsewhere.keyboard.press('Enter');
  await elsewhere.getByLabel(/^Code of the authenticator app/).fill(code(1));
  await elsewhere.keyboard.press('Enter');
  await elsewhere.getByRole('button', { name: 'Sign out everywhere else' }).click();
  await expect(elsewhere.getByText('Signed out everywhere but here.')).toBeVisible();

  await rufus.keyboard.type('ence');
  const covered = rufus.getByRole('dialog', { name: 'You have been signed out' });
  await expect(covered).toBeVisible();
  await expectAccessible(rufus);
  await rufus.keyboard.type('not the password');
  await rufus.keyboard.press('Enter');
  await expect(covered.getByRole('alert')).toBeVisible();
  await covered.getByLabel('Password').fill(password);
  await rufus.keyboard.press('Enter');
  // Each code counts once: one of the codes kept for this is taken.
  await covered.getByLabel(/^Code of the authenticator app/).fill(recoveryCode);
  await rufus.keyboard.press('Enter');
  await expect(covered).toHaveCount(0);
  await expect(jot).toHaveValue('called Maud, half a sentence');

  // A browser that forgot what it kept asks the server who is there, and opens the page.
  await elsewhere.evaluate(() => localStorage.clear());
  await elsewhere.goto(`${installation.url}/tasks`);
  await expect(elsewhere.getByRole('heading', { name: 'Tasks' })).toBeVisible();
  await elsewhere.close();
  // One that knows nobody gets the door, and the way back; a way elsewhere is none.
  const unknown = await (await browser.newContext()).newPage();
  await unknown.goto(`${installation.url}/people?owner=all`);
  await expect(unknown).toHaveURL(/\/sign-in\?to=%2Fpeople%3Fowner%3Dall$/);
  await unknown.goto(`${installation.url}/sign-in?to=//elsewhere.example/round`);
  await unknown.getByRole('button', { name: /Petra Lund/ }).click();
  await expect(unknown).toHaveURL(`${installation.url}/round`);
  await unknown.close();
});

test('6. whoever leaves hands over and is out at once; undone, they may come in again', async () => {
  await admin.goto(`${installation.url}/settings?part=team`);
  await admin.getByRole('button', { name: 'Acts on Rufus Dale' }).click();
  await admin.getByRole('menuitem', { name: 'Deactivate and reassign' }).click();
  await expect(admin.getByText('They own nothing that has to be handed over.')).toBeVisible();
  await admin.getByRole('dialog').getByRole('button', { name: 'Deactivate' }).click();
  await expect(admin.getByText('1 deactivated are hidden')).toBeVisible();
  await rufus.goto(`${installation.url}/tasks`);
  await expect(rufus).toHaveURL(/\/sign-in\?to=%2Ftasks$/);
  await admin.getByRole('button', { name: 'Undo' }).click();
  await expect(admin.getByRole('row', { name: /Rufus Dale/ })).toContainText('active');
  await admin.goto(`${installation.url}/settings?part=security`);
  await expect(admin.getByRole('cell', { name: 'deactivated' })).toBeVisible();
  await expectAccessible(admin);
});
