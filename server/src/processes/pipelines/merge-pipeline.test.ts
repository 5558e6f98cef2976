import type { Pipeline } from '@kettle/contract';
import { type Caller, install, type Installation } from '../../../testing/installation';
import { aContact, aDeal, pipelineBody } from '../../../testing/people';

let installation: Installation;
let admin: Caller;
let colleague: Caller;
let seen: Pipeline;
beforeEach(async () => {
  installation = await install();
  admin = await installation.as('admin');
  colleague = await installation.as('admin', 'Petra Lund');
  seen = (await admin.ok('listPipelines')).pipelines[0]!;
});
afterEach(() => installation.close());

type Body = ReturnType<typeof pipelineBody>;
const saveAs = (who: Caller, change: (body: Body) => object, more: object = {}) =>
  who.call('savePipeline', {
    params: { id: seen.id },
    body: { ...pipelineBody(seen), ...change(structuredClone(pipelineBody(seen))), ...more },
  });
/** With these fields of the stage at a place changed. */
const stageWith = (at: number, part: object) => (body: Body) => ({
  stages: body.stages.map((stage, index) => (index === at ? { ...stage, ...part } : stage)),
});
const without = (at: number) => (body: Body) => ({ stages: body.stages.filter((_, index) => index !== at) });
const aStage = {
  winProbability: 0.4,
  patienceDays: 9,
  needs: [],
  brief: { prompts: [], tasks: [] },
  id: null,
};
const withNew = (after: number, name: string) => (body: Body) => ({
  stages: body.stages.toSpliced(after + 1, 0, { ...aStage, name } as never),
});
const names = (pipeline: Pipeline) => pipeline.stages.map(({ name }) => name);
const ids = () => seen.stages.map(({ id }) => id);

test('each changed another field of a stage: both stay', async () => {
  await saveAs(colleague, stageWith(1, { winProbability: 0.33 }));
  const { status, body } = await saveAs(admin, stageWith(1, { patienceDays: 21 }));
  expect(status).toBe(200);
  expect((body as Pipeline).stages[1]).toMatchObject({ winProbability: 0.33, patienceDays: 21 });
});

test('both changed the same field: each is asked whose holds, and the rest of both stays', async () => {
  await saveAs(colleague, (body) => ({
    name: 'Plant sales',
    ...stageWith(0, { winProbability: 0.2 })(body),
  }));
  const mine = stageWith(0, { winProbability: 0.5, name: 'First word' });
  const refused = await saveAs(admin, mine);
  const path = `stages.${ids()[0]}.winProbability`;
  expect([refused.body.code, refused.body.fields]).toEqual([
    'stale',
    [{ path, message: 'was changed by Petra Lund meanwhile' }],
  ]);
  const { version } = refused.body.current as Pipeline;
  const saved = await saveAs(admin, mine, { resolved: { version, mine: [], theirs: [path] } });
  expect(saved.body).toMatchObject({ name: 'Plant sales' });
  expect((saved.body as Pipeline).stages[0]).toMatchObject({ winProbability: 0.2, name: 'First word' });
});

test('a stage that others added stays where they put it, whatever order mine has', async () => {
  await saveAs(colleague, withNew(1, 'Trial'));
  const { body } = await saveAs(admin, ({ stages }) => ({ stages: [...stages].reverse() }));
  expect(names(body as Pipeline)).toEqual([
    'Signed, to start',
    'Terms',
    'Offer',
    'Survey',
    'Trial',
    'Inquiry',
  ]);
});

test('both added a stage: there are both', async () => {
  await saveAs(colleague, withNew(1, 'Trial'));
  const { body } = await saveAs(admin, withNew(3, 'Paper work'));
  expect(names(body as Pipeline)).toEqual([
    'Inquiry',
    'Survey',
    'Trial',
    'Offer',
    'Terms',
    'Paper work',
    'Signed, to start',
  ]);
});

test('both put the stages in another order: whose holds is asked', async () => {
  await saveAs(colleague, ({ stages }) => ({ stages: [...stages.slice(1), stages[0]!] }));
  const mine = ({ stages }: Body) => ({ stages: [...stages].reverse() });
  const refused = await saveAs(admin, mine);
  expect(refused.body.fields).toMatchObject([{ path: 'order' }]);
  const { version } = refused.body.current as Pipeline;
  const saved = await saveAs(admin, mine, { resolved: { version, mine: ['order'], theirs: [] } });
  expect(names(saved.body as Pipeline)[0]).toBe('Signed, to start');
});

test('a stage that others deleted is gone, unless I changed it: then it is asked, and mine makes it anew', async () => {
  await saveAs(colleague, without(2));
  expect(names((await saveAs(admin, stageWith(0, { patienceDays: 3 }))).body as Pipeline)).not.toContain(
    'Offer',
  );
  const mine = stageWith(2, { patienceDays: 30 });
  const refused = await saveAs(admin, mine);
  const path = `stages.${ids()[2]}`;
  expect(refused.body.fields).toEqual([{ path, message: 'was changed by Petra Lund meanwhile' }]);
  const { version } = refused.body.current as Pipeline;
  const saved = await saveAs(admin, mine, { resolved: { version, mine: [path], theirs: [] } });
  expect((saved.body as Pipeline).stages[2]).toMatchObject({ name: 'Offer', patienceDays: 30 });
});

test('a stage that I delete and others changed is asked about; their deals still need a home', async () => {
  const rep = await installation.as('rep');
  await aDeal(rep, (await aContact(rep)).id);
  await saveAs(colleague, stageWith(0, { winProbability: 0.15 }));
  const refused = await saveAs(admin, without(0));
  const path = `stages.${ids()[0]}`;
  expect(refused.body.fields).toMatchObject([{ path }]);
  const { version } = refused.body.current as Pipeline;
  const resolved = { resolved: { version, mine: [path], theirs: [] } };
  expect((await saveAs(admin, without(0), resolved)).body.code).toBe('stage-not-empty');
  const homes = [{ from: ids()[0], to: ids()[1] }];
  const saved = await saveAs(admin, without(0), { ...resolved, homes });
  expect(names(saved.body as Pipeline)[0]).toBe('Survey');
});

test('what a colleague undid is no change', async () => {
  const changeId = '0193a1c2-0000-7000-8000-00000000abcd';
  await colleague.call('savePipeline', {
    params: { id: seen.id },
    body: { ...pipelineBody(seen), ...withNew(0, 'Trial')(pipelineBody(seen)), name: 'Plant sales' },
    changeId,
  });
  expect((await colleague.call('undoChange', { params: { id: changeId } })).status).toBe(200);
  const { body } = await saveAs(admin, () => ({ name: 'Other' }));
  expect(body).toMatchObject({ name: 'Other' });
  expect(names(body as Pipeline)).toEqual(names(seen));
});
