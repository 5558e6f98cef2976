import { expect, test, type Page } from '@playwright/test';
import { opened } from './testing/dialog';
import { Installation } from './testing/installation';
import { collectComplaints, expectAccessible } from './testing/looks';

/** Deals on their lanes, on the demo's deals. */

let installation: Installation;
let page: Page;
let complaints: string[];
test.beforeAll(async ({ browser }) => {
  installation = await Installation.make({ demo: true });
  page = await (await browser.newContext({ reducedMotion: 'no-preference' })).newPage();
  complaints = collectComplaints(page);
  await page.goto(installation.url);
  await page.getByRole('button', { name: /Imogen Thorne/ }).click();
  await expect(page).toHaveURL(/\/round/);
});
test.afterAll(async () => {
  await page.close();
  await installation.stop();
});
test.afterEach(() => expect(complaints).toEqual([]));

const lane = (name: string) => page.getByRole('row', { name });
const countOf = async (name: string) =>
  Number(/(\d+) deals?/.exec(await lane(name).getByRole('rowheader').innerText())?.[1]);
const openLanes = async () => {
  await page.goto(`${installation.url}/deals`);
  await expect(lane('Inquiry').locator('.deal').first()).toBeVisible();
};

test('a deal is dragged into another stage, which is said and can be undone', async () => {
  await openLanes();
  await expectAccessible(page);
  const [inquiry, survey] = [await countOf('Inquiry'), await countOf('Survey')];
  const bar = lane('Inquiry').locator('.deal').first();
  const words = await bar.locator('.name').getAttribute('aria-label');
  const column = await bar.evaluate((element) => {
    const cell = element.closest('.cell')!;
    return Array.from(cell.parentElement!.querySelectorAll('.cell')).indexOf(cell);
  });
  const from = (await bar.boundingBox())!;
  const to = (await lane('Survey').locator('.cell').nth(column).boundingBox())!;
  await page.mouse.move(from.x + 20, from.y + 8);
  await page.mouse.down();
  await page.mouse.move(from.x + 24, from.y + 30, { steps: 4 });
  await page.mouse.move(to.x + to.width / 2, to.y + to.height / 2, { steps: 12 });
  await page.mouse.up();
  await expect(lane('Survey').getByRole('button', { name: words! })).toBeVisible();
  expect([await countOf('Inquiry'), await countOf('Survey')]).toEqual([inquiry - 1, survey + 1]);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(lane('Inquiry').getByRole('button', { name: words! })).toBeVisible();
  expect(await countOf('Inquiry')).toBe(inquiry);
});

test('a deal is parked by its menu, and opened again from its dossier', async () => {
  await openLanes();
  const bar = lane('Offer').locator('.deal').first();
  const words = (await bar.locator('.name').getAttribute('aria-label'))!;
  const name = words.replace(/, next step .*/, '');
  const before = await countOf('Offer');
  await bar.getByRole('button', { name: words }).click();
  const dossier = page.getByRole('complementary', { name: 'Dossier' });
  await expect(dossier.getByRole('heading', { name })).toBeVisible();
  await bar.hover();
  await bar.getByRole('button', { name: /^Move or close/ }).click();
  await page.getByRole('menuitem', { name: 'park' }).click();
  await page.getByRole('combobox', { name: 'Why' }).fill('after the harvest');
  await page.getByRole('button', { name: 'Park it' }).click();
  await expect.poll(() => countOf('Offer')).toBe(before - 1);
  await expect(dossier).toContainText('after the harvest');
  await dossier.getByRole('button', { name: 'Reopen' }).click();
  await expectAccessible(page);
  await page.getByRole('dialog').getByRole('button', { name: 'Reopen' }).click();
  await expect.poll(() => countOf('Offer')).toBe(before);
});

const bars = (name: string) => lane(name).locator('.deal');
/** Where a deal stands on the lanes: its stage and the heading of its column. */
const placeOf = (id: string) =>
  page.locator(`[data-deal="${id}"]`).evaluate((element) => {
    // A bar that is being drawn anew is nowhere for a moment.
    const cell = element.closest<HTMLElement>('.cell');
    return `${cell?.closest('.lane')?.getAttribute('aria-label')}, ${cell?.dataset['column']}`;
  });

