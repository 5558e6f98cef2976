import { expect, type Page, test } from '@playwright/test';
import { opened } from './testing/dialog';
import { Installation } from './testing/installation';
import { collectComplaints, expectAccessible } from './testing/looks';

/** Appointments from planning to what became of them, with a second person looking on. */
test.describe.configure({ mode: 'serial' });

let installation: Installation;
let page: Page;
let complaints: string[];
test.beforeAll(async ({ browser }) => {
  installation = await Installation.make({ demo: true });
  page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  complaints = collectComplaints(page);
  await page.goto(installation.url);
  await page.getByRole('button', { name: /Imogen Thorne/ }).click();
  await expect(page.locator('kettle-round-row').first()).toBeVisible();
});
test.afterAll(async () => {
  await page.close();
  await installation.stop();
});
test.afterEach(() => expect(complaints).toEqual([]));

const entry = (of: Page, name: string | RegExp) => of.getByRole('main').getByRole('button', { name });
const pickPerson = async (label: string, name: string) => {
  await page.getByRole('dialog').getByLabel(label, { exact: true }).fill(name);
  await page
    .getByRole('option', { name: new RegExp(name) })
    .first()
    .click();
};

test('1. planned by keys with a person, warned of what is in the way', async () => {
  await page.keyboard.press('g');
  await page.keyboard.press('a');
  await expect(page.getByRole('heading', { name: 'Calendar' })).toBeVisible();
  await expect(entry(page, /Tue 24 Nov 11:00 to 12:15: Site survey, Dunmere Clinic/)).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press('a');
  const dialog = await opened(page);
  await dialog.getByLabel('Title').fill('Look at the boiler');
  await dialog.getByLabel('Day').fill('tomorrow');
  await dialog.getByLabel('From').fill('11:30');
  await dialog.getByLabel('Length').fill('60');
  await expect(dialog.getByText('At 11:00–12:15 you have “Site survey”.')).toBeVisible();
  await dialog.getByLabel('From').fill('7');
  await expect(dialog.getByText(/This is outside your hours/)).toBeVisible();
  await dialog.getByLabel('From').fill('16:15');
  await expect(dialog.getByRole('status')).toHaveCount(0);
  await pickPerson('With', 'Maud Ellery');
  await dialog.getByRole('button', { name: 'Use their address' }).click();
  await dialog.getByRole('button', { name: 'Plan', exact: true }).click();
  await expect(page.getByText(/Planned: Look at the boiler, Wed 25 Nov 16:15/)).toBeVisible();
  await expect(entry(page, /Wed 25 Nov 16:15 to 17:15: Maud Ellery, Look at the boiler/)).toBeVisible();
});

test('2. moved by the mouse and by keys; each move has one undo, and a colleague sees it without a reload', async ({
  browser,
}) => {
  const corin = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await corin.goto(installation.url);
  await corin.getByRole('button', { name: /Corin Vale/ }).click();
  await expect(corin).toHaveURL(/\/round/);
  await corin.goto(`${installation.url}/calendar?view=agenda&who=team`);
  await expect(corin.getByRole('main').getByText('Look at the boiler').first()).toBeVisible();
  const [from, to] = [
    (await entry(page, /Look at the boiler/).boundingBox())!,
    (await page.locator('[data-column="2026-11-26"]').boundingBox())!,
  ];
  await page.mouse.move(from.x + 30, from.y + 10);
  await page.mouse.down();
  await page.mouse.move(to.x + 40, from.y + 20, { steps: 6 });
  await page.mouse.move(to.x + 40, from.y + 10, { steps: 3 });
  await page.mouse.up();
  await expect(page.getByText('Moved to Thu 26 Nov 16:15: Look at the boiler.')).toBeVisible();
  const moved = entry(page, /Thu 26 Nov 16:15 to 17:15: Maud Ellery/);
  await expect(moved).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(entry(page, /Wed 25 Nov 16:15 to 17:15: Maud Ellery/)).toBeVisible();
  await entry(page, /Look at the boiler/).focus();
  for (const keys of ['Alt+ArrowUp', 'Alt+ArrowUp', 'Alt+ArrowRight', 'Alt+Shift+ArrowDown'])
    await page.keyboard.press(keys);
  await expect(entry(page, /Thu 26 Nov 15:45 to 17:00: Maud Ellery/)).toBeFocused();
  await expect(corin.getByRole('main').getByText('15:45–17:00')).toBeVisible();
  await corin.close();
});

