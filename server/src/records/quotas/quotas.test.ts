import { aContact, aDeal } from '../../../testing/people';
import { install, type Caller, type Installation } from '../../../testing/installation';

let installation: Installation;
let rep: Caller;
let colleague: Caller;
let manager: Caller;
let admin: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep', 'Imogen Thorne');
  colleague = await installation.as('rep', 'Dara Finch');
  manager = await installation.as('manager', 'Corin Vale');
  admin = await installation.as('admin');
});
afterAll(() => installation.close());

const set = (caller: Caller, part: object, changeId?: string) =>
  caller.call('setQuota', {
    body: { userId: rep.id, month: '2026-11-01', minor: 2_000_000, holds: 'on', ...part },
    ...(changeId && { changeId }),
  });
const amounts = async (caller: Caller, name: string, isTeam = false) => {
  const { rows } = await caller.ok('readQuotas', { query: { from: '2026-10-01', months: 4 } });
  return rows.find((row) => row.name === name && row.isTeam === isTeam)?.amounts.map(({ minor }) => minor);
};

test('a manager sets a person’s quota from a month on and for one month; they are told, and it is undone', async () => {
  expect((await set(manager, {})).status).toBe(200);
  const changeId = '01900000-0000-7000-8000-0000000000a1';
  expect(
    (await set(manager, { month: '2026-12-01', minor: 3_000_000, holds: 'month' }, changeId)).status,
  ).toBe(200);
  expect(await amounts(rep, 'Imogen Thorne')).toEqual([null, 2_000_000, 3_000_000, 2_000_000]);
  const told = async () => (await rep.ok('listNotifications')).notifications.map(({ words }) => words);
  expect((await told())[0]).toBe('Corin Vale set your quota for December 2026: £30,000.');
  await manager.ok('undoChange', { params: { id: changeId } });
  expect(await amounts(rep, 'Imogen Thorne')).toEqual([null, 2_000_000, 2_000_000, 2_000_000]);
  expect((await told()).join()).not.toContain('December');
});

test('a team’s is beside the sum of its people’s, and can be taken away', async () => {
  await set(manager, { userId: colleague.id, minor: 1_500_000 });
  await set(manager, { userId: manager.id, isTeam: true, minor: 4_000_000 });
  const { rows } = await manager.ok('readQuotas', { query: { from: '2026-11-01', months: 2 } });
  const team = rows.find(({ isTeam }) => isTeam)!;
  expect([team.amounts[0], team.ofPeople]).toEqual([
    { minor: 4_000_000, isSetHere: true },
    [3_500_000, 3_500_000],
  ]);
  await set(manager, { userId: manager.id, isTeam: true, month: '2026-12-01', minor: null });
  expect(await amounts(manager, 'Corin Vale', true)).toEqual([null, 4_000_000, null, null]);
});

test('a rep sets none and sees their own alone; nobody’s team, no other day than the first, nothing below nothing', async () => {
  expect((await set(rep, {})).status).toBe(403);
  expect(
    (await rep.ok('readQuotas', { query: { from: '2026-11-01' } })).rows.map(({ name }) => name),
  ).toEqual(['Imogen Thorne']);
  const fieldsOf = async (part: object) => {
    const { status, body } = await set(manager, part);
    return [status, (body as { fields?: { path: string }[] }).fields?.map(({ path }) => path)];
  };
  expect(await fieldsOf({ isTeam: true })).toEqual([400, ['isTeam']]);
  expect(await fieldsOf({ month: '2026-11-02' })).toEqual([400, ['month']]);
  expect(await fieldsOf({ minor: -1 })).toEqual([400, ['minor']]);
  const nobody = '01900000-0000-7000-8000-0000000000ff';
  expect((await set(manager, { userId: nobody })).status).toBe(404);
});

test('a manager sets none of whom another leads', async () => {
  const other = await installation.as('manager', 'Odile Marsh');
  await installation.services.database.change('UPDATE app_user SET manager_id = :other WHERE id = :id', {
    other: Buffer.from(other.id.replaceAll('-', ''), 'hex'),
    id: Buffer.from(colleague.id.replaceAll('-', ''), 'hex'),
  });
  expect((await set(manager, { userId: colleague.id })).status).toBe(403);
  expect((await set(other, { userId: colleague.id, minor: 1_500_000 })).status).toBe(200);
  expect((await set(admin, { userId: colleague.id, minor: 1_500_000 })).status).toBe(200);
  await installation.services.database.change('UPDATE app_user SET manager_id = NULL');
});

test('the board adds up: won and expected by person, the team’s quota, how far the month is', async () => {
  await set(manager, { userId: manager.id, isTeam: true, minor: 4_000_000 });
  const won = await aDeal(rep, (await aContact(rep)).id);
  await rep.ok('closeDeal', {
    params: { id: won.id },
    body: { as: 'won', version: won.version, on: '2026-11-24' },
  });
  await aDeal(colleague, (await aContact(colleague)).id, { expectedCloseOn: '2026-11-30' });
  await aDeal(colleague, (await aContact(colleague)).id, { expectedCloseOn: '2026-12-01' });
  const board = await manager.ok('quotaBoard', { query: { month: '2026-11-01', whose: 'team' } });
  const of = (name: string) => board.people.find((each) => each.name === name)!;
  expect(of('Imogen Thorne')).toMatchObject({ won: 1, wonMinor: 980_000, quotaMinor: 2_000_000 });
  expect(of('Dara Finch')).toMatchObject({ won: 0, quotaMinor: 1_500_000 });
  expect(of('Dara Finch').expectedMinor).toBeGreaterThan(0);
  expect(board.total).toMatchObject({
    ...{ isTeam: true, quotaMinor: 4_000_000, won: 1, wonMinor: 980_000 },
    expectedMinor: of('Dara Finch').expectedMinor,
  });
  // Sixteen of the twenty-one working days of November 2026 are over on the 24th.
  expect(board.elapsed).toBeCloseTo(16 / 21, 6);
  const december = await colleague.ok('quotaBoard', { query: { month: '2026-12-01' } });
  expect([december.elapsed, december.total.expectedMinor]).toEqual([0, of('Dara Finch').expectedMinor]);
  const october = await colleague.ok('quotaBoard', { query: { month: '2026-10-01' } });
  expect([october.elapsed, october.total.expectedMinor, october.people]).toEqual([1, 0, []]);
});

test('the forecast of the month: what is won for certain, an open deal by its chance', async () => {
  const found = await rep.ok('monthForecast');
  expect(found).toMatchObject({ wonMinor: 980_000, open: 0, expectedMinor: 980_000, quotaChance: 0 });
  await set(manager, { minor: 1_500_000 });
  const deal = await aDeal(rep, (await aContact(rep)).id, {
    expectedCloseOn: '2026-11-30',
    winProbability: 0.25,
  });
  const after = await rep.ok('monthForecast');
  expect(after).toMatchObject({
    ...{ open: 1, openMinor: 980_000, expectedMinor: 980_000 + 245_000, quotaChance: 0.25 },
    ...{ lowMinor: 980_000, middleMinor: 980_000, highMinor: 1_960_000 },
    moves: [{ dealId: deal.id, ifWon: 1, ifLost: 0 }],
  });
});
