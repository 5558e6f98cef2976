import type { Task } from '@kettle/contract';
import { bytesOf } from '../../platform/ids';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aLog } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
let other: Caller;
let manager: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep', 'Imogen Thorne');
  other = await installation.as('rep', 'Rufus Dale');
  manager = await installation.as('manager', 'Berta Holm');
});
afterAll(() => installation.close());
afterEach(() => installation.clock.set('2026-11-24T09:10:00.000Z'));

async function aTask(part: object = {}): Promise<Task> {
  const { id } = await aContact(rep, { familyName: 'Ellery' });
  return rep.ok('createTask', {
    body: { channel: 'call', purpose: 'ask', dueOn: '2026-11-26', contactId: id, ...part },
  });
}
const body = (task: Task, part: object = {}) => ({
  params: { id: task.id },
  body: {
    version: task.version,
    channel: task.channel,
    purpose: task.purpose,
    dueOn: task.dueOn,
    promisedMinute: null,
    minutes: task.minutes,
    ownerId: task.ownerId,
    repeats: task.repeats,
    remindMinutes: task.remindMinutes,
    ...part,
  },
});
const openOf = async (contactId: string | null) =>
  (await rep.ok('listTasks', { query: { contactId: contactId! } })).tasks;
const toldTo = async (caller: Caller) =>
  (await caller.ok('listNotifications')).notifications.map((each) => each.words);

describe('whose it is', () => {
  test('a task for a colleague tells them, and is in their table', async () => {
    const task = await aTask({ ownerId: other.id, purpose: 'measure the boiler' });
    expect(task.ownerName).toBe('Rufus Dale');
    expect(await toldTo(other)).toContain('Imogen Thorne gave you a task: measure the boiler · Maud Ellery');
    const { rows } = await other.ok('taskTable');
    expect(rows.map((row) => row.id)).toContain(task.id);
  });

  test('a manager sees the team and hands on; a rep sees only their own', async () => {
    const task = await aTask({ purpose: 'handed on' });
    const team = await manager.ok('taskTable', { query: { owner: 'team' } });
    expect(team.rows.map((row) => row.id)).toContain(task.id);
    const moved = await manager.ok('changeTask', body(task, { ownerId: other.id }));
    expect(moved.ownerId).toBe(other.id);
    expect(await toldTo(other)).toContain('Berta Holm gave you a task: handed on · Maud Ellery');
    expect((await rep.call('taskTable', { query: { owner: 'team' } })).body.code).toBe('not-allowed');
    expect((await rep.call('taskTable', { query: { owner: other.id } })).body.code).toBe('not-allowed');
    expect((await rep.call('changeTask', body(moved, { purpose: 'mine again' }))).body.code).toBe(
      'not-yours',
    );
  });

  test('nobody is refused at its field', async () => {
    const task = await aTask();
    const refused = await rep.call(
      'changeTask',
      body(task, { ownerId: '01900000-0000-7000-8000-000000000000' }),
    );
    expect(refused.body).toMatchObject({ fields: [{ path: 'ownerId' }] });
  });
});

describe('a task that repeats', () => {
  test('comes again when it is done, on the rule’s next day after today', async () => {
    const task = await aTask({ repeats: 'FREQ=WEEKLY;BYDAY=TH' });
    await rep.ok('finishTask', { params: { id: task.id } });
    const [next] = await openOf(task.contactId);
    expect(next).toMatchObject({ dueOn: '2026-12-03', repeats: 'FREQ=WEEKLY;BYDAY=TH', purpose: 'ask' });
    installation.clock.set('2026-12-05T09:00:00.000Z');
    await rep.ok('finishTask', { params: { id: next!.id } });
    expect((await openOf(task.contactId))[0]?.dueOn).toBe('2026-12-10');
  });

  test('comes again when a log finishes it, keeps counting from its first day, and ends with its rule', async () => {
    const task = await aTask({ dueOn: '2026-11-24', repeats: 'FREQ=DAILY;COUNT=2' });
    await aLog(rep, task.contactId!, { taskId: task.id });
    const [next] = await openOf(task.contactId);
    expect(next?.dueOn).toBe('2026-11-25');
    await rep.ok('finishTask', { params: { id: next!.id } });
    expect(await openOf(task.contactId)).toEqual([]);
  });

  test('needs a rule that is one', async () => {
    const { id } = await aContact(rep);
    const refused = await rep.call('createTask', {
      body: { channel: 'call', purpose: 'ask', dueOn: '2026-11-26', contactId: id, repeats: 'every monday' },
    });
    expect(refused.body).toMatchObject({ code: 'not-a-rule', fields: [{ path: 'repeats' }] });
  });

  test.each([
    ['FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30', 'never comes: no day fits it'],
    ['FREQ=DAILY;INTERVAL=1000;BYMONTH=2;BYMONTHDAY=30', 'never comes: no day fits it'],
    ['FREQ=SECONDLY', 'begins with FREQ=DAILY, WEEKLY, MONTHLY or YEARLY'],
  ])('%s is refused with the reason, and the server goes on', async (repeats, message) => {
    const { id } = await aContact(rep);
    const body = { channel: 'call', purpose: 'ask', dueOn: '2026-11-26', contactId: id, repeats };
    const refused = await rep.call('createTask', { body });
    expect(refused.body).toMatchObject({ code: 'not-a-rule', fields: [{ path: 'repeats', message }] });
  });

  test('with a rule of old that is none any more can be finished', async () => {
    const task = await aTask({ repeats: 'FREQ=WEEKLY' });
    await installation.services.database.change('UPDATE task SET repeats = :rule WHERE id = :id', {
      rule: 'FREQ=DAILY;BYHOUR=9',
      id: bytesOf(task.id),
    });
    await rep.ok('finishTask', { params: { id: task.id } });
    expect(await openOf(task.contactId)).toEqual([]);
  });
});

