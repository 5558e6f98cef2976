import { expect, type Locator, type Page } from '@playwright/test';

/** The dialog on top, once it has taken the focus: what is filled in before goes where the focus goes meanwhile. */
export async function opened(page: Page): Promise<Locator> {
  const dialog = page.getByRole('dialog').last();
  await expect(dialog.locator(':focus')).toHaveCount(1);
  return dialog;
}
