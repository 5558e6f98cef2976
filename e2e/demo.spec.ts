import { expect, test } from '@playwright/test';
import { opened } from './testing/dialog';
import { Installation } from './testing/installation';
import { collectComplaints, expectAccessible } from './testing/looks';

/** The demo as it comes: its people at the door, every place alive, dark and small screens, a manager's view. */
let installation: Installation;
test.beforeAll(async () => {
  installation = await Installation.make({ demo: true });
});
test.afterAll(() => installation.stop());

test('the sign-in page offers the demo’s people, and every place is alive', async ({ page }) => {
  const complaints = collectComplaints(page);
  await page.goto(installation.url);
  await page.getByRole('button', { name: /Imogen Thorne/ }).click();
  await expect(page.locator('kettle-round-row').first()).toBeVisible();
  await expect(page.getByText('the day’s free minutes end here')).toBeVisible();
  await expectAccessible(page);
  const alive = [
    ['p', 'People', 'Maud Ellery'],
    ['d', 'Deals', 'Hotel Linde'],
    ['a', 'Calendar', 'Site survey'],
    ['c', 'Cadences', 'After the water test'],
    ['n', 'Renewals', 'Lavandaria do Cais'],
    ['m', 'Mail', 'Skell Bakery, office'],
    ['s', 'Settings', 'My working hours'],
  ] as const;
  for (const [key, heading, text] of alive) {
    await page.keyboard.press('g');
    await page.keyboard.press(key);
    await expect(page.getByRole('heading', { name: heading, exact: true })).toBeVisible();
    if (heading === 'People') await page.getByLabel(/Search in this list/).fill(text);
    await expect(page.getByText(text).first()).toBeVisible();
    await page.locator('body').click({ position: { x: 640, y: 790 } });
    await expectAccessible(page);
  }
  expect(complaints).toEqual([]);
});

test('the dark theme holds its contrast', async ({ page }) => {
  await page.emulateMedia({ colorScheme: 'dark' });
  await page.goto(installation.url);
  await expectAccessible(page);
  await page.getByRole('button', { name: /Imogen Thorne/ }).click();
  await page.keyboard.press('ArrowDown');
  await expect(page.locator('kettle-round-row').first()).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await expect(page.locator('kettle-round-row.chosen')).toBeVisible();
  await expectAccessible(page);
});

test('below the line, moving all gives each row the day it shows; the story’s rows are above', async ({
  page,
}) => {
  await page.goto(installation.url);
  await page.getByRole('button', { name: /Imogen Thorne/ }).click();
  const above = page.locator('ol.above');
  await expect(above).toContainText('notice closes in');
  await expect(above).toContainText('promised for 10:00');
  await expect(above).toContainText('wrote 2 h ago');
  const move = page.getByRole('button', { name: /move \d+ to days with room/ });
  const before = await page.locator('ol.below kettle-round-row').count();
  await move.click();
  // What the days come to is seen before anything moves.
  const dialog = await opened(page);
  await expect(dialog.getByText(/min planned \+ \d+/).first()).toBeVisible();
  await dialog.getByRole('button', { name: 'Move', exact: true }).click();
  await expect(page.getByText(/\d+ moved\./)).toBeVisible();
  await expect.poll(() => page.locator('ol.below kettle-round-row').count()).toBeLessThan(before);
});

test('on the road: the Round is walked on a small screen, the day is a sheet', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(installation.url);
  await page.getByRole('button', { name: /Rhys Calder/ }).click();
  await page.getByRole('button', { name: 'More', exact: true }).click();
  await page.getByRole('button', { name: 'Day', exact: true }).click();
  await expect(page.locator('kettle-day-spine')).toBeVisible();
  await page.getByRole('button', { name: 'More', exact: true }).click();
  await page.getByRole('button', { name: 'Day', exact: true }).click();
  await page.getByRole('button', { name: /Walk the Round/ }).click();
  await page
    .getByRole('button', { name: /Spoke|Sent|Held/ })
    .first()
    .click();
  await expect(page.getByRole('button', { name: /Save and continue/ })).toBeVisible();
  const width = await page.evaluate(() => document.documentElement.scrollWidth);
  expect(width).toBeLessThanOrEqual(390);
  await expectAccessible(page);
});

test('keys never fire while typing, and the list of keys is one key away', async ({ page }) => {
  await page.goto(installation.url);
  await page.getByRole('button', { name: /Dara Finch/ }).click();
  await expect(page.getByRole('heading', { name: 'Today’s Round' })).toBeVisible();
  await page.keyboard.press('/');
  await page.keyboard.type('wd?gp');
  await expect(page).toHaveURL(/\/round/);
  await page.keyboard.press('Escape');
  await page.keyboard.press('Shift+?');
  await expect(page.getByRole('dialog')).toContainText('Walk the round');
});

test('a server that is slow or away loses nothing that was typed', async ({ page }) => {
  await page.goto(installation.url);
  await page.getByRole('button', { name: /Dara Finch/ }).click();
  await expect(page.locator('kettle-round-row').first()).toBeVisible();
  await page.keyboard.press('w');
  await expect(page.getByRole('button', { name: /Spoke|Sent|Held/ }).first()).toBeVisible();
  await page.keyboard.press('1');
  await page.keyboard.press('n');
  await page.keyboard.type('Wants the price in writing');
  await page.route('**/api/journal/log', (route) => route.abort());
  await page.getByRole('button', { name: /Save and continue/ }).click();
  await expect(page.getByRole('alert')).toContainText('What you typed is kept');
  await expect(page.getByPlaceholder(/What was said/)).toHaveValue('Wants the price in writing');
  await page.unroute('**/api/journal/log');
  await page.getByRole('button', { name: /Save and continue/ }).click();
  await expect(page.getByRole('button', { name: 'Undo' })).toBeVisible();
});