describe('a reminder', () => {
  test('comes before the promised time, once, and not for a task that is done', async () => {
    const task = await aTask({ purpose: 'promised', promisedMinute: 600, remindMinutes: 30 });
    const done = await aTask({ purpose: 'over', promisedMinute: 600, remindMinutes: 30 });
    await rep.ok('finishTask', { params: { id: done.id } });
    installation.clock.set('2026-11-26T09:29:59.000Z');
    await installation.work();
    const before = await toldTo(rep);
    expect(before.filter((words) => words.includes('promised'))).toEqual([]);
    installation.clock.set('2026-11-26T09:30:00.000Z');
    await installation.work();
    await installation.work();
    const told = await toldTo(rep);
    expect(told.filter((words) => words.includes('promised'))).toEqual([
      'Due Thu 26 Nov: promised · Maud Ellery',
    ]);
    expect(told.filter((words) => words.includes('over'))).toEqual([]);
    expect(task.remindMinutes).toBe(30);
  });

  test('moves with its task', async () => {
    const task = await aTask({ purpose: 'moved', remindMinutes: 0 });
    await rep.ok('deferTask', {
      params: { id: task.id },
      body: { version: task.version, dueOn: '2026-12-01' },
    });
    const said = async () => (await toldTo(rep)).filter((words) => words.includes('moved'));
    installation.clock.set('2026-11-26T12:00:00.000Z');
    await installation.work();
    expect(await said()).toEqual([]);
    // Without a promised time the owner's day begins it: nine o'clock.
    installation.clock.set('2026-12-01T09:00:00.000Z');
    await installation.work();
    expect(await said()).toEqual(['Due Tue 1 Dec: moved · Maud Ellery']);
  });
});

describe('the table', () => {
  test('filters by state, day and channel, sorts, and says how many there are', async () => {
    const mine = await installation.as('rep');
    const { id } = await aContact(mine);
    const make = (purpose: string, part: object) =>
      mine.ok('createTask', {
        body: { channel: 'call', purpose, dueOn: '2026-11-24', contactId: id, ...part },
      });
    await make('b today', {});
    const dropped = await make('a dropped', { channel: 'email', dueOn: '2026-11-25' });
    await make('c ahead', { dueOn: '2026-12-01', minutes: 30 });
    await mine.ok('dropTask', { params: { id: dropped.id }, body: { reason: 'sold' } });
    const rows = async (query: object) =>
      (await mine.ok('taskTable', { query })).rows.map((row) => row.purpose);
    expect(await rows({})).toEqual(['b today', 'c ahead']);
    expect(await rows({ state: 'all', sort: 'purpose' })).toEqual(['a dropped', 'b today', 'c ahead']);
    expect(await rows({ due: 'today' })).toEqual(['b today']);
    expect(await rows({ due: 'ahead', sort: '-minutes' })).toEqual(['c ahead']);
    expect(await rows({ state: 'dropped', channel: 'email' })).toEqual(['a dropped']);
    expect(await mine.ok('countTasks', { query: { due: 'today' } })).toMatchObject({ found: 1, total: 3 });
    installation.clock.set('2026-11-25T09:00:00.000Z');
    expect(await rows({ due: 'late' })).toEqual(['b today']);
  });

  test('what is done or dropped can be opened again', async () => {
    const task = await aTask();
    await rep.ok('finishTask', { params: { id: task.id } });
    expect((await rep.call('finishTask', { params: { id: task.id } })).body.code).toBe('already-done');
    const open = await rep.ok('reopenTask', { params: { id: task.id } });
    expect(open).toMatchObject({ state: 'open', finishedAt: null });
    expect((await openOf(task.contactId)).map((each) => each.id)).toEqual([task.id]);
  });
});
