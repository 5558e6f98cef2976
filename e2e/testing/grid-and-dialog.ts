import { spawnSync } from 'node:child_process';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import path from 'node:path';
import type { Page } from '@playwright/test';
import express from 'express';
import mysql from 'mysql2/promise';
import { startDatabase } from '../../scripts/database.mjs';
import { print } from '../../server/bench/measure';
import { builtFiles } from '../../server/src/platform/http/web-files';
import { late, openBrowser, percentile, startWatching, stopWatching } from './frames';
import { Installation } from './installation';

/** Frames while a list of 50,000 people is scrolled, and how long a dialog takes to open, each against a bare page. */
const wantedPeople = 50_000;
const openings = 9;
const root = path.resolve(import.meta.dirname, '..', '..');

/** The demo's people again and again, until there are enough. */
async function addPeople(databaseUrl: string): Promise<void> {
  const connection = await mysql.createConnection({ uri: databaseUrl });
  const [found] = await connection.query(
    `SELECT GROUP_CONCAT(COLUMN_NAME) AS names FROM information_schema.COLUMNS
      WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = 'contact' AND COLUMN_NAME <> 'id' AND GENERATION_EXPRESSION IS NULL`,
  );
  const { names } = (found as { names: string }[])[0]!;
  for (let known = 0; known < wantedPeople;) {
    await connection.query(
      `INSERT INTO contact (id, ${names}) SELECT UNHEX(REPLACE(UUID(), '-', '')), ${names} FROM contact LIMIT 10000`,
    );
    const [count] = await connection.query('SELECT COUNT(*) AS n FROM contact');
    known = Number((count as { n: number }[])[0]!.n);
  }
  await connection.end();
}

// As text: what turns this file into JavaScript would put names of its own into a function.
const scrolling = (selector: string) => `new Promise((resolve) => {
  const box = document.querySelector(${JSON.stringify(selector)});
  let frame = 0;
  requestAnimationFrame(function step() {
    box.scrollTop += frame < 120 ? 100 : -100;
    frame += 1;
    if (frame < 240) requestAnimationFrame(step);
    else resolve();
  });
})`;

const opening = (key: string) => `opened = new Promise((resolve) => {
  addEventListener('keydown', (event) => {
    if (event.key !== ${JSON.stringify(key)}) return;
    requestAnimationFrame(function look() {
      const focused = document.activeElement;
      if (focused?.closest('mat-dialog-container') && !focused.matches('mat-dialog-container'))
        resolve(performance.now() - event.timeStamp);
      else requestAnimationFrame(look);
    });
  }, { once: true, capture: true });
}); undefined`;

/** Scrolls what can be scrolled by three rows a frame, down and up again; answers with the times between frames. */
async function scroll(page: Page, selector: string): Promise<number[]> {
  await page.bringToFront();
  await startWatching(page);
  await page.evaluate(scrolling(selector));
  return stopWatching(page);
}

/** Milliseconds from the press of a key until the first field of the dialog has the focus, of the openings after the first. */
async function open(page: Page, key: string): Promise<number[]> {
  const times: number[] = [];
  await page.bringToFront();
  for (let n = 0; n <= openings; n += 1) {
    await page.evaluate(opening(key));
    await page.keyboard.press(key);
    times.push(await page.evaluate<number>('opened'));
    await page.keyboard.press('Escape');
    await page.locator('mat-dialog-container').waitFor({ state: 'detached' });
    await page.waitForTimeout(150);
  }
  // What the first one waits for comes over the network once.
  return times.slice(1);
}

const built = spawnSync('npx', ['ng', 'build', 'bare-dialog', '--progress=false'], {
  cwd: path.join(root, 'web'),
});
if (built.status !== 0) throw new Error(`the bare shell could not be built: ${String(built.stderr)}`);
const bareFolder = path.join(root, 'web', 'dist-bare-dialog', 'browser');
const bareServer = createServer(express().use(builtFiles(bareFolder)).use(express.static(bareFolder)));
await new Promise<void>((resolve) => bareServer.listen(0, '127.0.0.1', resolve));
const bareUrl = `http://127.0.0.1:${(bareServer.address() as AddressInfo).port}/`;
const database = await startDatabase('grid-and-dialog', { isForTests: true });
process.env.KETTLE_E2E_DATABASE = database.urlOf('');
const installation = await Installation.make({ demo: true });
await addPeople(installation.databaseUrl);

const browser = await openBrowser();
const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' });
const page = await context.newPage();
await page.goto(installation.url);
await page.getByRole('button', { name: /Imogen Thorne/ }).click();
await page.waitForURL((url) => url.pathname === '/round');
await page.goto(`${installation.url}/people`);
await page.getByRole('row').nth(10).waitFor();
const bare = await context.newPage();
await bare.goto(bareUrl);
await bare.locator('mat-toolbar').waitFor();
const plainRows = Array.from({ length: 2000 }, (_, n) => `<p style="height:33px;margin:0">Row ${n}</p>`).join(
  '',
);
await bare.evaluate((rows) => {
  document.body.insertAdjacentHTML(
    'beforeend',
    `<div id="rows" style="height:600px;overflow:auto">${rows}</div>`,
  );
}, plainRows);

await scroll(page, 'cdk-virtual-scroll-viewport');
const [ours, plain] = [await scroll(page, 'cdk-virtual-scroll-viewport'), await scroll(bare, '#rows')];
print({
  name: 'frames while a list of 50,000 people is scrolled by three rows a frame, 99th percentile, against 2,000 plain rows',
  value: percentile(ours, 0.99),
  unit: 'ms',
  baseline: percentile(plain, 0.99),
  ratio: percentile(ours, 0.99) / percentile(plain, 0.99),
  note: `${late(ours)}, of the plain rows ${late(plain)}; the longest took ${Math.round(Math.max(...ours))} ms, there ${Math.round(Math.max(...plain))}`,
});

const [dialog, bareDialog] = [await open(page, 'a'), await open(bare, 'd')];
print({
  name: 'a dialog with 20 fields, from the press of its key until its first field has the focus, median, against a bare Material dialog with one',
  value: percentile(dialog, 0.5),
  unit: 'ms',
  baseline: percentile(bareDialog, 0.5),
  ratio: percentile(dialog, 0.5) / percentile(bareDialog, 0.5),
  note: `the longest took ${Math.round(Math.max(...dialog))} ms, the bare one ${Math.round(Math.max(...bareDialog))}; wanted within 100 ms`,
});
await browser.close();
await installation.stop();
await database.stop();
bareServer.close();
process.exit(0);
