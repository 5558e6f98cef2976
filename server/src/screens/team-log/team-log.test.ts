import { aContact, aDeal, aLog } from '../../../testing/people';
import { install, type Caller, type Installation } from '../../../testing/installation';

let installation: Installation;
let rep: Caller;
let colleague: Caller;
let manager: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep', 'Imogen Thorne');
  colleague = await installation.as('rep', 'Dara Finch');
  manager = await installation.as('manager', 'Corin Vale');
});
afterAll(() => installation.close());

const log = async (caller: Caller, query: object = {}) => (await caller.ok('teamLog', { query })).entries;

test('what everybody logged, newest first, by person, kind and deal, page after page', async () => {
  const contact = await aContact(rep, { familyName: 'Ellery' });
  const deal = await aDeal(rep, contact.id);
  for (const [caller, minute] of [
    [rep, 10],
    [colleague, 20],
    [rep, 30],
  ] as const) {
    installation.clock.set(`2026-11-24T11:${String(minute)}:00.000Z`);
    const own = caller === rep ? contact : await aContact(colleague);
    await aLog(caller, own.id, caller === rep ? { dealId: deal.id } : {});
  }
  const all = await log(manager);
  expect(all.map(({ userName }) => userName)).toEqual(['Imogen Thorne', 'Dara Finch', 'Imogen Thorne']);
  expect((await log(manager, { userId: colleague.id })).map(({ userName }) => userName)).toEqual([
    'Dara Finch',
  ]);
  expect(await log(rep, { dealId: deal.id })).toHaveLength(2);
  expect(await log(rep, { kinds: 'visit' })).toEqual([]);
  expect(await log(colleague, { whose: 'mine' })).toHaveLength(1);
  const first = await manager.ok('teamLog', { query: { limit: 2 } });
  const second = await manager.ok('teamLog', { query: { limit: 2, before: first.before! } });
  expect([...first.entries, ...second.entries].map(({ id }) => id)).toEqual(all.map(({ id }) => id));
  expect(second.before).toBeNull();
});

test('thanks are given once, told to whoever logged it, and taken back; for one’s own there are none', async () => {
  const [entry] = await log(manager, { userId: rep.id });
  const thank = (caller: Caller, isGiven: boolean) =>
    caller.ok('giveThanks', { params: { id: entry!.id }, body: { isGiven } });
  for (const caller of [colleague, colleague, rep]) await thank(caller, true);
  const now = async () => (await log(manager, { userId: rep.id }))[0]!.thanks.map(({ userName }) => userName);
  expect(await now()).toEqual(['Dara Finch']);
  const told = (await rep.ok('listNotifications')).notifications.filter(({ words }) =>
    words.includes('thanks'),
  );
  expect(told.map(({ words }) => words)).toEqual([
    expect.stringMatching(/^Dara Finch thanks you for what you logged with .*Ellery\.$/),
  ]);
  await thank(colleague, false);
  expect(await now()).toEqual([]);
});

test('ranks by what was won, then by touches, with the period before', async () => {
  const period = { from: '2026-11-01', to: '2026-11-30' };
  const ranking = async () => (await manager.ok('teamRanking', { query: period })).people;
  const names = (people: Awaited<ReturnType<typeof ranking>>) => people.map(({ name }) => name);
  expect(names(await ranking()).slice(0, 2)).toEqual(['Imogen Thorne', 'Dara Finch']);
  const deal = await aDeal(colleague, (await aContact(colleague)).id);
  await colleague.ok('closeDeal', {
    params: { id: deal.id },
    body: { as: 'won', version: deal.version, on: '2026-11-24' },
  });
  const [first, second] = await ranking();
  expect(first).toMatchObject({ name: 'Dara Finch', touches: 1, won: 1, wonMinor: 980_000 });
  expect(second).toMatchObject({ name: 'Imogen Thorne', touches: 2, won: 0 });
  expect(first!.before).toMatchObject({ touches: 0, won: 0, wonMinor: 0 });
  const later = await manager.ok('teamRanking', { query: { from: '2026-12-01', to: '2026-12-30' } });
  expect(later.before).toEqual({ from: '2026-11-01', to: '2026-11-30' });
  const dara = later.people.find(({ name }) => name === 'Dara Finch');
  expect(dara).toMatchObject({ touches: 0, won: 0, before: { won: 1, wonMinor: 980_000 } });
  // It is what “What I did” counts.
  const done = await rep.ok('whatIsDone', { query: { from: '2026-11-01', to: '2026-11-30' } });
  expect(done.conversations).toBe(second!.conversations);
  expect((await rep.call('teamRanking', { query: { from: '2026-12-01', to: '2026-11-01' } })).status).toBe(
    400,
  );
});
