import { randomUUID } from 'node:crypto';
import type { Deal, Pipeline } from '@kettle/contract';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, shapeStages } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
let admin: Caller;
let pipeline: Pipeline;
const prompts = [
  { id: randomUUID(), text: 'hardness measured', isRequired: true },
  { id: randomUUID(), text: 'photos taken', isRequired: false },
];
const tasks = [
  { id: randomUUID(), channel: 'visit', purpose: 'survey on site', afterDays: 2, minutes: 60 },
  { id: randomUUID(), channel: 'email', purpose: 'send the checklist', afterDays: 0, minutes: 5 },
];

beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep');
  admin = await installation.as('admin');
  pipeline = await shapeStages(admin, {
    Survey: { brief: { prompts, tasks } },
    Terms: { needs: ['decision', 'decider', 'competitor'] },
  });
});
beforeEach(() => installation.clock.set('2026-11-24T09:10:00.000Z'));
afterAll(() => installation.close());

const stageNamed = (name: string) => pipeline.stages.find((stage) => stage.name === name)!.id;
const move = (deal: Deal, name: string, part: object = {}) =>
  rep.call('moveDeal', {
    params: { id: deal.id },
    body: {
      version: deal.version,
      stageId: stageNamed(name),
      expectedCloseOn: deal.expectedCloseOn,
      ...part,
    },
  });
const moved = async (deal: Deal, name: string, part: object = {}) => {
  const { status, body } = await move(deal, name, part);
  expect([status, body.code]).toEqual([200, undefined]);
  return body as Deal;
};
const aNewDeal = async () => aDeal(rep, (await aContact(rep)).id);
const tasksOf = async (deal: Deal) =>
  (await rep.ok('listTasks', { query: { dealId: deal.id } })).tasks
    .filter(({ purpose }) => purpose !== 'ask')
    .map(({ purpose, dueOn }) => `${purpose} ${dueOn}`)
    .sort();

