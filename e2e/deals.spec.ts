import { expect, test, type Page } from '@playwright/test';
import { Installation } from './testing/installation';
import { collectComplaints, expectAccessible } from './testing/looks';

/** Deals on their lanes, on the demo's deals. */

let installation: Installation;
let page: Page;
let complaints: string[];
test.beforeAll(async ({ browser }) => {
  installation = await Installation.make({ demo: true });
  page = await (await browser.newContext()).newPage();
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
  await page.getByLabel('Why').fill('after the harvest');
  await page.getByRole('button', { name: 'Park it' }).click();
  await expect.poll(() => countOf('Offer')).toBe(before - 1);
  await expect(dossier).toContainText('after the harvest');
  await dossier.getByRole('button', { name: 'Open it again' }).click();
  await expectAccessible(page);
  await page.getByRole('dialog').getByRole('button', { name: 'Open it again' }).click();
  await expect.poll(() => countOf('Offer')).toBe(before);
});
