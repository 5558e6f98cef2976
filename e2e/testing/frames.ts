import { type Browser, chromium, type Page } from '@playwright/test';
import config from '../playwright.config';

/** The browser as people have it: journeys run it without optimised code, which pays only for pages that live longer than theirs. */
export function openBrowser(): Promise<Browser> {
  const options = config.use?.launchOptions ?? {};
  const args = (options.args ?? []).filter((word) => !word.startsWith('--js-flags'));
  return chromium.launch({ ...options, args });
}

// As text: what turns this file into JavaScript would put names of its own into a function.
const watchFrames = `
  frameTimes = [];
  watching = true;
  requestAnimationFrame(function note(at) {
    frameTimes.push(at);
    if (watching) requestAnimationFrame(note);
  });`;

/** From here on the times of frames are written down. */
export const startWatching = (page: Page): Promise<unknown> => page.evaluate(watchFrames);

/** Times between frames since then, in milliseconds. */
export async function stopWatching(page: Page): Promise<number[]> {
  const times = await page.evaluate<number[]>('watching = false; frameTimes');
  return times.slice(1).map((at, index) => at - times[index]!);
}

export const percentile = (values: readonly number[], part: number) =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.ceil(part * values.length) - 1)]!;

/** How many frames came late, in words: a screen draws one every 16.7 ms. */
export const late = (frames: readonly number[]) =>
  `${frames.filter((time) => time > 33.4).length} of ${frames.length} frames took longer than two`;
