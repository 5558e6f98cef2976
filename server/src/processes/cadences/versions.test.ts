import type { CadenceResults, CadenceSummary, Contact, MovedRuns } from '@kettle/contract';
import { v4 } from 'uuid';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { letRepsRelease } from '../../../testing/release';
import { aContact } from '../../../testing/people';
import { wholeState } from '../../../testing/whole-state';

let installation: Installation;
let rep: Caller;
let cadence: CadenceSummary;

const step = (part: object = {}) => ({
  channel: 'call',
  offsetDays: 0,
  windowStart: 540,
  windowEnd: 1020,
  minutes: 6,
  purpose: 'ask',
  fallbackChannel: null,
  mode: 'by-hand',
  templateIds: [],
  skipWhen: [],
  ...part,
});
const threeSteps = [
  step({ purpose: 'one' }),
  step({ purpose: 'two', offsetDays: 2 }),
  step({ purpose: 'three', offsetDays: 3 }),
];
const define = (steps: object[], answeredStep: number | null = null) => ({ steps, answeredStep });

beforeEach(async () => {
  installation = await install();
  rep = await installation.as('rep');
  await letRepsRelease(installation);
  cadence = await rep.ok('createCadence', {
    body: { name: 'After the test', definition: define(threeSteps) },
  });
});
afterEach(() => installation.close());

const params = () => ({ id: cadence.id });
const start = (contacts: Contact[], part: object = {}) =>
  rep.ok('startRuns', {
    params: params(),
    body: {
      requestId: v4(),
      versionId: cadence.versionId,
      contactIds: contacts.map(({ id }) => id),
      ...part,
    },
  });
const table = (query: object = {}, caller = rep) => caller.ok('runTable', { params: params(), query });
const save = (part: object) =>
  rep.call('saveCadence', {
    params: params(),
    body: { name: cadence.name, definition: cadence.definition, version: cadence.version, ...part },
  });
const aTemplate = () =>
  rep.ok('createTemplate', { body: { name: 'Hello', channel: 'email', subject: 'Hello', body: 'Hello' } });
const results = () => rep.ok('cadenceResults', { params: params() });

/** Does it and undoes it: everything in the database is as it was. */
async function undoes(name: 'startRuns' | 'moveRuns', body: object): Promise<void> {
  const before = await wholeState(installation.services.database);
  const changeId = v4();
  await rep.ok(name, { params: params(), body, changeId });
  expect(await wholeState(installation.services.database)).not.toEqual(before);
  await rep.ok('undoChange', { params: { id: changeId } });
  expect(await wholeState(installation.services.database)).toEqual(before);
}

test('a start is undone with its tasks, its entries and what they follow by', async () => {
  const contacts = [await aContact(rep), await aContact(rep)];
  await undoes('startRuns', {
    requestId: v4(),
    versionId: cadence.versionId,
    contactIds: contacts.map(({ id }) => id),
  });
});

test('of a step that is sent by itself nothing is sent once its start is undone', async () => {
  const { id } = await aTemplate();
  cadence = await rep.ok('createCadence', {
    body: {
      name: 'By itself',
      definition: define([step({ channel: 'email', mode: 'by-itself', templateIds: [id] })]),
    },
  });
  const contact = await aContact(rep);
  await undoes('startRuns', { requestId: v4(), versionId: cadence.versionId, contactIds: [contact.id] });
  installation.clock.set('2026-11-26T12:00:00.000Z');
  await installation.work();
  expect(await installation.services.database.rows('SELECT id FROM mail')).toEqual([]);
});

