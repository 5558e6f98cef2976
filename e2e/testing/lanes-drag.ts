import type { Page } from '@playwright/test';
import mysql from 'mysql2/promise';
import { startDatabase } from '../../scripts/database.mjs';
import { print } from '../../server/bench/measure';
import { late, openBrowser, percentile, startWatching, stopWatching } from './frames';
import { Installation } from './installation';

/** Frames while one of 500 deals is dragged over the lanes, against those of a bare page on which a box follows the mouse. */
const wantedDeals = 500;
const moves = 120;

const bare = `<div id="box" style="position:fixed;inset:0 auto auto 0;width:120px;height:22px;background:#ccc"></div>
<script>addEventListener('pointermove', (event) => {
  box.style.transform = 'translate(' + event.clientX + 'px,' + event.clientY + 'px)';
});</script>`;

/** The demo's open deals again and again, until there are enough; all of one rep. */
async function addDeals(databaseUrl: string): Promise<void> {
  const connection = await mysql.createConnection({ uri: databaseUrl });
  const [rows] = await connection.query('SELECT id FROM app_user WHERE email = ?', [
    'imogen@hollinbeck.example',
  ]);
  const owner = (rows as { id: Buffer }[])[0]!.id;
  for (let known = 0; known < wantedDeals;) {
    await connection.query(
      `INSERT INTO deal (id, name, status, company_id, contact_id, stage_id, owner_id, amount_minor, currency, expected_close_on,
          stage_since, changed_at, next_step_on, created_at)
       SELECT UNHEX(REPLACE(UUID(), '-', '')), name, status, company_id, contact_id, stage_id, ?, amount_minor, currency,
              expected_close_on, stage_since, changed_at, next_step_on, created_at
         FROM deal WHERE status = 'open' LIMIT ?`,
      [owner, Math.min(100, wantedDeals)],
    );
    const [count] = await connection.query(
      "SELECT COUNT(*) AS n FROM deal WHERE status = 'open' AND owner_id = ?",
      [owner],
    );
    known = Number((count as { n: number }[])[0]!.n);
  }
  await connection.end();
}

/** Times between frames while the mouse goes from one place to another and back, in milliseconds. */
async function framesOf(page: Page, from: [number, number], to: [number, number]): Promise<number[]> {
  await startWatching(page);
  await page.mouse.move(...from);
  await page.mouse.down();
  for (let n = 0; n < moves; n += 1) {
    const part = Math.abs((2 * n) / moves - 1);
    await page.mouse.move(to[0] + (from[0] - to[0]) * part, to[1] + (from[1] - to[1]) * part);
    await page.waitForTimeout(8);
  }
  await page.mouse.move(...from);
  await page.mouse.up();
  return stopWatching(page);
}

const database = await startDatabase('lanes-drag', { isForTests: true });
process.env.KETTLE_E2E_DATABASE = database.urlOf('');
const installation = await Installation.make({ demo: true });
await addDeals(installation.databaseUrl);
const browser = await openBrowser();
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
await page.goto(installation.url);
await page.getByRole('button', { name: /Imogen Thorne/ }).click();
await page.waitForURL((url) => url.pathname === '/round');
await page.goto(`${installation.url}/deals`);
await page.locator('.deal').first().waitFor();
/** Drags the fourth bar over the lanes and back. */
async function dragOver(): Promise<{ shown: number; frames: number[] }> {
  const bar = (await page.locator('.deal').nth(3).boundingBox())!;
  const shown = await page.locator('.deal').count();
  return { shown, frames: await framesOf(page, [bar.x + 30, bar.y + 10], [900, 700]) };
}
const folded = await dragOver();
await page.keyboard.press('f');
await page.waitForTimeout(500);
const whole = await dragOver();
const empty = await browser.newPage({ viewport: { width: 1280, height: 800 } });
await empty.setContent(bare);
const plain = await framesOf(empty, [300, 200], [900, 700]);
for (const [words, { shown, frames }] of [
  ['months folded', folded],
  ['every deal drawn', whole],
] as const)
  print({
    name: `frames while a deal is dragged among 500, ${words}, 95th percentile, against a box that follows the mouse on an empty page`,
    value: percentile(frames, 0.95),
    unit: 'ms',
    baseline: percentile(plain, 0.95),
    ratio: percentile(frames, 0.95) / percentile(plain, 0.95),
    aim: 1.5,
    note: `${shown} deals drawn; ${late(frames)}, on the empty page ${late(plain)}`,
  });
await browser.close();
await installation.stop();
await database.stop();
process.exit(0);