test('3. called off with a new date in the same act, and the journal says so', async () => {
  await entry(page, /Look at the boiler/).click();
  await (await opened(page)).getByRole('button', { name: 'Call off …' }).click();
  const dialog = page.getByRole('dialog', { name: /Call off: Look at the boiler/ });
  await dialog.getByLabel('Why').fill('the boiler man is ill');
  await dialog.getByLabel('Day').fill('fri');
  await dialog.getByLabel('From').fill('14:00');
  await dialog.getByRole('button', { name: 'Call off', exact: true }).click();
  await expect(page.getByText('Called off: Look at the boiler.')).toBeVisible();
  await expect(entry(page, /Fri 27 Nov 14:00 to 15:15: Maud Ellery/)).toBeVisible();
  await page.goto(`${installation.url}/people?q=Maud%20Ellery&owner=all`);
  await page.getByRole('button', { name: 'Maud Ellery' }).first().click();
  await expect(
    page.getByText(
      /Called off: Look at the boiler, .*15:45 \(the boiler man is ill\)\. New time: Fri 27 Nov 14:00/,
    ),
  ).toBeVisible();
});

test('4. one that is over asks whether it took place; what is logged is what became of it', async () => {
  await page.goto(`${installation.url}/calendar`);
  await expect(page.locator('.entry').first()).toBeVisible();
  await page.keyboard.press('a');
  const dialog = await opened(page);
  await dialog.getByLabel('Title').fill('Short look');
  await dialog.getByLabel('Day').fill('today');
  await dialog.getByLabel('From').fill('8:50');
  await dialog.getByLabel('Length').fill('15');
  await expect(dialog.getByText('This lies in the past.')).toBeVisible();
  await pickPerson('With', 'Tomas Quillen');
  await dialog.getByRole('button', { name: 'Plan', exact: true }).click();
  const over = page.locator('.entry.asks').first();
  await expect(over).toBeVisible();
  const id = (await over.getAttribute('data-entry'))!;
  await over.getByRole('button').click();
  await (await opened(page)).getByRole('button', { name: 'Log it' }).click();
  await expect(page).toHaveURL(/\/walk/);
  await expect(page.getByText(/08:50–09:05/)).toBeVisible();
  await page.keyboard.press('2');
  await page.getByRole('button', { name: /They missed it/ }).click();
  await page.keyboard.press('Enter');
  await expect(page.getByText(/They missed it: Tomas Quillen/)).toBeVisible();
  await page.goto(`${installation.url}/calendar`);
  await expect(page.locator(`[data-entry="${id}"].past`)).toBeVisible();
  await page.locator(`[data-entry="${id}"]`).getByRole('button').click();
  await expect((await opened(page)).getByText('It did not take place.')).toBeVisible();
  await page.keyboard.press('Escape');
});

test('5. a month and a list; on a phone the list is what comes first', async ({ browser }) => {
  await page.getByRole('button', { name: 'Month' }).click();
  await expect(page.getByText('November 2026')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Agenda' }).click();
  await expect(page.getByRole('heading', { name: /today · Tue 24 Nov/ })).toBeVisible();
  await expectAccessible(page);
  const phone = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  await phone.goto(installation.url);
  await phone.getByRole('button', { name: /Imogen Thorne/ }).click();
  await expect(phone.locator('kettle-round-row').first()).toBeVisible();
  await phone.goto(`${installation.url}/calendar`);
  await expect(phone.getByRole('heading', { name: /today · Tue 24 Nov/ })).toBeVisible();
  await expect(phone.getByRole('button', { name: 'Week', exact: true })).toHaveCount(0);
  await expectAccessible(phone);
  await phone.close();
});