describe('saving', () => {
  test('another definition is a new version, and runs stay on theirs', async () => {
    await start([await aContact(rep)]);
    const saved = await save({ definition: define(threeSteps.slice(0, 2)) });
    expect(saved.body).toMatchObject({ number: 2, version: cadence.version + 1 });
    const { versions } = await rep.ok('listVersions', { params: params() });
    expect(versions.map(({ number, running }) => [number, running])).toEqual([
      [2, 0],
      [1, 1],
    ]);
    expect((await table()).rows[0]).toMatchObject({ versionNumber: 1, steps: 3 });
  });

  test('another name alone is none', async () => {
    expect((await save({ name: 'After the water test' })).body).toMatchObject({ number: 1 });
  });

  test('over an older version is refused for what both changed, and shows the newer', async () => {
    await save({ name: 'Theirs' });
    const { body } = await save({ name: 'Mine' });
    expect(body).toMatchObject({ code: 'stale', current: { name: 'Theirs' } });
    expect(body.fields).toEqual([{ path: 'name', message: 'was changed by rep 1 meanwhile' }]);
    const { version } = body.current as CadenceSummary;
    const kept = await save({ name: 'Mine', resolved: { version, mine: ['name'], theirs: [] } });
    expect(kept.body).toMatchObject({ name: 'Mine' });
  });

  const steps = (part: (of: object, at: number) => object) =>
    define(threeSteps.map((each, at) => ({ ...each, ...part(each, at) })));
  const stepsNow = async () =>
    (await rep.ok('listCadences')).cadences.find(({ id }) => id === cadence.id)!.definition.steps;

  test('by two at once keeps what each changed: the name, a step’s minutes, another step’s purpose', async () => {
    await save({ definition: steps((_, at) => (at === 0 ? { minutes: 17 } : {})) });
    const other = await save({
      name: 'Mine',
      definition: steps((_, at) => (at === 2 ? { purpose: 'ask' } : {})),
    });
    expect(other.body).toMatchObject({ name: 'Mine', number: 3 });
    expect((await stepsNow()).map(({ minutes, purpose }) => [minutes, purpose])).toEqual(
      threeSteps.map(({ minutes, purpose }, at) => [at === 0 ? 17 : minutes, at === 2 ? 'ask' : purpose]),
    );
  });

  test('by two at once, with a step added by one of them, is a conflict of the steps only if the other changed some', async () => {
    await save({ definition: define([...threeSteps, threeSteps[0]!]) });
    expect((await save({ name: 'Mine' })).body).toMatchObject({ name: 'Mine' });
    expect(await stepsNow()).toHaveLength(4);
    const { body } = await save({ definition: steps((_, at) => (at === 1 ? { minutes: 3 } : {})) });
    expect([body.code, body.fields.map(({ path }: { path: string }) => path)]).toEqual([
      'stale',
      ['definition.steps'],
    ]);
  });

  test('by two at once, right alone and wrong together, is refused at its step', async () => {
    const [first] = threeSteps;
    await save({ definition: steps((_, at) => (at === 0 ? { windowEnd: first!.windowStart + 10 } : {})) });
    const { body } = await save({
      definition: steps((_, at) => (at === 0 ? { windowStart: first!.windowStart + 20 } : {})),
    });
    expect([body.code, body.fields[0]?.path]).toEqual(['invalid-request', 'definition.steps.0.windowEnd']);
  });

  test('retired, it starts nobody; who is on it goes on', async () => {
    const [on, off] = [await aContact(rep), await aContact(rep)];
    await start([on]);
    await save({ isRetired: true });
    const plan = await rep.ok('planStart', { params: params(), body: { contactIds: [off.id] } });
    expect(plan.people[0]!.leftOut).toMatchObject({ reason: 'retired' });
    expect((await table()).rows).toHaveLength(1);
  });
});

