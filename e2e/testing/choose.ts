import type { Locator } from '@playwright/test';

/** Opens a list and takes the choice of that name, as a person does. */
export async function choose(list: Locator, choice: string | RegExp): Promise<void> {
  await list.click();
  const option = list.page().getByRole('option', { name: choice, exact: typeof choice === 'string' });
  await option.click();
  await option.waitFor({ state: 'detached' });
}