test('the keys carry a deal from month to month, and what was done last is undone by a key', async () => {
  await openLanes();
  const bar = bars('Survey')
    .filter({ hasNot: page.locator('.late') })
    .last();
  const id = (await bar.getAttribute('data-deal'))!;
  const before = await placeOf(id);
  const settled = () => expect(page.locator('.moving')).toHaveCount(0);
  await bar.locator('.name').focus();
  await page.keyboard.press('Alt+ArrowUp');
  await expect(lane('Inquiry').locator(`[data-deal="${id}"]`)).toBeVisible();
  await settled();
  const [, month] = (await placeOf(id)).split(', ');
  await page.keyboard.press('Alt+ArrowRight');
  await expect.poll(() => placeOf(id)).toMatch(new RegExp(`^Inquiry, (?!${month}$)`));
  await expect(page.locator(`[data-deal="${id}"] .name`)).toBeFocused();
  await settled();
  await page.keyboard.press('Control+z');
  await expect.poll(() => placeOf(id)).toBe(`Inquiry, ${month}`);
  expect(before).toBe(`Survey, ${month}`);
});

test('a deal that was won by mistake is open again, with its tasks, by one key', async () => {
  await openLanes();
  const id = (await bars('Offer').filter({ hasText: 'Skell Bakery' }).first().getAttribute('data-deal'))!;
  const bar = page.locator(`[data-deal="${id}"]`);
  await bar.locator('.name').click();
  const dossier = page.getByRole('complementary', { name: 'Dossier' });
  const steps = dossier.getByRole('region', { name: 'Next steps' });
  await expect(steps).not.toContainText('None planned');
  const planned = await steps.innerText();
  await bar.locator('.name').focus();
  await page.keyboard.press('v');
  await page.getByRole('combobox', { name: 'What won it' }).fill('service');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/: boiler-water plan is won/)).toBeVisible();
  await expect(bar).toHaveCount(0);
  await expect(dossier).toContainText('None planned');
  await page.keyboard.press('Control+z');
  await expect(page.getByText('is open as before.')).toBeVisible();
  await expect(bar).toBeVisible();
  await expect.poll(() => steps.innerText()).toBe(planned);
});

test('on a phone the lanes stand below each other and nothing runs over the edge', async ({ browser }) => {
  const context = await browser.newContext({
    viewport: { width: 390, height: 844 },
    hasTouch: true,
    isMobile: true,
  });
  const phone = await context.newPage();
  await phone.goto(installation.url);
  await phone.getByRole('button', { name: /Imogen Thorne/ }).click();
  await expect(phone).toHaveURL(/\/round/);
  await phone.goto(`${installation.url}/deals`);
  const bar = phone.locator('.deal').first();
  await expect(bar).toBeVisible();
  const { x, width } = (await bar.boundingBox())!;
  expect([x >= 0, x + width <= 390, width > 200]).toEqual([true, true, true]);
  expect(await phone.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await expectAccessible(phone);
  await bar.getByRole('button', { name: /^Move or close/ }).click();
  await expect(phone.getByRole('menuitem', { name: 'park' })).toBeVisible();
  await context.close();
});

test('a parked deal is in no total, comes back into the Round on its day, and is opened with its history', async () => {
  await openLanes();
  const total = () => page.locator('.page-head p').innerText();
  const before = await total();
  const bar = bars('Terms').last();
  const id = (await bar.getAttribute('data-deal'))!;
  await bar.locator('.name').focus();
  await page.keyboard.press('p');
  await opened(page);
  await page.getByLabel('Back in the Round on').fill('2026-12-02');
  await page.getByRole('combobox', { name: 'Why' }).fill('their new hall is not built yet');
  await page.keyboard.press('Enter');
  await expect(page.locator(`[data-deal="${id}"]`)).toHaveCount(0);
  await expect.poll(total).not.toBe(before);
  await page.goto(`${installation.url}/deals?as=list&status=parked`);
  await expect(page.getByRole('grid', { name: 'deals' }).getByRole('row')).toHaveCount(2);

  await installation.goTo('2026-12-02T09:10:00.000Z');
  complaints.splice(0);
  await page.goto(`${installation.url}/round`);
  const row = page.locator('kettle-round-row', { hasText: 'their new hall is not built yet' });
  await expect(row).toBeVisible();
  await page.goto(`${installation.url}/deals/${id}`);
  await page.getByRole('button', { name: 'Reopen' }).click();
  const dialog = await opened(page);
  await dialog.getByLabel('Next step: purpose').fill('is the hall built');
  await dialog.getByRole('button', { name: 'Reopen' }).click();
  await expect(page.getByText('is the hall built')).toBeVisible();
  await expect(page.getByText(/parked until 2026-12-02: their new hall/).first()).toBeVisible();
  await expect(page.getByText(/opened again, parked before/).first()).toBeVisible();
  await page.goto(`${installation.url}/deals`);
  await expect(page.locator(`[data-deal="${id}"]`)).toBeVisible();
});