describe('moving runs to the new version', () => {
  const move = (toVersionId: string, mapping: (number | null)[], isDryRun: boolean) =>
    rep.call('moveRuns', {
      params: params(),
      body: { fromVersionId: cadence.versionId, toVersionId, mapping, isDryRun },
    });

  test('shows first what would happen, then does just that', async () => {
    const contact = await aContact(rep);
    await start([contact]);
    const { body: now } = await save({
      definition: define([step({ channel: 'email', purpose: 'zero' }), ...threeSteps]),
    });
    const would = await move(now.versionId, [1, 2, 3], true);
    expect((would.body as MovedRuns).people).toEqual([
      expect.objectContaining({ name: contact.name, from: 0, to: 1 }),
    ]);
    expect((await table()).rows[0]).toMatchObject({ step: 1, versionNumber: 1 });
    await move(now.versionId, [1, 2, 3], false);
    expect((await table()).rows[0]).toMatchObject({ step: 2, versionNumber: 2, steps: 4, channel: 'call' });
  });

  test('undone, everybody is on the version and the step where they were', async () => {
    await start([await aContact(rep), await aContact(rep)]);
    const { body: now } = await save({ definition: define(threeSteps.slice(1)) });
    await undoes('moveRuns', {
      fromVersionId: cadence.versionId,
      toVersionId: now.versionId,
      mapping: [null, 0, 1],
      isDryRun: false,
    });
  });

  test('a step that is mapped to nothing ends its runs', async () => {
    await start([await aContact(rep)]);
    const { body: now } = await save({ definition: define(threeSteps.slice(1)) });
    await move(now.versionId, [null, 0, 1], false);
    expect((await table()).rows).toEqual([]);
    expect((await table({ status: 'ended' })).rows[0]).toMatchObject({ status: 'stopped' });
  });

  test.each([
    ['too few steps named', [0], 'the old version has 3 steps'],
    ['a step that is not there', [0, 1, 7], 'has only 2 steps'],
  ])('%s is refused', async (_, mapping, words) => {
    const { body: now } = await save({ definition: define(threeSteps.slice(0, 2)) });
    const refused = await move(now.versionId, mapping, true);
    expect(refused.body).toMatchObject({ code: 'not-moved' });
    expect(refused.body.detail).toContain(words);
  });
});

describe('the table of runs', () => {
  test('counts every step whatever is shown, and says what the filter hides', async () => {
    const [one, two] = [await aContact(rep), await aContact(rep)];
    const { started } = await start([one, two]);
    const row = (await table()).rows.find(({ id }) => id === started[0]!.runId)!;
    await rep.ok('changeRun', { params: { id: row.id }, body: { version: row.version, change: 'skip' } });
    const page = await table({ step: 1 });
    expect(page.atStep).toEqual([1, 1, 0]);
    expect(page.rows).toHaveLength(1);
    expect(page.hidden).toBe(1);
    const other = await installation.as('rep');
    expect(await table({}, other)).toMatchObject({ rows: [], hidden: 2 });
    expect((await table({ owner: 'all' }, other)).rows).toHaveLength(2);
  });

  test('many are held at once; who cannot be is said with the reason', async () => {
    const people = [await aContact(rep), await aContact(rep), await aContact(rep)];
    await start(people);
    const { rows } = await table();
    const stale = { id: rows[2]!.id, version: 99 };
    const runs = [...rows.slice(0, 2).map(({ id, version }) => ({ id, version })), stale];
    const reply = await rep.ok('changeRuns', { body: { runs, change: 'pause' } });
    expect(reply).toMatchObject({ changed: 2, refused: [{ id: stale.id, name: rows[2]!.contactName }] });
    expect((await table({ status: 'paused' })).rows).toHaveLength(2);
  });

  test('many are paused as one act, and its undo lets all of them go on', async () => {
    await start([await aContact(rep), await aContact(rep)]);
    const before = (await table()).rows.map(({ id, status, nextOn }) => ({ id, status, nextOn }));
    const { rows } = await table();
    const changeId = v4();
    const runs = rows.map(({ id, version }) => ({ id, version }));
    await rep.ok('changeRuns', { body: { runs, change: 'pause' }, changeId });
    await rep.ok('undoChange', { params: { id: changeId } });
    expect((await table()).rows.map(({ id, status, nextOn }) => ({ id, status, nextOn }))).toEqual(before);
  });

  test('a rep cannot stop a colleague’s', async () => {
    await start([await aContact(rep)]);
    const [row] = (await table()).rows;
    const other = await installation.as('rep');
    const reply = await other.ok('changeRuns', {
      body: { runs: [{ id: row!.id, version: row!.version }], change: 'stop' },
    });
    expect(reply).toMatchObject({ changed: 0, refused: [{ id: row!.id }] });
    expect((await table()).rows[0]).toMatchObject({ status: 'running' });
  });
});

