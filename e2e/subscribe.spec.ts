import { expect, type Page, test } from '@playwright/test';
import { choose } from './testing/choose';
import { opened } from './testing/dialog';
import { Installation } from './testing/installation';
import { collectComplaints, expectAccessible } from './testing/looks';

/** Calendars elsewhere: one that is read, one that is kept in step both ways, and ours as others read it. */
test.describe.configure({ mode: 'serial' });

let installation: Installation;
let page: Page;
let complaints: string[];
test.beforeAll(async ({ browser }) => {
  installation = await Installation.make({ demo: true, outside: true });
  page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  complaints = collectComplaints(page);
  await signIn(page, /Imogen Thorne/);
});
test.afterAll(async () => {
  await page.close();
  await installation.stop();
});
test.afterEach(() => expect(complaints).toEqual([]));

async function signIn(of: Page, name: RegExp) {
  await of.goto(installation.url);
  await of.getByRole('button', { name }).click();
  await of.waitForURL(/round/);
}
const settings = async () => {
  await page.goto(`${installation.url}/settings?part=calendars`);
  await expect(page.getByRole('heading', { name: 'Other calendars in mine' })).toBeVisible();
};

test('1. a calendar is read at its address: it takes its time, and a colleague sees that I am busy', async ({
  browser,
}) => {
  await settings();
  await expect(page.getByText('None yet.')).toBeVisible();
  await page.getByLabel('What to call it').fill('Home');
  await page.getByLabel('Its address').fill('http://127.0.0.1:9999/me.ics');
  await page.getByRole('button', { name: 'Add the calendar' }).click();
  await expect(page.getByText(/This address lies inside a network/)).toBeVisible();
  await expect(page.getByLabel('What to call it')).toHaveValue('Home');
  await page.getByLabel('Its address').fill(`${installation.outside}/calendars/imogen.ics`);
  await page.getByRole('button', { name: 'Add the calendar' }).click();
  await expect(page.getByText(/\d+ events/)).toBeVisible();
  await expectAccessible(page);
  await expect(page.locator('kettle-day-spine').getByText('Fetch the children')).toBeVisible();
  await page.goto(`${installation.url}/calendar?shape=week`);
  await expect(page.getByText('Market day')).toBeVisible();
  await expect(
    page.getByRole('button', { name: /Tue 24 Nov 15:15 to 15:45: Fetch the children.*In another calendar/ }),
  ).toBeDisabled();
  await expectAccessible(page);
  const other = await (await browser.newContext()).newPage();
  await signIn(other, /Dara Finch/);
  await other.goto(`${installation.url}/calendar?shape=week`);
  await choose(other.getByRole('combobox', { name: 'Whose calendar' }), 'Imogen Thorne');
  await expect(other.getByRole('button', { name: /Tue 24 Nov 15:15 to 15:45: busy/ })).toBeVisible();
  await expect(other.getByText('Fetch the children')).toHaveCount(0);
  await other.close();
});

const diaries = () => fetch(installation.outside).then((reply) => reply.text());

test('2. one is kept in step: planned here it is there, moved there it is here', async () => {
  await settings();
  await choose(page.getByRole('combobox', { name: 'What to do with it' }), 'Keep mine in step with it');
  await page.getByLabel('What to call it').fill('Work');
  await page.getByLabel('Its address').fill(`${installation.outside}/dav/`);
  await page.getByLabel('Your name there').fill('imogen');
  await page.getByLabel('Your password there').fill('not this');
  await page.getByRole('button', { name: 'Add the calendar' }).click();
  await expect(page.getByText('The name or the password is not right.')).toBeVisible();
  await page.getByLabel('Your password there').fill('an open diary');
  await page.getByRole('button', { name: 'Add the calendar' }).click();
  await expect(page.getByText('kept in step both ways')).toBeVisible();
  await page.goto(`${installation.url}/calendar?shape=week`);
  await expect(page.getByText('Market day')).toBeVisible();
  await page.keyboard.press('a');
  const dialog = await opened(page);
  await dialog.getByLabel('Title').fill('Look at the boiler');
  await dialog.getByLabel('Day').fill('Fri 27 Nov');
  await dialog.getByLabel('From').fill('11:00');
  await dialog.getByRole('button', { name: 'Plan', exact: true }).click();
  await expect(page.getByRole('button', { name: /Fri 27 Nov 11:00 to .*Look at the boiler/ })).toBeVisible();
  await expect.poll(diaries).toContain('Look at the boiler');
  const name = /Look at the boiler[\s\S]*?name="name" value="([^"]+)"/.exec(await diaries())![1]!;
  await fetch(`${installation.outside}/diaries`, {
    method: 'POST',
    redirect: 'manual',
    body: new URLSearchParams({ login: 'imogen', name, hours: '2' }),
  });
  await settings();
  await page.getByRole('button', { name: 'Read Work now' }).click();
  await page.goto(`${installation.url}/calendar?shape=week`);
  await expect(page.getByRole('button', { name: /Fri 27 Nov 13:00 to .*Look at the boiler/ })).toBeVisible();
  await expect(page.getByRole('button', { name: /Thu 26 Nov 16:30 to 17:30: Choir/ })).toBeDisabled();
});

test('3. it is deleted there: asked, put back, and no second time', async () => {
  const name = /Look at the boiler[\s\S]*?name="name" value="([^"]+)"/.exec(await diaries())![1]!;
  await fetch(`${installation.outside}/diaries`, {
    method: 'POST',
    redirect: 'manual',
    body: new URLSearchParams({ login: 'imogen', name, act: 'delete' }),
  });
  await settings();
  await page.getByRole('button', { name: 'Read Work now' }).click();
  await expect(page.getByText(/was deleted there/)).toBeVisible();
  await page.goto(`${installation.url}/calendar?shape=week`);
  await expect(page.getByText('Look at the boiler was deleted in Work.')).toBeVisible();
  await page.getByRole('link', { name: 'See to it' }).click();
  await page.getByRole('button', { name: 'Put it back there' }).click();
  await expect(page.getByText(/was deleted there/)).toHaveCount(0);
  await expect.poll(diaries).toContain('Look at the boiler');
});

test('4. ours is subscribed to by its secret address, and withdrawn', async () => {
  await settings();
  await page.getByRole('button', { name: 'Make an address' }).click();
  const address = await page.getByLabel('The address').inputValue();
  const read = async () => {
    const reply = await fetch(new URL(new URL(address).pathname, installation.url));
    return reply.status === 200 ? await reply.text() : reply.status;
  };
  expect(await read()).toContain('SUMMARY:Look at the boiler');
  await page.getByRole('button', { name: 'Withdraw it' }).click();
  await expect(page.getByText('The address is withdrawn.')).toBeVisible();
  expect(await read()).toBe(404);
});
