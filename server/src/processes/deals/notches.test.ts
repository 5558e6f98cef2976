import { randomUUID } from 'node:crypto';
import fc from 'fast-check';
import { completionOf, placeOf } from '@kettle/core/deals';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, journalOf } from '../../../testing/people';
import { wholeState } from '../../../testing/whole-state';

let installation: Installation;
let rep: Caller;
let other: Caller;
beforeAll(async () => {
  installation = await install();
  [rep, other] = [await installation.as('rep'), await installation.as('rep', 'Dara Quist')];
});
afterAll(() => installation.close());

const made = async () => aDeal(rep, (await aContact(rep)).id);
const read = (id: string) => rep.ok('getDeal', { params: { id } });
const stagesOf = async () => (await rep.ok('listPipelines')).pipelines[0]!.stages;
const cut = async (id: string, notches: number, by = rep, changeId = randomUUID()) => {
  const { version } = await read(id);
  const { status, body } = await by.call('notchDeal', {
    params: { id },
    body: { version, notches },
    changeId,
  });
  return { status, body, changeId };
};

test('a notch is cut, told in the journal, and undone to the row', async () => {
  const deal = await made();
  const before = await wholeState(installation.services.database);
  const { changeId, body } = await cut(deal.id, 2);
  const stages = await stagesOf();
  const completion = completionOf({ status: 'open', notches: 2, ...placeOf(deal.stageId, stages) });
  expect(body).toMatchObject({ notches: 2, completion, stalledDays: deal.stalledDays });
  expect((await journalOf(rep, { dealId: deal.id }))[0]!.body).toContain('Notches: 0 → 2');
  await rep.ok('undoChange', { params: { id: changeId } });
  expect(await wholeState(installation.services.database)).toEqual(before);
});

test('another stage begins without notches; back in the old one they are not there either', async () => {
  const deal = await made();
  await cut(deal.id, 3);
  const [, second] = await stagesOf();
  const to = async (stageId: string) =>
    rep.ok('moveDeal', {
      params: { id: deal.id },
      body: { version: (await read(deal.id)).version, stageId, expectedCloseOn: deal.expectedCloseOn },
    });
  expect(await to(second!.id)).toMatchObject({ stageId: second!.id, notches: 0 });
  expect((await to(deal.stageId)).notches).toBe(0);
  const told = await journalOf(rep, { dealId: deal.id });
  expect(told.filter(({ body }) => body.includes('Notches')).map(({ body }) => body)).toEqual([
    expect.stringContaining('Notches: 0 → 3'),
  ]);
});

test('two who cut at once are asked, whoever is not concerned may not, and five are refused', async () => {
  const deal = await made();
  const { version } = await read(deal.id);
  await cut(deal.id, 1);
  const late = await rep.call('notchDeal', { params: { id: deal.id }, body: { version, notches: 3 } });
  expect([late.status, (late.body as { fields: object[] }).fields]).toEqual([
    409,
    [expect.objectContaining({ path: 'notches' })],
  ]);
  expect((await cut(deal.id, 2, other)).status).toBe(403);
  const five = await cut(deal.id, 5);
  expect([five.status, (five.body as { fields: object[] }).fields]).toEqual([
    400,
    [{ path: 'notches', message: 'must be at most four' }],
  ]);
});

test('the list sorts and finds by notches and by completion, as each deal’s own page says them', async () => {
  const stages = await stagesOf();
  const contact = await aContact(rep);
  for (const [stage, notches] of [
    [0, 4],
    [1, 0],
    [1, 3],
  ] as const) {
    const deal = await aDeal(rep, contact.id, { stageId: stages[stage]!.id, name: `n${stage}${notches}` });
    await cut(deal.id, notches);
  }
  const query = { owner: 'mine', q: 'n', sort: '-completion' } as const;
  const { rows } = await rep.ok('pageDeals', { query });
  const named = rows.filter(({ name }) => /^n\d\d$/.test(name));
  expect(named.map(({ name }) => name)).toEqual(['n13', 'n10', 'n04']);
  for (const row of named) expect(row.completion).toBe((await read(row.id)).completion);
  const filter = JSON.stringify({ join: 'all', rules: [{ field: 'notches', ask: 'more', value: 2 }] });
  const found = await rep.ok('pageDeals', { query: { ...query, filter: filter as never } });
  expect(found.rows.map(({ name }) => name).sort()).toEqual(['n04', 'n13']);
});

test('SQL and core say the same completion of any deal', async () => {
  const stages = await stagesOf();
  const contact = await aContact(rep);
  const deals = fc.array(fc.record({ stage: fc.nat(stages.length - 1), notches: fc.nat(4) }), {
    minLength: 1,
    maxLength: 4,
  });
  await fc.assert(
    fc.asyncProperty(deals, async (asked) => {
      for (const { stage, notches } of asked) {
        const { id } = await aDeal(rep, contact.id, { stageId: stages[stage]!.id });
        await cut(id, notches);
        const share = completionOf({ status: 'open', notches, stagesDone: stage, stages: stages.length });
        const ask = (ask: 'more' | 'less', value: number) =>
          rep.ok('pageDeals', {
            query: {
              owner: 'mine',
              filter: JSON.stringify({ join: 'all', rules: [{ field: 'completion', ask, value }] }) as never,
            },
          });
        const isThere = async (which: 'more' | 'less', value: number) =>
          (await ask(which, value)).rows.some((row) => row.id === id);
        expect([
          await isThere('more', share * 100 - 0.01),
          await isThere('more', share * 100 + 0.01),
        ]).toEqual([true, false]);
      }
    }),
    { numRuns: 5 },
  );
});
