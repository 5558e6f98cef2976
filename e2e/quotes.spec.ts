import { expect, type Page, test } from '@playwright/test';
import { Installation } from './testing/installation';
import { collectComplaints, expectAccessible } from './testing/looks';

/** From a deal’s lines to a quote that a customer accepts on its page, on to the win, the invoice and its payments; a question, wrong input. */
test.describe.configure({ mode: 'serial' });

let installation: Installation;
let rep: Page;
let customer: Page;
let complaints: string[];
let link = '';
test.beforeAll(async ({ browser }) => {
  installation = await Installation.make({ demo: true, outside: true });
  rep = await (await browser.newContext()).newPage();
  customer = await (await browser.newContext()).newPage();
  complaints = collectComplaints(rep);
  await rep.goto(installation.url);
  await rep.getByRole('button', { name: /Imogen Thorne/ }).click();
  await rep.waitForURL(/round/);
});
test.afterAll(async () => {
  await rep.close();
  await customer.close();
  await installation.stop();
});
test.afterEach(() => expect(complaints).toEqual([]));

test('1. a draft is made from a deal, and says what it comes to as it is typed', async () => {
  const reply = await rep.request.get(`${installation.url}/api/deals?owner=mine`);
  const { rows: deals } = (await reply.json()) as { rows: { id: string }[] };
  await rep.goto(`${installation.url}/deals/${deals[0]!.id}`);
  await rep.getByRole('button', { name: 'Draft a quote' }).click();
  await expect(rep.getByRole('heading', { name: 'Draft of a quote' })).toBeVisible();
  await rep.getByRole('textbox', { name: 'Title' }).fill('Softener with a year of salt');
  await rep.getByRole('textbox', { name: 'Line 1: quantity' }).fill('1');
  await rep.getByRole('textbox', { name: 'Line 1: price' }).fill('2000');
  await rep.getByRole('textbox', { name: 'Line 1: per cent off' }).fill('10');
  await rep.getByRole('button', { name: 'Add a product line' }).click();
  const lines = rep.getByRole('table', { name: 'Product lines' }).getByRole('row');
  const last = (await lines.count()) - 1;
  await rep
    .getByRole('combobox', { name: `Line ${last}: what` })
    .or(rep.getByRole('textbox', { name: `Line ${last}: what` }))
    .first()
    .fill('Salt for a year');
  await rep.getByRole('textbox', { name: `Line ${last}: price` }).fill('120');
  await rep.getByRole('checkbox', { name: `Line ${last}: optional` }).check();
  await expectAccessible(rep);
  await rep.getByRole('textbox', { name: 'Line 1: tax' }).fill('120');
  await rep.getByRole('button', { name: 'Save the draft' }).click();
  await expect(rep.getByText(/tax must be at most 100 %/)).toBeVisible();
  await rep.getByRole('textbox', { name: 'Line 1: tax' }).fill('20');
  await rep.getByRole('button', { name: 'Save the draft' }).click();
  await expect(rep.getByText('The draft is saved.')).toBeVisible();
});

test('2. it is sent: it gets its number and a page for the customer', async () => {
  await rep.getByRole('button', { name: 'Save and send …' }).click();
  const dialog = rep.getByRole('dialog');
  await expect(dialog.getByRole('textbox', { name: 'Subject' })).toHaveValue(/Softener with a year of salt/);
  await dialog.getByRole('button', { name: 'Send' }).click();
  await expect(rep.getByText(/Quote Q-\d{4} is sent/)).toBeVisible();
  await expect(rep.getByRole('heading', { name: /^Q-\d{4}$/ })).toBeVisible();
  link = await rep.locator('.link a').first().innerText();
  await expectAccessible(rep);
});

test('3. the customer reads it without signing in, asks, and loses nothing by a forgotten name', async () => {
  await customer.goto(new URL(new URL(link).pathname, installation.url).toString());
  await expect(customer.getByRole('heading', { name: 'Softener with a year of salt' })).toBeVisible();
  await expect(customer.getByRole('row', { name: /^total/ })).toContainText('£');
  await expectAccessible(customer);
  await customer.getByText('Ask something').click();
  const ask = customer.locator('form').filter({ hasText: 'Your question' });
  await ask.getByLabel('Your name').fill('Maud Ellery');
  await ask.getByLabel('Your question').fill('Is the salt delivered?');
  await ask.getByRole('button', { name: 'Send' }).click();
  await expect(customer.getByText('The quote stays open.')).toBeVisible();
  await expect(rep.getByText('Is the salt delivered?')).toBeVisible();
});

test('4. they accept it with the option, on a phone; the rep sees it at once, and the deal is worth it', async () => {
  await customer.setViewportSize({ width: 390, height: 844 });
  await customer.goto(new URL(new URL(link).pathname, installation.url).toString());
  const width = await customer.evaluate(() => document.documentElement.scrollWidth);
  expect(width).toBeLessThanOrEqual(390);
  await customer.getByRole('checkbox', { name: 'take this too' }).check();
  const accept = customer.locator('form#accept');
  await accept.getByLabel('Your name').fill('Maud Ellery');
  await accept.getByRole('button', { name: 'Accept this quote' }).click();
  await expect(customer.getByText('Accepted by Maud Ellery. Thank you.')).toBeVisible();
  await expect(rep.getByText('Accepted by Maud Ellery')).toBeVisible();
  await rep.getByRole('button', { name: 'Win the deal' }).click();
  await expect(rep.getByRole('dialog')).toContainText(/Won|Final value/);
  await rep.keyboard.press('Escape');
});

test('5. what was accepted is invoiced in one step, once', async () => {
  await rep.getByRole('button', { name: 'Invoice …' }).click();
  await rep.getByRole('dialog').getByRole('button', { name: 'Issue it' }).click();
  await expect(rep.getByRole('heading', { name: /^I-\d{4}$/ })).toBeVisible();
  // £2,000 less a tenth and £120 with 20 % on top.
  await expect(rep.locator('.facts')).toContainText('£2,304.00');
  await expectAccessible(rep);
  const number = await rep.getByRole('heading', { level: 1 }).innerText();
  await rep.goBack();
  await rep.getByRole('button', { name: 'Invoice …' }).click();
  await rep.getByRole('dialog').getByRole('button', { name: 'Issue it' }).click();
  await expect(rep.getByRole('dialog')).toContainText(number);
  await rep.keyboard.press('Escape');
  await rep.goto(`${installation.url}/invoices`);
  await rep.getByRole('link', { name: number }).click();
});

test('6. payments by the keyboard: nothing typed wrong is lost, one is undone, and the balance follows', async () => {
  const pay = async (amount: string) => {
    await rep.getByRole('button', { name: 'Payment …' }).press('Enter');
    const field = rep.getByRole('dialog').getByRole('textbox', { name: 'Amount' });
    await field.fill(amount);
    await field.press('Enter');
  };
  await pay('-1');
  await expect(rep.getByRole('dialog')).toContainText('must be an amount in GBP');
  await expect(rep.getByRole('dialog').getByRole('textbox', { name: 'Amount' })).toHaveValue('-1');
  await rep.getByRole('dialog').getByRole('textbox', { name: 'Amount' }).fill('304');
  await rep.keyboard.press('Enter');
  await expect(rep.locator('.facts')).toContainText('to be paid£2,000.00');
  await rep.getByRole('button', { name: 'Undo' }).click();
  await expect(rep.locator('.facts')).toContainText('to be paid£2,304.00');
  await pay('2304');
  await expect(rep.locator('.page-head')).toContainText('paid');
  await expect(rep.locator('.facts')).toContainText('to be paid£0.00');
});
