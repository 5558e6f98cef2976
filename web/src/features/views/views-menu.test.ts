import type { SavedView } from '@kettle/contract';
import { showPart, type Part } from '../../../testing/part';
import { ViewsMenu } from './views-menu';

const aView = (part: object = {}): SavedView =>
  ({
    id: 'v1',
    place: 'deals',
    name: 'The great ones',
    query: 'as=list&group=owner',
    ownerId: 'me',
    ownerName: 'Imogen Thorne',
    isShared: false,
    isLanding: false,
    isFavourite: false,
    version: 2,
    ...part,
  }) as never;

async function show(views: SavedView[], query = '') {
  const chosen: string[] = [];
  const part = await showPart(ViewsMenu, { inputs: { place: 'deals', query } });
  part.shown.chosen.subscribe((each) => chosen.push(each));
  await part.answer('/api/views', { views });
  return { part, chosen };
}

/** Opens the menu and presses one of its items. */
async function press(part: Part<ViewsMenu>, name: RegExp): Promise<void> {
  await part.click([...part.root.querySelectorAll('button')].at(-1)!);
  await part.pass(5);
  const items = [...document.querySelectorAll<HTMLButtonElement>('[mat-menu-item]')];
  const found = items.find((item) => name.test(item.textContent));
  if (!found) throw new Error(`not in the menu: ${String(name)}`);
  await part.click(found);
}
afterEach(() => document.querySelectorAll('.cdk-overlay-container').forEach((each) => each.remove()));

describe('saved views', () => {
  test('those kept at hand stand beside the menu, and the one on screen is marked', async () => {
    const favourite = aView({ id: 'v2', name: 'Loose', query: 'show=loose', isFavourite: true });
    const { part, chosen } = await show([aView(), favourite], 'show=loose');
    const button = part.button('Loose');
    expect(button.getAttribute('aria-pressed')).toBe('true');
    await part.click(button);
    expect(chosen).toEqual(['show=loose']);
    expect(part.button('views')).toBeDefined();
  });

  test('the one on screen names the menu', async () => {
    const { part } = await show([aView()], 'as=list&group=owner');
    expect(part.button('The great ones')).toBeDefined();
  });

  test('who comes without a view is led to the one they land on, once; who has one is not', async () => {
    const landing = aView({ isLanding: true });
    const plain = await show([landing]);
    expect(plain.chosen).toEqual(['as=list&group=owner']);
    await press(plain.part, /The great ones/);
    expect(plain.chosen).toHaveLength(2);
  });

  test('who comes by an address with a view of its own stays there', async () => {
    const { chosen } = await show([aView({ isLanding: true })], 'show=late');
    expect(chosen).toEqual([]);
  });

  test.each([
    [/Pin beside/, '/api/views/v1/favourite', { isFavourite: true }],
    [/Open first/, '/api/views/v1/landing', { isLanding: true }],
    [/Share with the team/, '/api/views/v1', { isShared: true, version: 2, name: 'The great ones' }],
  ])('%s is asked of the server, and the list read again', async (name, path, body) => {
    const { part } = await show([aView()], 'as=list&group=owner');
    await press(part, name);
    const asked = part.server.match((request) => request.url.startsWith('/api/views/v1'));
    expect(asked.map((each) => [each.request.url, each.request.body])).toEqual([
      [path, expect.objectContaining(body)],
    ]);
    asked[0]!.flush({});
    await part.settle();
    expect(part.asked('/api/views').request.method).toBe('GET');
  });

  test('one that was chosen and changed since can be saved over, and is as it was by undo', async () => {
    const { part } = await show([aView()], 'show=late');
    await press(part, /The great ones/);
    await press(part, /Save over “The great ones”/);
    const asked = part.asked('/api/views/v1');
    expect(asked.request.body).toMatchObject({ query: 'show=late', name: 'The great ones', version: 2 });
    asked.flush(aView({ query: 'show=late', version: 3 }));
    await part.settle();
    await part.pressUndo();
    expect(part.asked('/api/views/v1').request.body).toMatchObject({
      query: 'as=list&group=owner',
      version: 3,
    });
  });

  test('another name is given in a dialog, over the version it was seen at', async () => {
    const { part } = await show([aView()], 'as=list&group=owner');
    await press(part, /Rename/);
    await part.pass(60);
    const dialog = document.querySelector<HTMLElement>('kettle-view-dialog')!;
    const name = dialog.querySelector('input')!;
    expect(name.value).toBe('The great ones');
    name.value = 'Mine';
    name.dispatchEvent(new Event('input'));
    dialog.querySelector('form')!.dispatchEvent(new Event('submit'));
    await part.settle();
    expect(part.asked('/api/views/v1').request.body).toMatchObject({ name: 'Mine', version: 2 });
  });

  test('a removed view comes back by its undo', async () => {
    const { part } = await show([aView({ isShared: true })], 'as=list&group=owner');
    await press(part, /^\s*Remove/);
    await part.answer('/api/views/v1', {});
    expect(document.body.textContent).toContain('The view The great ones is removed.');
    await part.pressUndo();
    const asked = part.server.match((request) => request.url === '/api/views' && request.method === 'POST');
    expect(asked.map((each) => each.request.body)).toEqual([
      { place: 'deals', name: 'The great ones', query: 'as=list&group=owner', isShared: true },
    ]);
  });

  test('somebody else’s shared view is named with its owner, and is not mine to share or remove', async () => {
    const theirs = aView({ ownerId: 'rhys', ownerName: 'Rhys Calder', isShared: true });
    const { part } = await show([theirs], 'as=list&group=owner');
    await press(part, /Rhys Calder/);
    const items = [...document.querySelectorAll('[mat-menu-item]')].map((item) => item.textContent.trim());
    expect(items.some((item) => /Share|Remove|Rename|Stop sharing/.test(item))).toBe(false);
    expect(items).toContain('Pin beside this menu');
  });
});
