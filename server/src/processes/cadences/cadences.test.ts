import type { CadenceSummary, Contact } from '@kettle/contract';
import { v4 } from 'uuid';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal } from '../../../testing/people';
import { askForDailyWork } from '../../features';
import { bytesOf } from '../../platform/ids';
import type { DatabaseJob } from '../../platform/jobs/worker';
import { work } from '../../platform/work/work';
import { wakeKind, wakeRuns } from './feature';

let installation: Installation;
let rep: Caller;
let cadence: CadenceSummary;
beforeEach(async () => {
  installation = await install();
  rep = await installation.as('rep');
  cadence = (await rep.ok('listCadences')).cadences[0]!;
});
afterEach(() => installation.close());

const planFor = (...contacts: { id: string }[]) =>
  rep.ok('planStart', {
    params: { id: cadence.id },
    body: { contactIds: contacts.map(({ id }) => id) },
  });
const start = (contacts: { id: string }[], requestId = v4()) =>
  rep.ok('startRuns', {
    params: { id: cadence.id },
    body: { requestId, versionId: cadence.versionId, contactIds: contacts.map(({ id }) => id) },
  });
const runOf = async (contact: Contact) =>
  (await rep.ok('listRuns', { query: { contactId: contact.id } })).runs[0]!;
const tasksOf = async (contact: Contact) =>
  (await rep.ok('listTasks', { query: { contactId: contact.id } })).tasks;

describe('before starting', () => {
  test('every planned moment is shown, and nothing is written', async () => {
    const portuguese = await aContact(rep, { country: 'PT' });
    const plan = await planFor(portuguese);
    expect(plan.people[0]).toMatchObject({ leftOut: null, zone: 'Europe/Lisbon' });
    // Counted from Wednesday 25 November three working days on would be Monday 30; Tuesday 1 December is a holiday in Portugal.
    expect(plan.people[0]!.moments.map((moment) => (moment.kind === 'planned' ? moment.on : null))).toEqual([
      '2026-11-24',
      '2026-11-25',
      '2026-11-30',
    ]);
    expect(await tasksOf(portuguese)).toEqual([]);
  });

  test('who is left out, and why', async () => {
    const other = await installation.as('rep');
    const [running, theirs, silent, unreachable] = [
      await aContact(rep),
      await aContact(other),
      await aContact(rep, { doNotContact: ['call', 'email'] }),
      await aContact(rep, { phone: null, email: null }),
    ];
    await start([running]);
    const plan = await planFor(running, theirs, silent, unreachable);
    expect(plan.people.map((person) => person.leftOut?.reason)).toEqual([
      'already-running',
      'not-yours',
      'do-not-contact',
      'no-step-possible',
    ]);
  });

  test('whoever was tried today gets nothing more today, also when the try counts for nothing', async () => {
    const contact = await aContact(rep);
    await installation.services.database.change(
      `INSERT INTO journal_entry (id, at, kind, direction, counts, body, contact_id, created_at)
       VALUES (UNHEX(REPLACE(UUID(), '-', '')), '2026-11-24 08:00:00.000', 'call', 'out', 'none', '', :contact, NOW(3))`,
      { contact: bytesOf(contact.id) },
    );
    const [first] = (await planFor(contact)).people[0]!.moments;
    expect(first).toMatchObject({
      on: '2026-11-25',
      shifts: ['not Tue 24 Nov: another touch that day'],
    });
  });

  test('people of one firm share what it gets in a day', async () => {
    const firm = { companyName: 'Marrow Brewing' };
    const people = [
      await aContact(rep, firm),
      await aContact(rep, firm),
      await aContact(rep, firm),
      await aContact(rep, firm),
    ];
    const plan = await planFor(...people);
    const first = plan.people.map((person) =>
      person.moments[0]!.kind === 'planned' ? person.moments[0]!.on : null,
    );
    expect(first).toEqual(['2026-11-24', '2026-11-24', '2026-11-24', '2026-11-26']);
    // Tuesday is full with three calls, Wednesday with the three letters after them.
    const enough = 'enough touches to the company that day';
    expect(plan.people[3]!.moments[0]).toMatchObject({
      shifts: [`not Tue 24 Nov: ${enough}`, `not Wed 25 Nov: ${enough}`],
    });
  });
});

describe('starting', () => {
  test('makes a run and its first task, and the journal says so', async () => {
    const contact = await aContact(rep);
    expect((await start([contact])).started).toHaveLength(1);
    expect(await runOf(contact)).toMatchObject({
      status: 'running',
      step: 1,
      steps: 3,
      nextOn: '2026-11-24',
    });
    expect(await tasksOf(contact)).toMatchObject([
      { channel: 'call', dueOn: '2026-11-24', runWords: 'First contact, step 1 of 3' },
    ]);
    expect(await rep.ok('getContact', { params: { id: contact.id } })).toMatchObject({
      tether: { nextStepOn: '2026-11-24' },
    });
  });

  test('the same request twice starts nobody twice; another one leaves them out', async () => {
    const contact = await aContact(rep);
    const requestId = v4();
    const [one, two] = [await start([contact], requestId), await start([contact], requestId)];
    expect(two.started).toEqual(one.started);
    expect((await start([contact])).leftOut).toMatchObject([{ reason: 'already-running' }]);
    expect(await tasksOf(contact)).toHaveLength(1);
  });

  test('two reps starting one person at once make one run', async () => {
    const contact = await aContact(rep);
    await Promise.all([start([contact]), start([contact]), start([contact])]);
    expect(await installation.services.database.rows('SELECT COUNT(*) AS n FROM run')).toEqual([{ n: 1 }]);
  });
});

