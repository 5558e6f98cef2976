import { randomUUID } from 'node:crypto';
import type { Deal, Pipeline } from '@kettle/contract';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, pipelineBody, shapeStages } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
let admin: Caller;
beforeEach(async () => {
  installation = await install();
  rep = await installation.as('rep');
  admin = await installation.as('admin');
});
afterEach(() => installation.close());

const first = async () => (await rep.ok('listPipelines')).pipelines[0]!;
const aStage = (name: string, part: object = {}) => ({
  name,
  winProbability: 0.5,
  patienceDays: 10,
  needs: [],
  brief: { prompts: [], tasks: [] },
  ...part,
});
const save = (pipeline: Pipeline, part: object) =>
  admin.call('savePipeline', { params: { id: pipeline.id }, body: { ...pipelineBody(pipeline), ...part } });

test('stages are renamed, put in another order and added; deals stay where they are', async () => {
  const before = await first();
  const deal = await aDeal(rep, (await aContact(rep)).id);
  const stages = pipelineBody(before).stages;
  const [inquiry, survey, ...others] = stages;
  const after = (
    await save(before, {
      stages: [survey, { ...inquiry, name: 'First word' }, { ...aStage('Trial'), id: null }, ...others],
    })
  ).body as Pipeline;
  expect(after.stages.map(({ name }) => name)).toEqual([
    'Survey',
    'First word',
    'Trial',
    'Offer',
    'Terms',
    'Signed, to start',
  ]);
  expect(after.version).toBe(before.version + 1);
  expect((await rep.ok('getDeal', { params: { id: deal.id } })).stageId).toBe(inquiry!.id);
});

test('a stage with deals goes only with a home for them; closed ones still name it', async () => {
  const before = await first();
  const [inquiry, survey] = before.stages;
  const open = await aDeal(rep, (await aContact(rep)).id);
  const lost = await aDeal(rep, (await aContact(rep)).id);
  await rep.ok('closeDeal', {
    params: { id: lost.id },
    body: { as: 'lost', version: 1, on: '2026-11-24', reason: 'x' },
  });
  const stages = pipelineBody(before).stages.slice(1);
  const refused = await save(before, { stages });
  expect(refused.body).toMatchObject({
    code: 'stage-not-empty',
    detail: expect.stringContaining('1 deals stand in Inquiry'),
  });
  const gone = await save(before, { stages, homes: [{ from: inquiry!.id, to: inquiry!.id }] });
  expect(gone.body.code).toBe('stage-not-empty');
  expect((await save(before, { stages, homes: [{ from: inquiry!.id, to: survey!.id }] })).status).toBe(200);
  expect(await rep.ok('getDeal', { params: { id: open.id } })).toMatchObject({
    stageId: survey!.id,
    version: open.version + 1,
  });
  const closed = await rep.ok('getDeal', { params: { id: lost.id } });
  expect(closed.stageId).toBe(inquiry!.id);
  const next = { kind: 'none', reason: 'x' };
  const opened = await rep.ok('reopenDeal', {
    params: { id: lost.id },
    body: { version: closed.version, next },
  });
  expect(opened.stageId).toBe(survey!.id);
});

test('what a change would do is told before it is made, and nothing is written by asking', async () => {
  const before = await first();
  const contact = await aContact(rep);
  await aDeal(rep, contact.id);
  installation.clock.set('2026-12-02T09:10:00.000Z');
  const stages = pipelineBody(before).stages.map((stage) =>
    stage.name === 'Inquiry' ? { ...stage, winProbability: 0.2, patienceDays: 5, needs: ['decider'] } : stage,
  );
  const ask = (body: object) =>
    admin.ok('checkPipeline', {
      params: { id: before.id },
      body: { ...pipelineBody(before), ...body },
    });
  const check = await ask({ stages });
  expect(check.stages[0]).toEqual({
    stageId: before.stages[0]!.id,
    name: 'Inquiry',
    openDeals: 1,
    weightedBeforeMinor: 98_000,
    weightedAfterMinor: 196_000,
    stalledBefore: 0,
    stalledAfter: 1,
    lacking: 1,
  });
  expect((await ask({ stages: stages.slice(1) })).going).toMatchObject([
    { name: 'Inquiry', deals: 1, proposedHome: before.stages[1]!.id },
  ]);
  expect(await first()).toEqual(before);
});