describe('a stage brief', () => {
  test('makes its tasks when a deal enters, so many working days ahead', async () => {
    const deal = await moved(await aNewDeal(), 'Survey');
    expect(await tasksOf(deal)).toEqual(['send the checklist 2026-11-24', 'survey on site 2026-11-26']);
    expect(deal.prompts).toMatchObject([
      { text: 'hardness measured', isTicked: false },
      { isRequired: false },
    ]);
  });

  test('holds a deal that goes on without what must be ticked, not one that goes back', async () => {
    const deal = await moved(await aNewDeal(), 'Survey');
    const refused = await move(deal, 'Offer');
    expect([refused.status, refused.body]).toMatchObject([
      422,
      { code: 'brief-open', current: { prompts: [{ text: 'hardness measured' }] } },
    ]);
    expect(refused.body.detail).toContain('“hardness measured”');
    expect((await move(deal, 'Inquiry')).status).toBe(200);
  });

  test('is ticked with the move itself, or before', async () => {
    const deal = await moved(await aNewDeal(), 'Survey');
    expect((await moved(deal, 'Offer', { tick: [prompts[0]!.id] })).stageId).toBe(stageNamed('Offer'));
    const other = await moved(await aNewDeal(), 'Survey');
    const tick = (isTicked: boolean) =>
      rep.ok('tickPrompt', {
        params: { id: other.id },
        body: { promptId: prompts[0]!.id, isTicked },
      });
    const ticked = await tick(true);
    expect(ticked.prompts[0]!.isTicked).toBe(true);
    const taken = await tick(false);
    expect((await move(taken, 'Offer')).body.code).toBe('brief-open');
    expect((await move(await tick(true), 'Offer')).status).toBe(200);
  });

  test('says how many of its tasks are not done yet, of this stage alone', async () => {
    const deal = await moved(await aNewDeal(), 'Survey');
    expect(deal.briefTasksOpen).toBe(2);
    const [task] = (await rep.ok('listTasks', { query: { dealId: deal.id } })).tasks.filter(
      ({ purpose }) => purpose !== 'ask',
    );
    await rep.ok('finishTask', { params: { id: task!.id } });
    expect((await rep.ok('getDeal', { params: { id: deal.id } })).briefTasksOpen).toBe(1);
    expect((await moved(deal, 'Inquiry')).briefTasksOpen).toBe(0);
  });

  test('a prompt of another stage is not ticked', async () => {
    const deal = await aNewDeal();
    const call = {
      params: { id: deal.id },
      body: { promptId: prompts[0]!.id, isTicked: true },
    };
    expect((await rep.call('tickPrompt', call)).body.code).toBe('not-found');
  });

  test('withdraws what nobody touched when the deal leaves, and takes it up again when it comes back', async () => {
    let deal = await moved(await aNewDeal(), 'Survey');
    const { tasks: open } = await rep.ok('listTasks', { query: { dealId: deal.id } });
    const checklist = open.find(({ purpose }) => purpose === 'send the checklist')!;
    await rep.ok('deferTask', {
      params: { id: checklist.id },
      body: { version: checklist.version, dueOn: '2026-11-27' },
    });
    deal = await moved(deal, 'Inquiry');
    expect(await tasksOf(deal)).toEqual(['send the checklist 2026-11-27']);
    installation.clock.set('2026-11-25T09:10:00.000Z');
    deal = await moved(deal, 'Survey');
    expect(await tasksOf(deal)).toEqual(['send the checklist 2026-11-27', 'survey on site 2026-11-27']);
    for (const name of ['Inquiry', 'Survey', 'Inquiry', 'Survey']) deal = await moved(deal, name);
    expect(await tasksOf(deal)).toHaveLength(2);
  });

  test('what was done is not asked for again', async () => {
    let deal = await moved(await aNewDeal(), 'Survey');
    const { tasks: open } = await rep.ok('listTasks', { query: { dealId: deal.id } });
    for (const { id, purpose } of open) if (purpose !== 'ask') await rep.ok('finishTask', { params: { id } });
    deal = await moved(await moved(deal, 'Inquiry'), 'Survey');
    expect(await tasksOf(deal)).toEqual([]);
  });

  test('is withdrawn with a deal that is parked, and there again when it is opened', async () => {
    const deal = await moved(await aNewDeal(), 'Survey');
    const parked = await rep.ok('closeDeal', {
      params: { id: deal.id },
      body: { as: 'parked', version: deal.version, wakeOn: '2026-12-03', reason: 'building work' },
    });
    expect(await tasksOf(parked)).toEqual([]);
    const next = { kind: 'none', reason: 'the brief has it' };
    const opened = await rep.ok('reopenDeal', {
      params: { id: deal.id },
      body: { version: parked.version, next },
    });
    expect(await tasksOf(opened)).toHaveLength(2);
    expect(opened.tetherState).toBe('today');
  });

  test('winning is going on: what must be ticked is asked for', async () => {
    const deal = await moved(await aNewDeal(), 'Survey');
    const win = (tick: string[]) =>
      rep.call('closeDeal', {
        params: { id: deal.id },
        body: { as: 'won', version: deal.version, on: '2026-11-24', tick },
      });
    expect((await win([])).body.code).toBe('brief-open');
    expect((await win([prompts[0]!.id])).body).toMatchObject({ status: 'won' });
  });
});

describe('what a stage needs', () => {
  test('is asked for, all at once, and can be said with the move', async () => {
    const deal = await aNewDeal();
    const refused = await move(deal, 'Terms');
    expect(refused.body).toMatchObject({
      code: 'facts-needed',
      current: { facts: ['decision', 'decider', 'competitor'] },
    });
    expect(refused.body.detail).toContain('a decision date, who decides, a competitor');
    const facts = { decisionOn: '2026-12-10', decider: deal.contactId, competitor: 'Kolk Filters' };
    expect(await moved(deal, 'Terms', { facts })).toMatchObject({
      decisionOn: '2026-12-10',
      competitors: ['Kolk Filters'],
      people: [{ contactId: deal.contactId, role: 'decides' }],
    });
  });

  test('a refused move leaves everything as it was', async () => {
    const deal = await aNewDeal();
    await move(deal, 'Terms', { facts: { decisionOn: '2026-12-10' }, expectedCloseOn: '2027-03-01' });
    expect(await rep.ok('getDeal', { params: { id: deal.id } })).toEqual(deal);
  });
});
