import path from 'node:path';
import { chromium, type Browser, type Page } from '@playwright/test';
import { startDatabase } from '../../scripts/database.mjs';
import config from '../playwright.config';
import { Installation } from './installation';

const folder = path.resolve(import.meta.dirname, '..', '..', 'docs', 'screenshots');
const desk = { width: 1280, height: 800 };
const phone = { width: 390, height: 844 };

interface View {
  readonly name: string;
  readonly path: string;
  readonly size?: { readonly width: number; readonly height: number };
  readonly scheme?: 'light' | 'dark';
  /** Somebody else than the rep with too much on. */
  readonly as?: RegExp;
  readonly act?: (page: Page) => Promise<void>;
}

const firstRow = (page: Page) => page.locator('kettle-round-row .who').first();
const walk = async (page: Page) => {
  await firstRow(page).waitFor();
  await page.keyboard.press('w');
  await page.locator('.outcomes button').first().click();
};

const views: readonly View[] = [
  {
    name: 'home',
    path: '/home',
    as: /Corin Vale/,
    act: (page) => page.getByText('Chance of the quota').waitFor(),
  },
  { name: 'round', path: '/round', act: (page) => page.locator('kettle-round-row .who').nth(1).click() },
  { name: 'round-dark', path: '/round', scheme: 'dark', act: (page) => firstRow(page).click() },
  { name: 'walk', path: '/round', act: walk },
  { name: 'people', path: '/people?sort=check-in', act: (page) => page.locator('.pick').nth(2).click() },
  { name: 'jot', path: '/round', act: jot },
  {
    name: 'company',
    path: '/people/companies',
    act: (page) => page.getByRole('button', { name: 'Dunmere Clinic', exact: true }).click(),
  },
  { name: 'tasks', path: '/tasks' },
  { name: 'deals', path: '/deals' },
  {
    name: 'leads',
    path: '/deals/leads',
    act: (page) => page.getByRole('button', { name: /Nora Pell/ }).click(),
  },
  {
    name: 'numbers',
    path: '/numbers?part=lost&whose=team&period=this-year&by=reason',
    as: /Corin Vale/,
    act: (page) => page.locator('.figure').first().waitFor(),
  },
  {
    name: 'cadence',
    path: '/cadences',
    act: async (page) => {
      await page.getByRole('link', { name: 'Change it' }).click();
      await page.getByRole('button', { name: /^step 4:/ }).focus();
      await page.getByText('What earns answers').waitFor();
    },
  },
  { name: 'mail', path: '/mail' },
  { name: 'calendar', path: '/calendar', as: /Mina Okell/ },
  { name: 'road', path: '/calendar/road?on=2026-11-25', as: /Rhys Calder/ },
  { name: 'renewals', path: '/renewals' },
  { name: 'import', path: '/import', act: importFile },
  { name: 'round-phone', path: '/round', size: phone },
  { name: 'walk-phone', path: '/round', size: phone, act: walk },
];

async function jot(page: Page): Promise<void> {
  await page.keyboard.press('j');
  await page.getByPlaceholder(/spoke to/).fill('spoke to Maud Ellery, wants price, call next thursday 10');
  await page.getByText('which one?').waitFor();
}

async function importFile(page: Page): Promise<void> {
  const csv =
    'Name;Firm;E-mail;Telephone;Country\nVera Plover;Quayside Linen;vera@quayside.example;01632 960201;\nIvo Nettle;Low Mill Bread;ivo@lowmill.example;;Atlantis\nMaud Ellery;Penrow Laundry;maud.ellery@penrowlaundry.example;;\n';
  await page
    .locator('input[type=file]')
    .setInputFiles({ name: 'spring fair.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) });
  await page.getByText('wrong').first().waitFor();
}

async function take(browser: Browser, installation: Installation, view: View): Promise<void> {
  const context = await browser.newContext({
    viewport: view.size ?? desk,
    // A phone is touched: no keys are shown, and what is pressed is larger.
    ...(view.size === undefined ? {} : { hasTouch: true, isMobile: true }),
    colorScheme: view.scheme ?? 'light',
    locale: 'en-GB',
    reducedMotion: 'reduce',
  });
  const page = await context.newPage();
  await page.goto(`${installation.url}/sign-in`);
  await page.getByRole('button', { name: view.as ?? /Imogen Thorne/ }).click();
  await page.waitForURL(/round/);
  await page.goto(installation.url + view.path);
  await page.waitForLoadState('load');
  await page.waitForTimeout(900);
  await view.act?.(page);
  await page.waitForTimeout(900);
  // Nothing that is still on its way is shown as a view.
  await page.waitForFunction(() => document.querySelector('kettle-waiting') === null);
  await page.screenshot({ path: path.join(folder, `${view.name}.png`) });
  await context.close();
}

const database = await startDatabase('screenshots', { isForTests: true });
process.env.KETTLE_E2E_DATABASE = database.urlOf('');
const installation = await Installation.make({ demo: true });
const browser = await chromium.launch(config.use?.launchOptions ?? {});
for (const view of views) await take(browser, installation, view);
await browser.close();
await installation.stop();
await database.stop();
process.exit(0);
