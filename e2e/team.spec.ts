import { expect, type Page, test } from '@playwright/test';
import { opened } from './testing/dialog';
import { Installation } from './testing/installation';
import { collectComplaints, expectAccessible } from './testing/looks';

/** The day in full: a Round ordered by hand and walked, a day on the road, and a manager's morning. */
let installation: Installation;
test.beforeAll(async () => {
  installation = await Installation.make({ demo: true });
});
test.afterAll(() => installation.stop());

const signIn = async (page: Page, name: RegExp) => {
  await page.goto(installation.url);
  await page.getByRole('button', { name }).click();
  await page.waitForURL(/round/);
};
const names = (page: Page) => page.locator('ol.above kettle-round-row .name b').allInnerTexts();

test('the Round is ordered by keys and by the mouse, and marked rows are walked to a summary', async ({
  page,
}) => {
  const complaints = collectComplaints(page);
  await signIn(page, /Dara Finch/);
  await expect(page.locator('kettle-round-row').first()).toBeVisible();
  const before = await names(page);
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Alt+ArrowDown');
  await expect.poll(() => names(page)).toEqual([before[1], before[0], ...before.slice(2)]);
  await expect(page.getByText('Put there by hand, for today.')).toBeVisible();
  await expect(page.getByText('1 placed by hand')).toBeVisible();
  // By the mouse: the third before the first.
  await page
    .locator('ol.above .line')
    .nth(2)
    .dragTo(page.locator('ol.above .line').nth(0), {
      targetPosition: { x: 200, y: 4 },
    });
  await expect.poll(async () => (await names(page))[0]).toBe(before[2]);
  await expect(page.getByText('2 placed by hand')).toBeVisible();
  await page.reload();
  await expect.poll(() => names(page)).toEqual([before[2], before[1], before[0], ...before.slice(3)]);
  await page.getByRole('button', { name: 'order by cost again' }).click();
  await expect.poll(() => names(page)).toEqual(before);
  for (const at of [0, 1]) await page.locator('ol.above .rank').nth(at).click();
  await expectAccessible(page);
  await page.keyboard.press('w');
  await expect(page.getByText('1 of 2 in 2 marked rows')).toBeVisible();
  await page.keyboard.press('s');
  await expect(page.getByText('2 of 2 in 2 marked rows')).toBeVisible();
  await expect(page.getByRole('heading', { name: before[1]! })).toBeVisible();
  await page.getByRole('list', { name: 'Outcome' }).getByRole('button').first().click();
  await page.getByRole('button', { name: /Save and continue/ }).click();
  await expect(page.getByRole('heading', { name: 'What came of the walk' })).toBeVisible();
  await expect(page.locator('.sums')).toContainText('1 done');
  await expectAccessible(page);
  expect(complaints).toEqual([]);
});

test('a day on the road: the best order, another one with its cost, who is near, and into the calendar', async ({
  page,
}) => {
  const complaints = collectComplaints(page);
  await signIn(page, /Rhys Calder/);
  await page.goto(`${installation.url}/calendar?view=day&on=2026-11-25`);
  await page.getByRole('link', { name: 'On the road' }).click();
  await expect(page.getByRole('heading', { name: 'Day on the road' })).toBeVisible();
  await expect(page.locator('.stops li')).toHaveCount(6);
  await expect(page.getByRole('img', { name: /Map of the day: 6 stops/ })).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Alt+ArrowDown');
  await expect(page.getByText('Your own order')).toBeVisible();
  await page.keyboard.press('b');
  await expect(page.getByText('Your own order')).toHaveCount(0);
  await page.getByRole('button', { name: '40 min more' }).click();
  const near = page.locator('.near li').first();
  const name = await near.locator('b').innerText();
  await near.getByRole('button', { name: 'Visit' }).click();
  await expect(page.locator('.stops li')).toHaveCount(7);
  await expect(page.locator('.stops')).toContainText(name);
  await page.getByRole('button', { name: 'Put these times in the calendar' }).click();
  await expect(page.getByText('The visits stand in the calendar at these times.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Put these times in the calendar' })).toBeDisabled();
  await page.getByRole('link', { name: 'Calendar' }).last().click();
  await expect(page.getByRole('main').getByRole('button', { name: new RegExp(name) })).toBeVisible();
  expect(complaints).toEqual([]);
});

test('a manager’s morning: into a Round and back, a word on a row, and somebody who is away', async ({
  page,
  browser,
}) => {
  const complaints = collectComplaints(page);
  await signIn(page, /Corin Vale/);
  const team = page.getByRole('table', { name: 'Your team today' });
  await expect(team.getByRole('row', { name: /Imogen Thorne.*min/ })).toBeVisible();
  await team.getByRole('link', { name: 'Imogen Thorne' }).click();
  await expect(page.getByRole('heading', { name: 'Imogen Thorne’s Round' })).toBeVisible();
  await page.locator('kettle-round-row .who').first().click();
  await page.getByRole('button', { name: 'Note to Imogen Thorne' }).click();
  const dialog = await opened(page);
  await dialog.getByLabel('Note').fill('offer them the salt first');
  await dialog.getByRole('button', { name: 'Write', exact: true }).click();
  await expect(page.getByText('Written; Imogen Thorne is told.')).toBeVisible();
  await page.getByRole('link', { name: 'back to mine' }).click();
  await expect(page.getByRole('heading', { name: 'Today’s Round' })).toBeVisible();
  await page.goto(`${installation.url}/settings?part=me`);
  const choose = async (label: string, option: string) => {
    await page.getByLabel(label, { exact: true }).click();
    await page.getByRole('option', { name: option }).click();
  };
  await choose('Who', 'Dara Finch');
  await page.getByLabel('First day').fill('today');
  await page.getByLabel('Last day').fill('tomorrow');
  await choose('Stands in', 'Imogen Thorne');
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(page.getByText('Dara Finch is away on these days.')).toBeVisible();
  await expectAccessible(page);
  const context = await browser.newContext();
  const other = await context.newPage();
  await signIn(other, /Imogen Thorne/);
  await expect(other.getByText(/You stand in for Dara Finch until/)).toBeVisible();
  await other.getByRole('button', { name: /new notifications/ }).click();
  await expect(other.getByText(/offer them the salt first/)).toBeVisible();
  await other.keyboard.press('Escape');
  await other.getByRole('link', { name: 'Their Round' }).click();
  await expect(other.getByRole('heading', { name: 'Dara Finch’s Round' })).toBeVisible();
  await context.close();
  await page.goto(`${installation.url}/round`);
  await expect(team.getByText(/away until .*, Imogen Thorne stands in/)).toBeVisible();
  expect(complaints).toEqual([]);
});
