import { expect, test, type Page } from '@playwright/test';
import { choose } from './testing/choose';
import { Installation } from './testing/installation';
import { collectComplaints, expectAccessible } from './testing/looks';

/** A week with the people outside: brought in, started together, written to, answered; the rest walked; what it earned. */
test.describe.configure({ mode: 'serial' });

let installation: Installation;
let page: Page;
let complaints: string[];
test.beforeAll(async ({ browser }) => {
  installation = await Installation.make({ outside: true });
  page = await (await browser.newContext()).newPage();
  complaints = collectComplaints(page);
  await page.goto(installation.url);
  await page.getByLabel('Your name').fill('Petra Lund');
  await page.getByLabel('E-mail address').fill('petra@hollinbeck.example');
  await page.getByLabel(/Password/).fill('steam over the ash');
  await page.getByRole('button', { name: 'Create the first admin' }).click();
  await expect(page).toHaveURL(/\/round/);
});
test.afterAll(async () => {
  await page.close();
  await installation.stop();
});
test.afterEach(() => expect(complaints).toEqual([]));

const go = async (path: string) => {
  await page.goto(installation.url + path);
  await expect(page.getByRole('button', { name: /^Jot/ })).toBeVisible();
};
const outside = async () =>
  (await (await page.request.get(`${installation.outside}/happened`)).json()) as {
    events: { kind: string; who: string; key: string; words: string }[];
    /** What they still mean to do. */
    waiting: number;
  };
const happened = async (kind: string) => (await outside()).events.filter((event) => event.kind === kind);
/** What the server answers a reader who is signed in here. */
const read = async <Reply>(path: string) =>
  (await (await page.request.get(installation.url + path)).json()) as Reply;

const names = Array.from({ length: 42 }, (_, n) => `Person${String(n + 1).padStart(2, '0')}`);
const csv = [
  'Name;Firm;E-mail;Telephone',
  ...names.map((name, n) => {
    const mail = n === 40 ? '' : `${name.toLowerCase()}@firm${n + 1}.example`;
    return `${name} Wells;Firm ${n + 1};${mail};${n === 40 ? '' : `01632 9600${String(n + 10).padStart(2, '0')}`}`;
  }),
].join('\r\n');