describe('starting many', () => {
  test('levelled, no day gets more than it holds, and the days can be started on', async () => {
    const people: Contact[] = [];
    for (let n = 0; n < 6; n += 1) people.push(await aContact(rep, { companyName: `Firm ${n}` }));
    await save({ definition: define([step({ minutes: 240 })]) });
    cadence = (await rep.ok('listCadences')).cadences.find(({ id }) => id === cadence.id)!;
    const plan = await rep.ok('planStart', {
      params: params(),
      body: { contactIds: people.map(({ id }) => id), isLevelled: true },
    });
    const days = new Set(plan.people.map(({ startOn }) => startOn));
    expect(days.size).toBeGreaterThan(1);
    for (const day of plan.load)
      expect(day.withThem).toBeLessThanOrEqual(Math.max(day.capacity, day.minutes));
    const startOn = Object.fromEntries(plan.people.map((person) => [person.contactId, person.startOn]));
    await start(people, { startOn });
    const { rows } = await table();
    expect(rows.map(({ contactId, nextOn }) => [contactId, nextOn]).sort()).toEqual(
      Object.entries(startOn).sort(),
    );
  });

  test('the load says what four weeks hold without and with them', async () => {
    const contact = await aContact(rep);
    const plan = await rep.ok('planStart', {
      params: params(),
      body: { contactIds: [contact.id] },
    });
    expect(plan.load).toHaveLength(20);
    const added = plan.load.reduce((sum, day) => sum + day.withThem - day.minutes, 0);
    // Three calls of six minutes, each reached by less than everybody who was started.
    expect(added).toBeGreaterThan(6);
    expect(added).toBeLessThanOrEqual(18 + 1e-9);
  });
});

describe('results', () => {
  test('count what was done and answered, and give no verdict on few', async () => {
    const people = [await aContact(rep), await aContact(rep)];
    await start(people);
    const [task] = (await rep.ok('listTasks', { query: { contactId: people[0]!.id } })).tasks;
    await rep.ok('log', {
      body: {
        id: v4(),
        contactId: people[0]!.id,
        dealId: null,
        taskId: task!.id,
        outcomeId: 'call-spoke',
        at: null,
        minutes: 5,
        body: '',
        done: [],
        alsoContactIds: [],
        next: { kind: 'none', reason: 'all said' },
      },
    });
    const { runs, steps, tries, exits, leastCases } = await results();
    expect(runs).toBe(2);
    expect(steps[0]!.result).toMatchObject({
      reached: 2,
      acted: { part: 1, whole: 2 },
      answered: { part: 1 },
    });
    expect(steps[0]!.verdict).toBeNull();
    expect(tries[0]).toMatchObject({ part: 1, whole: 1 });
    expect(exits).toEqual([expect.objectContaining({ step: 0, runs: 1 })]);
    expect(leastCases).toBe(30);
  });

  test('a run that ended without an answer was not answered, in every figure alike', async () => {
    const people = await Promise.all(Array.from({ length: 4 }, () => aContact(rep)));
    await start(people);
    const tasks = await Promise.all(
      people.map(async ({ id }) => (await rep.ok('listTasks', { query: { contactId: id } })).tasks[0]!),
    );
    const log = (at: number, outcomeId: string) =>
      rep.ok('log', {
        body: {
          id: v4(),
          contactId: people[at]!.id,
          taskId: tasks[at]!.id,
          outcomeId,
          next: { kind: 'none', reason: 'all said' },
        },
      });
    await log(0, 'call-spoke');
    for (const at of [1, 2, 3]) {
      const [run] = (await rep.ok('listRuns', { query: { contactId: people[at]!.id } })).runs;
      await rep.ok('changeRun', {
        params: { id: run!.id },
        body: { version: run!.version, change: 'stop' },
      });
    }
    const { answered, silence } = await results();
    expect(answered).toMatchObject({ part: 1, whole: 4 });
    expect(silence.at(-1)!.survival).toBeCloseTo(1 - answered.rate);
  });

  test('variants stand in the order of the step, also before anybody has come to one', async () => {
    const template = (name: string) =>
      rep.ok('createTemplate', {
        body: { name, channel: 'email', subject: name, body: name },
      });
    const [second, first] = [await template('Second'), await template('First')];
    await save({ definition: define([step({ channel: 'email', templateIds: [first.id, second.id] })]) });
    const [{ variants, verdict }] = (await results()).steps as [CadenceResults['steps'][number]];
    expect(variants.map(({ name, result }) => [name, result.reached])).toEqual([
      ['First', 0],
      ['Second', 0],
    ]);
    expect(verdict).toEqual({ kind: 'thin', more: 60 });
  });

  test('of a cadence nobody was on are empty', async () => {
    expect(await results()).toMatchObject({ runs: 0, exits: [], tries: [], medianDays: null });
  });
});