describe('a day on which many pauses end', () => {
  test('continues all of them, part by part', async () => {
    const people = [await aContact(rep), await aContact(rep), await aContact(rep)];
    await start(people);
    const { services } = installation;
    await services.database.change(
      "UPDATE run SET status = 'paused', paused_until = '2026-11-26', next_on = NULL",
    );
    installation.clock.set('2026-11-26T09:00:00.000Z');
    const part = (payload: object) =>
      work(services, null, (w) => (wakeRuns(2) as DatabaseJob).run(w, payload), { act: wakeKind });
    const left = async () =>
      (await services.database.rows("SELECT 1 FROM run WHERE status = 'paused'")).length;
    await part({});
    expect(await left()).toBe(1);
    const [next] = await services.database.rows<{ payload: string }>(
      `SELECT payload FROM job WHERE kind = '${wakeKind}' AND dedupe_key LIKE '%:1'`,
    );
    expect(JSON.parse(next!.payload)).toEqual({ part: 1 });
    await part({ part: 1 });
    expect(await left()).toBe(0);
  });
});

describe('a run in between', () => {
  test('is paused, goes on and stops by hand; a stale change shows it as it is', async () => {
    const contact = await aContact(rep);
    await start([contact]);
    const change = (version: number, what: string) =>
      runOf(contact).then((run) =>
        rep.call('changeRun', { params: { id: run.id }, body: { version, change: what } }),
      );
    expect((await change(1, 'pause')).body).toMatchObject({ status: 'paused', nextOn: null, version: 2 });
    expect(await tasksOf(contact)).toEqual([]);
    expect((await change(1, 'stop')).body).toMatchObject({ code: 'stale', current: { status: 'paused' } });
    expect((await change(2, 'resume')).body).toMatchObject({ status: 'running', nextOn: '2026-11-24' });
    expect((await change(3, 'stop')).body).toMatchObject({
      status: 'stopped',
      exitReason: expect.stringContaining('stopped by'),
    });
    expect((await change(4, 'resume')).body.code).toBe('run-not-active');
  });

  test('a pause with an end is over on its day', async () => {
    const contact = await aContact(rep);
    await start([contact]);
    await installation.services.database.change(
      "UPDATE run SET status = 'paused', paused_until = '2026-11-26', next_on = NULL",
    );
    await installation.services.database.change("UPDATE task SET state = 'dropped'");
    installation.clock.set('2026-11-26T06:00:00.000Z');
    await askForDailyWork(installation.services);
    await installation.work();
    expect(await runOf(contact)).toMatchObject({ status: 'running', nextOn: '2026-11-26' });
    expect(await tasksOf(contact)).toHaveLength(1);
  });

  test('a deal that is lost ends the run that chased the person', async () => {
    const contact = await aContact(rep);
    await start([contact]);
    const deal = await aDeal(rep, contact.id);
    await rep.ok('closeDeal', {
      params: { id: deal.id },
      body: { as: 'lost', version: deal.version, on: '2026-11-24', reason: 'price' },
    });
    expect(await runOf(contact)).toMatchObject({ status: 'stopped', exitReason: 'the deal was lost' });
    expect(await tasksOf(contact)).toEqual([]);
  });
});

describe('making a cadence', () => {
  const step = {
    channel: 'call',
    offsetDays: 0,
    windowStart: 600,
    windowEnd: 700,
    minutes: 5,
    purpose: 'ask',
  };
  test('its name is used once', async () => {
    await rep.ok('createCadence', { body: { name: 'Offer is out', definition: { steps: [step] } } });
    expect(
      (await rep.call('createCadence', { body: { name: 'Offer is out', definition: { steps: [step] } } }))
        .body,
    ).toMatchObject({ code: 'already-exists', status: 409 });
  });

  test.each([
    [{ ...step, windowEnd: 600 }, 'definition.steps.0.windowEnd'],
    [{ ...step, purpose: ' ' }, 'definition.steps.0.purpose'],
    [{ ...step, offsetDays: -1 }, 'definition.steps.0.offsetDays'],
    [{ ...step, channel: 'pigeon' }, 'definition.steps.0.channel'],
  ])('a wrong step is told at its field: %#', async (wrong, path) => {
    const refused = await rep.call('createCadence', { body: { name: 'x', definition: { steps: [wrong] } } });
    expect((refused.body.fields as { path: string }[]).map((each) => each.path)).toEqual([path]);
  });
});
