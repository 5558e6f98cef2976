import { AxeBuilder } from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';

/** No serious or critical finding on the page as it stands; of one rule alone, where the rest was held before. */
export async function expectAccessible(page: Page, rule?: string): Promise<void> {
  await untilStill(page);
  // What passes is not described node by node, which took two thirds of the time; nothing of ours is in another frame.
  const axe = new AxeBuilder({ page }).options({ resultTypes: ['violations'] }).setLegacyMode(true);
  const { violations } = await (rule === undefined ? axe : axe.withRules(rule)).analyze();
  const serious = violations.filter(({ impact }) => impact === 'serious' || impact === 'critical');
  expect(
    serious.map(
      ({ id, nodes }) =>
        `${id}: ${nodes
          .map((node) => node.target.join(' '))
          .slice(0, 4)
          .join(' | ')}`,
    ),
  ).toEqual([]);
}

/** What slides or breathes has half its contrast on the way, and a notice is hidden from readers until it is told. */
async function untilStill(page: Page): Promise<void> {
  await page.waitForFunction(
    () =>
      document.querySelector('.mat-mdc-snack-bar-container [aria-hidden] button') === null &&
      document
        .getAnimations()
        .every(
          (each) => each.playState !== 'running' || each.effect?.getComputedTiming().endTime === Infinity,
        ),
  );
}

/** Everything the browser complained about; a page must work without a word. */
export function collectComplaints(page: Page): string[] {
  const complaints: string[] = [];
  page.on('pageerror', (error) => complaints.push(error.message));
  page.on('console', (message) => {
    // A refused request is the server's answer, shown on the page; the browser notes it all the same.
    if (message.type() === 'error' && !message.text().startsWith('Failed to load resource'))
      complaints.push(message.text());
  });
  return complaints;
}