describe('as a file', () => {
  const read = (file: object) => rep.call('readCadenceFile', { body: file });

  test('goes out and comes back the same, templates by their names', async () => {
    const { id } = await aTemplate();
    const definition = define(
      [step({ channel: 'email', mode: 'by-itself', templateIds: [id] }), ...threeSteps],
      2,
    );
    await save({ definition });
    const file = await rep.ok('cadenceToFile', { params: params() });
    expect(file.steps[0]).toMatchObject({ templates: ['Hello'] });
    expect((await read(file)).body).toEqual({ name: cadence.name, definition, unknownTemplates: [] });
  });

  test('a template that is not here is named, and its step is done by hand', async () => {
    const file = await rep.ok('cadenceToFile', { params: params() });
    const alone = { ...file.steps[0]!, channel: 'email', mode: 'by-itself', templates: ['Elsewhere'] };
    const { body } = await read({ ...file, steps: [alone] });
    expect(body.unknownTemplates).toEqual(['Elsewhere']);
    expect(body.definition.steps[0]).toMatchObject({ mode: 'by-hand', templateIds: [] });
  });

  test.each([
    ['of another kind', { format: 'recipe' }, 'format'],
    ['with a window that ends before it starts', { steps: [step({ windowEnd: 500 })] }, 'steps.0.windowEnd'],
    ['that goes on at a step it does not have', { answeredStep: 9 }, 'answeredStep'],
  ])('a file %s is refused where it is wrong', async (_, part, path) => {
    const file = await rep.ok('cadenceToFile', { params: params() });
    const refused = await read({ ...file, ...part });
    expect(refused.body).toMatchObject({ code: 'invalid-request' });
    expect(refused.body.fields.map((field: { path: string }) => field.path)).toContain(path);
  });

  test('its schema is published', async () => {
    const schema = (await rep.ok('cadenceSchema')) as { properties: object };
    expect(Object.keys(schema.properties)).toEqual(['format', 'version', 'name', 'steps', 'answeredStep']);
  });
});

test('the dates for somebody say why each day is what it is', async () => {
  const contact = await aContact(rep, { country: 'PT' });
  const plan = await rep.ok('planExample', {
    body: {
      definition: define([step(), step({ offsetDays: 4 })]),
      contactId: contact.id,
      startOn: '2026-11-25',
    },
  });
  expect(plan.zone).toBe('Europe/Lisbon');
  // Four working days after Wednesday 25 November: the holiday of 1 December in Portugal is not one.
  expect(plan.moments[1]).toMatchObject({ on: '2026-12-02' });
});
