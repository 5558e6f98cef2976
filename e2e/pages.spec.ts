import { expect, test, type Page } from '@playwright/test';
import { Installation } from './testing/installation';
import { collectComplaints, expectAccessible } from './testing/looks';
import { everyPlace } from './testing/places';

/** Every page as an admin sees it, in both themes and on a phone: readable by all, nothing over the edge, no complaint. */
let installation: Installation;
let page: Page;
let complaints: string[];

test.beforeAll(async ({ browser }) => {
  installation = await Installation.make({ demo: true });
  page = await (await browser.newContext()).newPage();
  complaints = collectComplaints(page);
  await page.goto(installation.url);
  await page.getByRole('button', { name: /Petra Lund/ }).click();
  await expect(page).toHaveURL(/\/round/);
});
test.afterAll(async () => {
  await page.close();
  await installation.stop();
});

async function look(path: string): Promise<void> {
  // As by a link: loading everything anew takes most of the time.
  await page.evaluate((to) => {
    history.pushState({}, '', `/${to}`);
    dispatchEvent(new PopStateEvent('popstate', { state: {} }));
  }, path);
  await expect(page).toHaveURL(new RegExp(`/${path.split('?', 1)[0]}`));
  await expect(page.locator('main h1, main h2').first()).toBeVisible();
  await expect(page.getByText('Reading …')).toHaveCount(0);
}

test('every page in both themes has nothing serious', async () => {
  test.setTimeout(600_000);
  for (const path of await everyPlace(page))
    await test.step(path, async () => {
      await page.emulateMedia({ colorScheme: 'light', reducedMotion: 'reduce' });
      await look(path);
      await expectAccessible(page);
      await page.emulateMedia({ colorScheme: 'dark', reducedMotion: 'reduce' });
      await expectAccessible(page, 'color-contrast');
    });
  expect(complaints).toEqual([]);
});

test('no page is wider than a phone', async () => {
  test.setTimeout(300_000);
  const addresses = await everyPlace(page);
  await page.setViewportSize({ width: 390, height: 844 });
  const wide: string[] = [];
  for (const path of addresses) {
    await look(path);
    const width = await page.evaluate(() => document.scrollingElement!.scrollWidth);
    if (width > 390) wide.push(`${path}: ${width}`);
  }
  expect(wide).toEqual([]);
});
