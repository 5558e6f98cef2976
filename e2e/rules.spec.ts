import { expect, type Page, test } from '@playwright/test';
import { choose } from './testing/choose';
import { Installation } from './testing/installation';
import { collectComplaints, expectAccessible } from './testing/looks';

/** A house rule: written by choosing, tried out, switched on, at work, and undone. */
test.describe.configure({ mode: 'serial' });

let installation: Installation;
let admin: Page;
let rep: Page;
let complaints: string[][];
test.beforeAll(async ({ browser }) => {
  installation = await Installation.make({ demo: true });
  admin = await (await browser.newContext()).newPage();
  rep = await (await browser.newContext()).newPage();
  complaints = [collectComplaints(admin), collectComplaints(rep)];
  await signIn(admin, /Petra Lund/);
  await signIn(rep, /Imogen Thorne/);
});
test.afterAll(async () => {
  await admin.close();
  await rep.close();
  await installation.stop();
});
test.afterEach(() => expect(complaints.flat()).toEqual([]));

async function signIn(of: Page, name: RegExp) {
  await of.goto(installation.url);
  await of.getByRole('button', { name }).click();
  await of.waitForURL(/round/);
}
const acts = () => admin.getByRole('group', { name: 'Thing 1 to do' });
const rule = () => admin.getByRole('listitem').filter({ hasText: 'Thank for the visit' }).first();

test('1. an admin writes a rule by choosing; what is missing is said, and it is read as one sentence', async () => {
  await admin.goto(`${installation.url}/settings?part=rules`);
  await expect(admin.getByText('None yet.')).toBeVisible();
  await admin.getByRole('button', { name: 'Write your own' }).click();
  await admin.getByLabel('Name of the rule').fill('Thank for the visit');
  await choose(admin.getByRole('combobox', { name: 'About' }), 'a person');
  await choose(admin.getByRole('combobox', { name: 'When' }), 'a call, mail, meeting or text was logged');
  await admin.getByRole('checkbox', { name: 'Call: Spoke' }).first().check();
  await admin.getByRole('button', { name: 'Save the rule' }).click();
  await expect(admin.getByText(/^Then, 1: /)).toBeVisible();
  await expect(admin.getByLabel('Name of the rule')).toHaveValue('Thank for the visit');
  await acts().getByLabel('What for').fill('Write two lines of thanks');
  await acts().getByLabel('In how many days').fill('1');
  await expect(admin.getByText(/^When .* was logged: plan for its owner in 1 day /)).toBeVisible();
  await expectAccessible(admin);
});

test('2. it is tried out before it is kept, and does nothing by that', async () => {
  await admin.getByRole('button', { name: 'What would it have done in the last 90 days?' }).click();
  await expect(
    admin.getByRole('heading', { name: 'In the last 90 days, by what records are today' }),
  ).toBeVisible();
  await admin.getByRole('button', { name: 'Save the rule' }).click();
  await expect(admin.getByText('The rule “Thank for the visit” is saved.')).toBeVisible();
  await expect(rule().getByRole('checkbox')).toBeChecked();
});

test('3. a rep logs a call; the rule has planned what it should, says why, and is undone for that person', async () => {
  const reply = await rep.evaluate(async () => {
    const { rows } = (await (await fetch('/api/contacts?owner=mine')).json()) as { rows: { id: string }[] };
    const body = {
      ...{ id: crypto.randomUUID(), contactId: rows[0]!.id, outcomeId: 'call-spoke', body: 'Visited' },
      next: { kind: 'none', reason: 'a rule does it' },
    };
    const sent = await fetch('/api/journal/log', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
    });
    return { id: rows[0]!.id, status: sent.status };
  });
  expect(reply.status).toBe(200);
  await expect(rule().getByText('1 time in 30 days')).toBeVisible();
  await rep.goto(`${installation.url}/people/${reply.id}`);
  await expect(rep.getByText('Write two lines of thanks').first()).toBeVisible();
  await rule().getByRole('button', { name: 'What Thank for the visit did' }).click();
  await expect(rule().getByText(/because .* by Imogen Thorne/)).toBeVisible();
  await expectAccessible(admin);
  await rule()
    .getByRole('button', { name: /^Undo what it did to/ })
    .click();
  await expect(rule().getByText('undone', { exact: true })).toBeVisible();
  await expect(rep.getByText('Write two lines of thanks')).toHaveCount(0);
});

test('4. a rule that would set itself off is not switched on, and says so', async () => {
  await admin.getByRole('button', { name: 'Write your own' }).click();
  await admin.getByLabel('Name of the rule').fill('Round and round');
  await choose(admin.getByRole('combobox', { name: 'About' }), 'a person');
  await choose(admin.getByRole('combobox', { name: 'When' }), 'a person was changed');
  await choose(acts().getByRole('combobox', { name: 'Then' }), 'put a tag on or off');
  await acts().getByLabel('Tag').fill('again');
  await admin.getByRole('button', { name: 'Save the rule' }).click();
  await expect(admin.getByText(/set each other off again and again: Round and round/)).toBeVisible();
  await admin.getByRole('button', { name: 'Cancel' }).click();
});

test('5. it is removed by the keyboard and put back by the key for undo', async () => {
  await rule().getByRole('button', { name: 'Remove Thank for the visit' }).focus();
  await admin.keyboard.press('Enter');
  await expect(admin.getByText('None yet.')).toBeVisible();
  await admin.keyboard.press('Control+z');
  await expect(rule()).toBeVisible();
});
