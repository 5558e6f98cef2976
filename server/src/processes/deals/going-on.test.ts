import { randomUUID } from 'node:crypto';
import type { Pipeline, Stage } from '@kettle/contract';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, aLog, journalOf } from '../../../testing/people';
import { wholeState } from '../../../testing/whole-state';

let installation: Installation;
let rep: Caller;
let other: Caller;
let admin: Caller;
let sales: Pipeline;
let fitting: Pipeline;
const prompt = (text: string) => ({ id: randomUUID(), text, isRequired: true });
const stage = (name: string, part: Partial<Stage> = {}) => ({
  ...{ name, winProbability: 0.5, patienceDays: 14, needs: [], brief: { prompts: [], tasks: [] } },
  ...part,
});
beforeAll(async () => {
  installation = await install();
  [rep, other, admin] = [
    await installation.as('rep'),
    await installation.as('rep', 'Dara Quist'),
    await installation.as('admin'),
  ];
  sales = await admin.ok('createPipeline', {
    body: {
      name: 'Treatment plants',
      stages: [
        stage('Look', {
          brief: {
            prompts: [prompt('hardness measured'), prompt('photos taken')],
            tasks: [{ id: randomUUID(), channel: 'visit', purpose: 'Measure', afterDays: 1, minutes: 30 }],
          },
        }),
        stage('Price', { brief: { prompts: [prompt('price agreed')], tasks: [] } }),
        stage('Sign', { needs: ['decider'] }),
      ],
    },
  });
  fitting = await admin.ok('createPipeline', {
    body: { name: 'Fitting', stages: [stage('Order'), stage('Fit')] },
  });
});
afterAll(() => installation.close());

const flow = async (part: object, by = admin) => {
  const { pipelines } = await admin.ok('listPipelines');
  const { id, version, movesOn, handsOnTo } = pipelines.find((each) => each.id === sales.id)!;
  return by.call('changeFlow', { params: { id }, body: { version, movesOn, handsOnTo, ...part } });
};
const read = (id: string) => rep.ok('getDeal', { params: { id } });
const begun = async () => aDeal(rep, (await aContact(rep)).id, { stageId: sales.stages[0]!.id });
const tick = async (id: string, at: number, changeId = randomUUID()) => {
  const { prompts } = await read(id);
  return rep.call('tickPrompt', {
    params: { id },
    body: { promptId: prompts[at]!.id, isTicked: true },
    changeId,
  });
};
const finishTask = async (id: string, changeId = randomUUID()) => {
  const { tasks } = await rep.ok('listTasks', { query: { dealId: id } });
  const task = tasks.find(({ dealId }) => dealId === id)!;
  await rep.call('finishTask', {
    params: { id: task.id },
    body: { version: task.version } as never,
    changeId,
  });
  return changeId;
};

describe('a brief that is done', () => {
  test('takes the deal on by itself where the pipeline says so, and an undo of the last tick takes it back', async () => {
    await flow({ movesOn: true });
    const deal = await begun();
    await tick(deal.id, 0);
    await finishTask(deal.id);
    expect((await read(deal.id)).stageId).toBe(sales.stages[0]!.id);
    const before = await wholeState(installation.services.database);
    const changeId = randomUUID();
    await tick(deal.id, 1, changeId);
    expect((await read(deal.id)).stageId).toBe(sales.stages[1]!.id);
    expect((await journalOf(rep, { dealId: deal.id })).map(({ body }) => body)).toContain('Look → Price');
    await rep.ok('undoChange', { params: { id: changeId } });
    expect(await wholeState(installation.services.database)).toEqual(before);
  });

  test('stays where the next stage needs to know something, and where the pipeline does not say so', async () => {
    const deal = await begun();
    await tick(deal.id, 0);
    await tick(deal.id, 1);
    await finishTask(deal.id);
    expect((await read(deal.id)).stageId).toBe(sales.stages[1]!.id);
    await tick(deal.id, 0);
    expect((await read(deal.id)).stageId).toBe(sales.stages[1]!.id);
    await flow({ movesOn: false });
    const another = await begun();
    await tick(another.id, 0);
    await tick(another.id, 1);
    await finishTask(another.id);
    expect((await read(another.id)).stageId).toBe(sales.stages[0]!.id);
  });
});

test('what was done at a meeting ticks the prompts that say the same, and an undo takes the ticks back', async () => {
  const deal = await begun();
  const changeId = randomUUID();
  const log = {
    ...{ id: randomUUID(), contactId: deal.contactId, dealId: deal.id, outcomeId: 'meeting-held' },
    ...{ done: ['Hardness measured', 'coffee'], next: { kind: 'none', reason: 'x' } },
  };
  const { body } = await rep.call('log', { body: log, changeId });
  expect((body as { words: string }).words).toBe('Nothing more planned. Ticked: hardness measured.');
  const ticks = async () => (await read(deal.id)).prompts.map(({ isTicked }) => isTicked);
  expect(await ticks()).toEqual([true, false]);
  await rep.ok('undoChange', { params: { id: changeId } });
  expect(await ticks()).toEqual([false, false]);
  await aLog(rep, deal.contactId!, { dealId: deal.id, done: [] });
  expect(await ticks()).toEqual([false, false]);
});

describe('a won deal', () => {
  const win = async (id: string, handOnTo: string | null) => {
    const { version, prompts } = await read(id);
    return rep.call('closeDeal', {
      params: { id },
      body: { as: 'won', version, on: '2026-11-24', handOnTo, tick: prompts.map((each) => each.id) },
    });
  };

  test('is handed on as a new deal, linked, without a value; undoing the closing takes it away', async () => {
    const deal = await begun();
    const before = await wholeState(installation.services.database);
    expect((await win(deal.id, fitting.id)).status).toBe(200);
    const [handed] = (await read(deal.id)).handedOn;
    const next = await read(handed!.id);
    expect(next).toMatchObject({
      ...{ name: deal.name, stageId: fitting.stages[0]!.id, amountMinor: 0, status: 'open' },
      ...{ origin: { id: deal.id, name: deal.name }, contactId: deal.contactId },
    });
    expect(next.tether.nextStepOn).toBe('2026-11-25');
    await rep.ok('undoClose', { params: { id: deal.id } });
    expect(await wholeState(installation.services.database)).toEqual(before);
  });

  test('is not handed on to its own pipeline, nor to one that is none', async () => {
    const deal = await begun();
    const refused = await win(deal.id, sales.id);
    expect([refused.status, (refused.body as { fields: object[] }).fields]).toEqual([
      400,
      [{ path: 'handOnTo', message: 'is the pipeline it was won in' }],
    ]);
    expect((await win(deal.id, randomUUID())).status).toBe(400);
    expect((await read(deal.id)).status).toBe('open');
  });
});

test('how deals go on is for admins, field by field, and a pipeline does not hand on to itself', async () => {
  expect((await flow({ movesOn: true }, rep)).status).toBe(403);
  expect((await flow({ movesOn: true }, other)).status).toBe(403);
  const itself = await flow({ handsOnTo: sales.id });
  expect((itself.body as { fields: object[] }).fields).toEqual([
    { path: 'handsOnTo', message: 'must be another pipeline' },
  ]);
  const { version } = (await admin.ok('listPipelines')).pipelines.find(({ id }) => id === sales.id)!;
  await flow({ handsOnTo: fitting.id });
  const late = await admin.call('changeFlow', {
    params: { id: sales.id },
    body: { version, movesOn: true, handsOnTo: null },
  });
  expect((late.body as Pipeline).handsOnTo).toBe(fitting.id);
  expect((late.body as Pipeline).movesOn).toBe(true);
});
