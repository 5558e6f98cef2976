import { expect, type Page, test } from '@playwright/test';
import { Installation } from './testing/installation';
import { expectAccessible } from './testing/looks';

/** A rep’s day without a mouse, and what a screen reader is told on the way. */
let installation: Installation;
test.beforeAll(async () => {
  installation = await Installation.make({ demo: true });
});
test.afterAll(() => installation.stop());

/** Writes down whatever a live region says, as a screen reader would read it out. */
async function listen(page: Page): Promise<() => Promise<string>> {
  await page.addInitScript(() => {
    const heard: string[] = [];
    Object.assign(window, { heard });
    const live = '[aria-live="polite"], [aria-live="assertive"], [role="status"], [role="alert"]';
    const hear = (node: Node) => {
      const region = (node instanceof Element ? node : node.parentElement)?.closest(live);
      const text = region?.textContent.replace(/\s+/g, ' ').trim();
      if (text && heard.at(-1) !== text) heard.push(text);
    };
    new MutationObserver((changes) => {
      for (const { target, addedNodes } of changes) {
        hear(target);
        for (const node of addedNodes)
          if (node instanceof Element) [node, ...node.querySelectorAll(live)].forEach(hear);
      }
    }).observe(document, { subtree: true, childList: true, characterData: true });
  });
  return () => page.evaluate(() => (window as unknown as { heard: string[] }).heard.join('\n'));
}

/** What has the focus, as a screen reader names it: its role and its name; the page itself has neither. */
async function focused(page: Page): Promise<string> {
  const it = page.locator(':focus');
  return (await it.count()) === 0 ? 'nothing' : it.ariaSnapshot();
}

/** Tab until what has the focus is called so; a person counts on reaching it, and gives up at some point. */
async function tabTo(page: Page, name: RegExp, most = 40): Promise<void> {
  for (let presses = 0; presses < most; presses += 1) {
    if (name.test(await focused(page))) return;
    await page.keyboard.press('Tab');
  }
  throw new Error(`${name.source} is not reached in ${most} presses; the focus is on ${await focused(page)}`);
}

test('the day by keyboard alone, with what a screen reader is told', async ({ page }) => {
  const heard = await listen(page);
  await page.goto(installation.url);
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await tabTo(page, /E-mail/);
  await page.keyboard.type('imogen@hollinbeck.example');
  await page.keyboard.press('Tab');
  expect(await focused(page)).toMatch(/textbox "Password"/);
  await page.keyboard.type('copper kettle on the hob');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Today’s Round' })).toBeVisible();
  await expect(page.locator('kettle-round-row').first()).toBeVisible();

  // The first press of Tab leads past the frame, straight to what the page is about.
  await page.keyboard.press('Tab');
  expect(await focused(page)).toMatch(/link "Skip to/i);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('main')).toBeFocused();
  await expect(page).toHaveURL(/\/round$/);

  // Down the Round; the chosen row says who and why.
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/walk/);
  const who = (await page.getByRole('heading', { level: 1 }).textContent())!.trim();
  await expect(page.getByRole('region', { name: 'Who and why' })).toContainText('Why now.');
  await expect(page.getByRole('list', { name: 'Outcome' })).toBeVisible();
  await page.keyboard.press('1');
  await expect(page.getByRole('group', { name: /Next step/ })).toBeVisible();
  await page.keyboard.press('n');
  expect(await focused(page)).toMatch(/textbox "Note/);
  await page.keyboard.type('Wants the softener before Christmas');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1 })).not.toHaveText(who);
  await expect.poll(heard).toMatch(new RegExp(`${who}.*Undo`));

  // Undone by a key, said, and done again from the dossier.
  await page.keyboard.press('ControlOrMeta+z');
  await expect.poll(heard).toMatch(/Undone/);

  // Somebody is found, opened and written about.
  await page.keyboard.press('g');
  await page.keyboard.press('r');
  await expect(page.getByRole('heading', { name: 'Today’s Round' })).toBeVisible();
  await page.keyboard.press('/');
  expect(await focused(page)).toMatch(/combobox|searchbox/);
  await page.keyboard.type('Maud');
  // The best hit is the one that Enter opens, and a reader is told so.
  await expect(page.getByRole('option', { name: /Maud Ellery/, selected: true })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Maud Ellery' })).toBeVisible();
  await page.keyboard.press('n');
  await expect(page.locator(':focus')).toHaveRole('textbox');
  await page.keyboard.type('Prefers mornings');
  await tabTo(page, /button "Save"/);
  await page.keyboard.press('Enter');
  await expect(page.getByText('Prefers mornings')).toBeVisible();

  // A task: the dialog has the focus in its first field, its button says what it lacks, Esc closes it.
  await page.keyboard.press('t');
  const dialog = page.getByRole('dialog');
  await expect(dialog).toBeVisible();
  await expect.poll(() => dialog.evaluate((it) => it.contains(document.activeElement))).toBe(true);
  await expectAccessible(page);
  await page.keyboard.press('Escape');
  await expect(dialog).toHaveCount(0);

  // Every place by two keys, each with one heading that names it.
  for (const [keys, name] of [
    ['gp', /People/],
    ['gt', /Tasks/],
    ['gd', /Deals/],
    ['gl', /Leads/],
    ['gs', /Settings/],
    ['gr', /Today’s Round/],
  ] as const) {
    for (const key of keys) await page.keyboard.press(key);
    await expect(page.getByRole('heading', { name, level: 1 })).toBeVisible();
  }

  // The list of all keys, and out of it again with the focus where it was.
  await page.keyboard.press('Shift+?');
  await expect(dialog).toContainText('Walk the round');
  await page.keyboard.press('Escape');
  await expect(dialog).toHaveCount(0);
});
