import { install, type Caller, type Installation } from '../../../testing/installation';

let installation: Installation;
let rep: Caller;
let colleague: Caller;
let admin: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep');
  colleague = await installation.as('rep');
  admin = await installation.as('admin');
});
afterAll(() => installation.close());

const card = (n: number, part: object = {}) => ({
  ...{ id: `01900000-0000-7000-8000-0000000000${10 + n}`, kind: 'today', width: 1 },
  ...part,
});
const kinds = async (caller: Caller) => (await caller.ok('readHome')).cards.map(({ kind }) => kind);

test('each arranges their own; an admin sets that of a role, for those who did not', async () => {
  expect((await rep.ok('readHome')).of).toBe('shipped');
  const own = await rep.ok('arrangeHome', {
    body: { version: null, cards: [card(1, { kind: 'log', width: 3 }), card(2)] },
  });
  expect(own).toMatchObject({ of: 'own', version: 1 });
  const cards = [card(1, { kind: 'month', whose: 'team' })];
  await admin.ok('arrangeRoleHome', { params: { role: 'rep' }, body: { cards } });
  expect(await kinds(rep)).toEqual(['log', 'today']);
  expect(await kinds(colleague)).toEqual(['month']);
  expect((await colleague.ok('readHome')).of).toBe('role');
  expect((await rep.ok('resetHome')).cards.map(({ kind }) => kind)).toEqual(['month']);
  expect((await rep.call('arrangeRoleHome', { params: { role: 'rep' }, body: { cards } })).status).toBe(403);
});

test('arranged in two windows the second is told; undone it is as before', async () => {
  const first = await colleague.ok('arrangeHome', { body: { version: null, cards: [card(1)] } });
  const changeId = '01900000-0000-7000-8000-0000000000b1';
  await colleague.ok('arrangeHome', { body: { version: first.version, cards: [] }, changeId });
  const late = await colleague.call('arrangeHome', {
    body: { version: first.version, cards: [card(2)] },
  });
  expect([late.status, late.body.code]).toEqual([409, 'stale']);
  expect(await kinds(colleague)).toEqual([]);
  await colleague.ok('undoChange', { params: { id: changeId } });
  expect(await kinds(colleague)).toEqual(['today']);
});

test('a card of a view names one that its reader may see, for a role one that is shared', async () => {
  const save = (isShared: boolean) =>
    rep.ok('saveView', { body: { place: 'people', name: `Mine ${String(isShared)}`, query: '', isShared } });
  const [own, shared] = [await save(false), await save(true)];
  const of = (viewId: string) => [card(1, { kind: 'view', viewId })];
  const { version } = await rep.ok('arrangeHome', { body: { version: null, cards: of(own.id) } });
  expect(version).toBe(1);
  const mine = await colleague.ok('readHome');
  const arrange = (viewId: string) =>
    colleague.call('arrangeHome', { body: { version: mine.version, cards: of(viewId) } });
  expect((await arrange(own.id)).status).toBe(404);
  expect((await arrange(shared.id)).status).toBe(200);
  const forRole = (viewId: string) =>
    admin.call('arrangeRoleHome', { params: { role: 'rep' }, body: { cards: of(viewId) } });
  expect([(await forRole(own.id)).status, (await forRole(shared.id)).status]).not.toContain(500);
  expect((await forRole(own.id)).status).not.toBe(200);
  const wrong = await rep.call('arrangeHome', {
    body: { version, cards: [card(1), card(1)] },
  });
  expect(wrong.status).toBe(400);
  const nameless = await rep.call('arrangeHome', { body: { version, cards: [card(1, { kind: 'view' })] } });
  expect(nameless.status).toBe(400);
});
