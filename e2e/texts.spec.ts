import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { buildTexts, readLanguage } from '../scripts/texts.mjs';
import { Installation } from './testing/installation';
import { everyPlace } from './testing/places';

/**
 * Every page in a language made for it, in which each text stands in brackets. What stands outside has to be data: the server said it, or
 * it is a day or a number. So a text that nobody marked is found, and the way a language takes from its catalogue to the page is walked.
 */
const root = path.resolve(import.meta.dirname, '..');
let web: string;
let installation: Installation;
let page: Page;

/** Forms of a number stand in brackets each, for one of them is shown. */
const inBrackets = (text: string) =>
  text
    .split('|')
    .map((form) => `⟦${form}⟧`)
    .join('|');

test.beforeAll(async ({ browser }) => {
  web = mkdtempSync(path.join(tmpdir(), 'kettle-language-'));
  cpSync(path.join(root, 'web', 'dist', 'browser'), web, { recursive: true });
  const texts = Object.entries(readLanguage('en')).map(([id, text]) => [id, inBrackets(text)]);
  await buildTexts('de', Object.fromEntries(texts) as Record<string, string>, web);
  installation = await Installation.make({ demo: true, web });
  const context = await browser.newContext({ locale: 'de' });
  page = await context.newPage();
  await page.goto(installation.url);
  await page.getByRole('button', { name: /Petra Lund/ }).click();
  await expect(page).toHaveURL(/\/round/);
});
test.afterAll(async () => {
  await page.close();
  await installation.stop();
  rmSync(web, { recursive: true });
});

/** What a page shows or tells a screen reader outside of brackets. */
const outside = () =>
  page.evaluate(() => {
    const found: string[] = [];
    let depth = 0;
    const keep = (text: string) => {
      let rest = '';
      for (const sign of text) {
        if (sign === '⟦') depth += 1;
        else if (sign === '⟧') depth = Math.max(0, depth - 1);
        else if (depth === 0) rest += sign;
      }
      if (/\p{L}{2}/u.test(rest)) found.push(rest.trim().replace(/\s+/g, ' '));
    };
    const walker = document.createTreeWalker(document.body);
    for (let node = walker.nextNode(); node; node = walker.nextNode()) {
      if (node instanceof Element) {
        for (const name of ['aria-label', 'placeholder', 'title']) {
          const value = node.getAttribute(name) ?? '';
          if (!value.includes('⟦') && depth === 0) keep(value);
        }
      } else if (
        !(node.parentElement instanceof HTMLScriptElement) &&
        node.parentElement?.tagName !== 'NOSCRIPT'
      )
        keep(node.nodeValue ?? '');
    }
    return found;
  });

const letters = (text: string) => text.toLowerCase().replace(/[^\p{L}]/gu, '');

/** All strings of a reply. */
function stringsOf(value: unknown): string[] {
  if (typeof value === 'string') return [value];
  if (value === null || typeof value !== 'object') return [];
  return Object.entries(value).flatMap(([key, each]) => [key, ...stringsOf(each)]);
}

/** What has no other words in any language: our name, initials, code to copy. */
const ours = ['Ash Kettle', 'P. Lund', '<iframe src='];

/** Names of days and months in the language, as the browser has them. */
const namesOfCalendar = () =>
  page.evaluate(() =>
    Array.from({ length: 366 }, (_, day) => new Date(Date.UTC(2026, 0, 1 + day))).flatMap((day) =>
      (['short', 'long'] as const).flatMap((length) => [
        day.toLocaleString('de', { day: 'numeric', month: length, timeZone: 'UTC' }),
        day.toLocaleString('de', { month: length, timeZone: 'UTC' }),
        day.toLocaleString('de', { weekday: length, timeZone: 'UTC' }),
      ]),
    ),
  );

test('no text of any page is left out of the catalogues', async () => {
  test.setTimeout(300_000);
  const said: string[] = [];
  // A page shows nothing of the server's that was not read here before.
  await page.route('**/api/**', async (route) => {
    if (route.request().headers()['accept']?.includes('text/event-stream')) return route.continue();
    const response = await route.fetch();
    if (response.headers()['content-type']?.includes('json')) said.push(...stringsOf(await response.json()));
    await route.fulfill({ response });
  });
  const found = new Map<string, string>();
  for (const place of await everyPlace(page)) {
    await page.goto(`${installation.url}/${place}`);
    await expect(page.locator('main h1, main h2').first()).toBeVisible();
    await expect(page.getByText('Reading …')).toHaveCount(0);
    for (const text of await outside()) found.set(text, found.get(text) ?? place);
  }
  const known = letters(said.join(' '));
  const ofCalendar = new Set((await namesOfCalendar()).map(letters));
  const isData = (text: string) =>
    known.includes(letters(text)) ||
    text.split(/[^\p{L}]+/u).every((word) => word.length < 2 || ofCalendar.has(letters(word)));
  const unmarked = [...found]
    .filter(([text]) => !ours.some((each) => text.startsWith(each)))
    .filter(([text]) => !text.split(/ [·→] |, | (?=\S+@)/).every(isData))
    .map(([text, place]) => `${place}: ${text}`);
  expect(unmarked).toEqual([]);
});
