import { spawnSync } from 'node:child_process';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import path from 'node:path';
import { chromium, type Browser, type Page } from '@playwright/test';
import express from 'express';
import { precompress } from '../../scripts/build.mjs';
import { startDatabase } from '../../scripts/database.mjs';
import { builtFiles } from '../../server/src/platform/http/web-files';
import { print } from '../../server/bench/measure';
import config from '../playwright.config';
import { Installation } from './installation';

/** Transferred JavaScript of a first visit, ours against a bare Angular and Material shell served the same way. */
const root = path.resolve(import.meta.dirname, '..', '..');

async function transferred(
  browser: Browser,
  url: string,
  ready: string,
  before: (page: Page) => Promise<void> = () => Promise.resolve(),
): Promise<number> {
  const context = await browser.newContext();
  // Whoever signed in before has the cookie, and nothing in the cache of another browser.
  const first = await context.newPage();
  await before(first);
  await first.close();
  const page = await context.newPage();
  const session = await page.context().newCDPSession(page);
  const scripts = new Set<string>();
  let bytes = 0;
  await session.send('Network.enable');
  await session.send('Network.setCacheDisabled', { cacheDisabled: true });
  session.on('Network.responseReceived', ({ requestId, type, response }) => {
    if (type === 'Script' || response.mimeType.includes('javascript')) scripts.add(requestId);
  });
  session.on('Network.loadingFinished', ({ requestId, encodedDataLength }) => {
    if (scripts.has(requestId)) bytes += encodedDataLength;
  });
  await page.goto(url);
  await page.locator(ready).first().waitFor();
  // The stream of changes never ends: what comes is all there when nothing more has come for a second.
  for (let seen = -1; seen !== bytes;) {
    seen = bytes;
    await new Promise((resolve) => setTimeout(resolve, 1000));
  }
  return bytes / 1000;
}

const built = spawnSync('npx', ['ng', 'build', 'bare', '--progress=false'], { cwd: path.join(root, 'web') });
if (built.status !== 0) throw new Error(`the bare shell could not be built: ${String(built.stderr)}`);
const bareFolder = path.join(root, 'web', 'dist-bare', 'browser');
precompress(bareFolder);
const bareServer = createServer(express().use(builtFiles(bareFolder)).use(express.static(bareFolder)));
await new Promise<void>((resolve) => bareServer.listen(0, '127.0.0.1', resolve));
const database = await startDatabase('first-load', { isForTests: true });
process.env.KETTLE_E2E_DATABASE = database.urlOf('');
const installation = await Installation.make({ demo: true });
const browser = await chromium.launch(config.use?.launchOptions ?? {});
const ours = await transferred(browser, `${installation.url}/sign-in`, 'form');
const bare = await transferred(
  browser,
  `http://127.0.0.1:${(bareServer.address() as AddressInfo).port}/`,
  'mat-toolbar',
);
const round = await transferred(browser, `${installation.url}/round`, 'kettle-round-row', async (page) => {
  await page.goto(`${installation.url}/sign-in`);
  await page.getByRole('button', { name: /Imogen Thorne/ }).click();
  await page.waitForURL('**/round');
});
print({
  name: 'transferred JavaScript until a signed-in rep can work the Round against a bare Angular and Material shell',
  value: round,
  unit: 'kB',
  baseline: bare,
  ratio: round / bare,
  aim: 2,
});
print({
  name: 'transferred JavaScript of the first load against a bare Angular and Material shell',
  value: ours,
  unit: 'kB',
  baseline: bare,
  ratio: ours / bare,
  aim: 1.3,
});
await browser.close();
await installation.stop();
await database.stop();
bareServer.close();
process.exit(0);
