import { AxeBuilder } from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';

/** No serious or critical finding on the page as it stands. */
export async function expectAccessible(page: Page): Promise<void> {
  // What slides or breathes has half its contrast on the way.
  await page.waitForTimeout(350);
  const { violations } = await new AxeBuilder({ page }).analyze();
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