test('two admins at once: the second is shown the first one’s change', async () => {
  const before = await first();
  await save(before, { name: 'Plant sales' });
  expect((await save(before, { name: 'Other' })).body).toMatchObject({
    code: 'stale',
    current: { name: 'Plant sales' },
  });
});

test.each([
  [{ stages: [] }, 'stages'],
  [{ stages: [aStage('x', { id: null }), aStage('X', { id: null })] }, 'stages'],
  [{ stages: [aStage('x', { id: randomUUID() })] }, 'stages.0.id'],
  [{ stages: [aStage('x', { id: null, winProbability: 2 })] }, 'stages.0.winProbability'],
])('a wrong pipeline is told at its field: %j', async (part, path) => {
  const refused = await save(await first(), part);
  expect([refused.status, refused.body.fields[0].path]).toEqual([400, path]);
});

test('a deal moves to another pipeline; all of one are mapped, and an empty one can go, but not the last', async () => {
  const before = await first();
  const other = await admin.ok('createPipeline', {
    body: { name: 'Renewals', stages: [aStage('Due'), aStage('Agreed')] },
  });
  expect(
    (await admin.call('createPipeline', { body: { name: 'renewals', stages: [aStage('x')] } })).body.code,
  ).toBe('already-exists');
  const one = await aDeal(rep, (await aContact(rep)).id);
  const two = await aDeal(rep, (await aContact(rep)).id);
  const moved = await rep.ok('moveDeal', {
    params: { id: one.id },
    body: { version: one.version, stageId: other.stages[0]!.id, expectedCloseOn: one.expectedCloseOn },
  });
  expect(moved.stageId).toBe(other.stages[0]!.id);
  const map = (stages: object[]) =>
    admin.call('mapPipeline', { params: { id: before.id }, body: { stages } });
  expect((await map([{ from: before.stages[0]!.id, to: before.stages[1]!.id }])).body.fields[0].path).toBe(
    'stages.0',
  );
  expect((await map([{ from: before.stages[0]!.id, to: other.stages[1]!.id }])).body).toEqual({ moved: 1 });
  expect((await rep.ok('getDeal', { params: { id: two.id } })).stageId).toBe(other.stages[1]!.id);
  const remove = (pipeline: Pipeline) =>
    admin.call('removePipeline', { params: { id: pipeline.id }, body: { version: pipeline.version } });
  expect((await remove(other)).body.code).toBe('stage-not-empty');
  expect((await remove(before)).status).toBe(200);
  expect((await remove(other)).body.code).toBe('last-one');
});

test('patience is suggested from the days that deals took to go on, those still there counted as not yet gone', async () => {
  const { stages } = await first();
  const made: Deal[] = [];
  for (let n = 0; n < 12; n += 1) made.push(await aDeal(rep, (await aContact(rep)).id));
  for (const [index, deal] of made.entries()) {
    if (index >= 10) break;
    installation.clock.set(`2026-11-${String(25 + Math.floor(index / 2)).padStart(2, '0')}T09:10:00.000Z`);
    await rep.ok('moveDeal', {
      params: { id: deal.id },
      body: { version: deal.version, stageId: stages[1]!.id, expectedCloseOn: null },
    });
  }
  const { stages: found } = await rep.ok('listPatience');
  // Ten went on after 1, 1, 2, 2, 3, 3, 4, 4, 5, 5 days; two are there for 5: 80 % of twelve are gone at day 5.
  expect(found.find(({ stageId }) => stageId === stages[0]!.id)).toEqual({
    stageId: stages[0]!.id,
    suggestedDays: 5,
    wentOn: 10,
    stillThere: 2,
    meanDays: 3,
  });
});

test('a brief made by an admin is the same for every rep', async () => {
  const task = { id: randomUUID(), channel: 'call', purpose: 'say thank you', afterDays: 1, minutes: 5 };
  await shapeStages(admin, { Inquiry: { brief: { prompts: [], tasks: [task] } } });
  for (const caller of [rep, await installation.as('rep')]) {
    const deal = await aDeal(caller, (await aContact(caller)).id);
    const { tasks } = await caller.ok('listTasks', { query: { dealId: deal.id } });
    expect(tasks.find(({ purpose }) => purpose === 'say thank you')).toMatchObject({
      dueOn: '2026-11-25',
      ownerId: caller.id,
    });
  }
});