test('1. forty-two people are brought in', async () => {
  await go('/import');
  await page
    .locator('input[type=file]')
    .setInputFiles({ name: 'people.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) });
  await page.getByRole('button', { name: 'Write 42 new people' }).click();
  await expect(page.getByText('Done: 42 people written.')).toBeVisible();
  await go('/settings?part=mail');
  await page.getByLabel('Seconds between two').fill('0');
  await page.getByRole('button', { name: 'Save how mail goes out' }).click();
  await expect(page.getByText('Saved: mail goes out like this from now on.')).toBeVisible();
});

test('2. a template is written and seen as it arrives; a hole in it is named', async () => {
  await go('/cadences/templates?template=new');
  await page.getByLabel('Name', { exact: true }).fill('Hello');
  await page.getByLabel('Subject').fill('Water for {{ company.name }}');
  await page.getByLabel('Text', { exact: true }).fill('Dear {{ contact.given_name }}, {{ agreement.ends }}');
  const seen = page.getByRole('region', { name: 'As it arrives' });
  await expect(seen).toContainText('Not known of them: agreement.ends');
  await page
    .getByLabel('Text', { exact: true })
    .fill('Dear {{ contact.given_name }},\n\nsee https://hollinbeck.example/test\n\n{{ sender.first_name }}');
  await expect(seen).toContainText('Dear Person01,');
  await expect(seen).toContainText('Water for Firm 1');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Create template' }).click();
  await expect(page.getByText('Hello is saved.')).toBeVisible();
});

test('3. a cadence is drawn with keys and mouse, with real dates for somebody', async () => {
  await go('/cadences/new');
  await page.getByLabel('Name of the cadence').fill('Hello in two steps');
  const note = (n: number) => page.getByRole('button', { name: new RegExp(`^step ${n}:`) });
  // The first call becomes a mail by its menu, the second mail goes away, the call moves a day by its key.
  await note(1).focus();
  await choose(page.getByRole('combobox', { name: /^How/ }), 'E-mail');
  await choose(page.getByLabel('Add a template'), 'Hello');
  await choose(page.getByLabel('Carried out'), 'by itself');
  await note(2).focus();
  await page.keyboard.press('Delete');
  await expect(note(3)).toHaveCount(0);
  await note(2).focus();
  await page.keyboard.press('ArrowLeft');
  await expect(note(2)).toHaveAccessibleName('step 2: call on working day 3, by hand');
  await page.keyboard.press('ArrowLeft');
  await expect(note(2)).toHaveAccessibleName('step 2: call on working day 2, by hand');
  await page.locator('body').press('Control+z');
  await expect(note(2)).toHaveAccessibleName('step 2: call on working day 3, by hand');
  await note(2).focus();
  await page.keyboard.press('ArrowLeft');
  await expect(page.getByText('Thu 26 Nov').or(page.getByText('Thursday'))).toBeVisible();
  await expectAccessible(page);
  await page.reload();
  await expect(page.getByLabel('Name of the cadence')).toHaveValue('Hello in two steps');
  await page.getByRole('button', { name: 'Create cadence' }).click();
  await expect(page.getByText('Hello in two steps is saved as version 1.')).toBeVisible();
  await expect(page.getByText('Nobody has been on this version yet')).toBeVisible();
});

test('4. all are picked; who cannot be reached is left out with the reason, the rest starts', async () => {
  await go('/people');
  await page.getByLabel('Pick Person01 Wells').check();
  await page.getByRole('button', { name: 'pick all 42' }).click();
  await page.getByRole('button', { name: 'Start 42 on a cadence' }).click();
  const dialog = page.getByRole('dialog');
  await choose(dialog.getByLabel('Cadence'), 'Hello in two steps · 2 steps');
  await expect(dialog.getByRole('img', { name: /^Load of the next four weeks/ })).toBeVisible();
  await expect(dialog.getByText('1 left out')).toBeVisible();
  await expect(dialog.locator('.people > li').filter({ hasText: 'Person41' })).toContainText('left out:');
  await expectAccessible(page);
  await dialog.getByRole('button', { name: 'Start 41' }).click();
  await expect(page.getByText('41 started.')).toBeVisible();
});

test('5. a week passes, with the server killed while it sends: nobody is written to twice, nobody is forgotten', async () => {
  // Five starts of the server.
  test.setTimeout(300_000);
  const waiting = async () => (await read<{ counts: { waiting: number } }>('/api/mail/count')).counts.waiting;
  await installation.goTo('2026-11-24T15:00:00.000Z');
  await expect
    .poll(async () => (await happened('mail')).length, { timeout: 40_000, intervals: [20] })
    .toBeGreaterThan(4);
  await installation.kill();
  const before = (await happened('mail')).length;
  expect(before).toBeLessThan(41);
  for (const day of ['2026-11-24', '2026-11-25', '2026-11-26', '2026-11-27']) {
    await installation.goTo(`${day}T16:30:00.000Z`);
    await expect.poll(async () => (await happened('mail')).length, { timeout: 90_000 }).toBeGreaterThan(39);
    await expect.poll(waiting, { timeout: 90_000 }).toBe(0);
    await expect.poll(async () => (await outside()).waiting, { timeout: 30_000 }).toBe(0);
  }
  const reached = await happened('mail');
  const held = await read<{ rows: { toAddress: string }[] }>('/api/mail?box=held');
  expect(new Set(reached.map(({ key }) => key)).size).toBe(reached.length);
  expect(new Set(reached.map(({ who }) => who)).size).toBe(reached.length);
  // Whoever was being written to in that moment is held for a person to decide, whether it arrived or not.
  const known = new Set([...reached.map(({ who }) => who), ...held.rows.map(({ toAddress }) => toAddress)]);
  expect(known.size).toBe(41);
  expect(held.rows.length).toBeLessThanOrEqual(1);
});

test('6. answers, absences and returns are where they belong', async () => {
  const answered = await happened('answer');
  expect(answered.length).toBeGreaterThan(0);
  await go('/mail?box=filed');
  await expect(page.getByRole('grid', { name: 'mails' }).getByRole('row')).not.toHaveCount(0);
  const human = async () => {
    const { rows } = await read<{ rows: { kind: string; fromAddress: string }[] }>(
      '/api/mail?box=filed&limit=200',
    );
    return rows
      .filter(({ kind }) => kind === 'human')
      .map(({ fromAddress }) => fromAddress)
      .sort();
  };
  // Who wrote while the server was away tries again, as mail does.
  await expect.poll(human, { timeout: 80_000 }).toEqual(answered.map(({ who }) => who).sort());
  // A page that was away is not asked for again; a mail is.
  const givenUp = (await happened('failed')).filter(({ words }) => words !== 'fetch failed');
  expect(givenUp).toEqual([]);
  await go('/mail?box=stirrings');
  await expect(page.getByRole('list', { name: 'Stirrings' })).toContainText('opened “Water for');
  await expectAccessible(page);
  const first = page.getByRole('list', { name: 'Stirrings' }).getByRole('listitem').first();
  const words = await first.locator('.what').innerText();
  await page.locator('body').press('.');
  await expect(page.getByText('Looked at.')).toBeVisible();
  expect(words).not.toBe('');
});

test('7. the rest is walked: dialled with Enter, and the line fills in how it went', async () => {
  await go('/round');
  await page
    .getByRole('link', { name: /^Walk/ })
    .or(page.getByRole('button', { name: /^Walk/ }))
    .first()
    .click();
  await expect(page).toHaveURL(/\/walk/);
  for (let n = 0; n < 3; n += 1) {
    await expect(page.getByRole('region', { name: 'The act' })).toBeVisible();
    const name = await page.getByRole('heading', { level: 1 }).innerText();
    const byCall = page.getByRole('group', { name: 'What it was' }).getByRole('button', { name: 'Call' });
    if ((await byCall.getAttribute('aria-pressed')) !== 'true') await byCall.click();
    await page.locator('body').press('Enter');
    const outcome = page.getByRole('list', { name: 'Outcome' }).locator('[aria-pressed=true]');
    const isOn = page.getByText('on the line');
    // Some pick up and would talk for minutes; for some it rings until it is given up.
    await expect(outcome.or(isOn).first()).toBeVisible({ timeout: 40_000 });
    if (await isOn.isVisible()) await page.getByRole('button', { name: 'Hang up' }).click();
    await expect(outcome).toBeVisible();
    await expect(page.locator('kettle-next-step-form')).toBeVisible();
    await page.locator('body').press('Enter');
    await expect(page.getByRole('heading', { level: 1 })).not.toHaveText(name);
  }
  expect((await happened('call')).length).toBe(3);
});

test('8. the results say what it earned, and that it is too early for more', async () => {
  await go('/cadences');
  await page.getByRole('button', { name: 'Hello in two steps' }).click();
  await page.getByRole('link', { name: 'Who is on it' }).click();
  const panel = page.getByRole('complementary', { name: 'Results' });
  await expect(panel).toContainText('41 runs on this version');
  await expect(panel).toContainText(/41 reached · 4[01] done/);
  await expect(panel).toContainText('more before a verdict');
  const table = page.getByRole('table').first();
  await table.getByLabel('Choose all').check();
  await page.getByRole('button', { name: 'Pause', exact: true }).click();
  await expect(page.getByText(/\d+ paused\./)).toBeVisible();
  await choose(page.getByLabel('State'), 'paused');
  await expect(page.getByRole('status').filter({ hasText: 'shown' })).toContainText('hidden');
  await expectAccessible(page);
});
