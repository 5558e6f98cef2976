import { install, type Caller, type Installation } from '../../../testing/installation';

let installation: Installation;
let rep: Caller;
let other: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep');
  other = await installation.as('rep');
});
afterAll(() => installation.close());

const save = (name: string, part: object = {}) =>
  rep.ok('saveView', { body: { place: 'people', name, query: 'sort=-name', ...part } });
const views = async (caller: Caller, place = 'people') =>
  (await caller.ok('listViews', { query: { place } })).views;

test('mine are mine, shared ones everybody’s; a name is used once', async () => {
  const mine = await save('Quiet ones');
  const shared = await save('North', { isShared: true });
  expect((await views(rep)).map((view) => view.name)).toEqual(['North', 'Quiet ones']);
  expect((await views(other)).map((view) => view.id)).toEqual([shared.id]);
  expect(await views(rep, 'tasks')).toEqual([]);
  const twice = await rep.call('saveView', { body: { place: 'people', name: 'Quiet ones', query: '' } });
  expect(twice.body.code).toBe('already-exists');
  for (const name of ['changeView', 'removeView'] as const) {
    const body = { version: 1, name: 'x', query: '' };
    expect((await other.call(name, { params: { id: shared.id }, body })).body.code).toBe('not-yours');
    expect((await other.call(name, { params: { id: mine.id }, body })).body.code).toBe('not-found');
  }
});

test('one is landed on, by each for themselves; unshared, others land on it no longer', async () => {
  const [one, two] = [await save('One', { isShared: true }), await save('Two')];
  await rep.ok('pinView', { params: { id: one.id }, body: { isLanding: true } });
  await other.ok('pinView', { params: { id: one.id }, body: { isLanding: true } });
  await rep.ok('pinView', { params: { id: two.id }, body: { isLanding: true } });
  const landing = async (caller: Caller) =>
    (await views(caller)).filter((view) => view.isLanding).map((view) => view.name);
  expect([await landing(rep), await landing(other)]).toEqual([['Two'], ['One']]);
  const body = { version: one.version, name: 'One', query: 'q=x', isShared: false };
  await rep.ok('changeView', { params: { id: one.id }, body });
  expect(await landing(other)).toEqual([]);
  // Sent again over the old version it changes nothing; another name for it is a conflict with the first.
  await rep.ok('changeView', { params: { id: one.id }, body: { ...body, name: 'Uno' } });
  const late = await rep.call('changeView', { params: { id: one.id }, body: { ...body, name: 'Eins' } });
  expect(late.body).toMatchObject({ code: 'stale', fields: [{ path: 'name' }] });
  await rep.ok('pinView', { params: { id: two.id }, body: { isLanding: false } });
  await rep.ok('removeView', { params: { id: two.id } });
  expect(await landing(rep)).toEqual([]);
});
