import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { expect, test } from '@playwright/test';
import { collectComplaints, expectAccessible } from './testing/looks';

/** The catalogue of the kit: every part in every state, light beside dark. */
const web = path.join(import.meta.dirname, '..', 'web');
const address = 'http://kit.test/';

test.beforeAll(() => {
  test.setTimeout(300_000);
  const built = spawnSync('npx', ['ng', 'build', 'kit', '--progress=false'], { cwd: web, encoding: 'utf8' });
  expect([built.status, built.stderr]).toEqual([0, expect.any(String)]);
});

test.beforeEach(async ({ page }) => {
  await page.route(`${address}**`, (route) => {
    const name = new URL(route.request().url()).pathname.slice(1) || 'index.html';
    return route.fulfill({ path: path.join(web, 'dist-catalogue', 'browser', name) });
  });
  await page.goto(address);
  await expect(page.getByRole('heading', { name: 'The kit' })).toBeVisible();
});

test('nothing serious in either theme, no complaint', async ({ page }) => {
  const complaints = collectComplaints(page);
  await expectAccessible(page);
  expect(complaints).toEqual([]);
});

test('each field says its name, whether it must be filled in, and what is wrong with it', async ({
  page,
}) => {
  const light = page.getByRole('region', { name: 'Light' });
  for (const [label, role] of [
    ['Name', 'combobox'],
    ['Value, GBP', 'textbox'],
    ['Standing', 'combobox'],
  ] as const) {
    const fields = light.getByRole(role, { name: label });
    await expect(fields.nth(2)).toHaveAttribute(
      role === 'combobox' && label === 'Standing' ? 'aria-required' : 'required',
      /.*/,
    );
    await expect(fields.nth(2)).toHaveAccessibleDescription('is missing');
    await expect(fields.nth(3)).toHaveAccessibleDescription('is taken already');
    await expect(fields.nth(3)).toHaveAttribute('aria-invalid', 'true');
    await expect(fields.nth(4)).toBeDisabled();
  }
});

test('by keyboard: a choice, a day, tags, an order, a dialog that is refused once', async ({ page }) => {
  const light = page.getByRole('region', { name: 'Light' });
  const standing = light.getByRole('combobox', { name: 'Standing' }).first();
  await standing.focus();
  await page.keyboard.press('Enter');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(standing).toContainText('Key customer');

  const when = light.getByRole('textbox', { name: 'When' }).first();
  await when.focus();
  await page.keyboard.type('sat');
  await page.keyboard.press('Tab');
  await expect(when).toHaveValue('Sat 5 Dec 2026');
  await expect(when).toHaveAccessibleDescription('Saturday, a day off.');

  const tags = light.getByRole('combobox', { name: 'Tags' }).first();
  await tags.focus();
  await page.keyboard.type('boiler,');
  await expect(light.getByRole('row', { name: /boiler/ })).toBeVisible();

  await light.getByRole('button', { name: 'Move Offer up' }).press('Enter');
  await expect(light.getByRole('button', { name: 'Move Offer down' })).toBeEnabled();

  await light.getByRole('button', { name: 'A dialog' }).press('Enter');
  const dialog = page.getByRole('dialog', { name: 'Change the deal' });
  await expect(dialog.getByLabel('Name')).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(dialog.getByText('Value was changed by Corin Vale meanwhile')).toBeVisible();
  await expectAccessible(page);
  await dialog.getByRole('radio', { name: /Mine/ }).press('Space');
  await dialog.getByRole('button', { name: 'Save' }).press('Enter');
  await expect(dialog).toHaveCount(0);
  await expect(light.getByRole('button', { name: 'A dialog' })).toBeFocused();
});

test('a chart is drawn, read by the arrows, and pressed by key, by mouse and in its table', async ({
  page,
}) => {
  const light = page.getByRole('region', { name: 'Light' });
  const chart = light.getByRole('img', { name: /^Deals by quarter/ });
  await expect
    .poll(() =>
      chart.evaluate((canvas: HTMLCanvasElement) => {
        const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
        return data.some((value) => value > 0);
      }),
    )
    .toBe(true);
  await chart.focus();
  for (const key of ['ArrowRight', 'ArrowRight', 'ArrowDown']) await page.keyboard.press(key);
  await expect(light.getByText('lost, quarter Q2: 3')).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(light.getByText('Pressed: lost Q2')).toBeVisible();
  const { width, height } = (await chart.boundingBox())!;
  // The tallest bar: won in the second quarter.
  await chart.click({ position: { x: width * 0.34, y: height * 0.6 } });
  await expect(light.getByText('Pressed: won Q2')).toBeVisible();
  await light.getByText('Numbers').first().click();
  await light.getByRole('button', { name: '14', exact: true }).click();
  await expect(light.getByText('Pressed: won Q4')).toBeVisible();
});
