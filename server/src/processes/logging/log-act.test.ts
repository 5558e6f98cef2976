import type { Contact, Task } from '@kettle/contract';
import { v7 } from 'uuid';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal } from '../../../testing/people';
import { refreshTouchFacts } from '../../activity/touch/index';

let installation: Installation;
let rep: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep', 'Imogen Thorne');
});
afterAll(() => installation.close());
beforeEach(() => installation.clock.set('2026-11-24T09:10:00.000Z'));

const nothing = { kind: 'none', reason: 'enough for now' };
const onFriday = {
  kind: 'task',
  channel: 'call',
  dueOn: '2026-11-27',
  purpose: 'hear what they decided',
  minutes: 6,
};
const log = (contact: Contact, part: object = {}) => ({
  id: v7(),
  contactId: contact.id,
  outcomeId: 'call-spoke',
  next: onFriday,
  ...part,
});
const read = (contact: { id: string }) => rep.ok('getContact', { params: { id: contact.id } });
const tasksOf = async (contact: { id: string }) =>
  (await rep.ok('listTasks', { query: { contactId: contact.id } })).tasks;
const runsOf = async (contact: { id: string }) =>
  (await rep.ok('listRuns', { query: { contactId: contact.id } })).runs;

async function onCadence(): Promise<{ contact: Contact; task: Task }> {
  const contact = await aContact(rep);
  const { cadences } = await rep.ok('listCadences');
  const cadence = cadences[0]!;
  await rep.ok('startRuns', {
    params: { id: cadence.id },
    body: {
      requestId: '6f9619ff-8b86-4011-b42d-00c04fc964ff'.replace(/^.{8}/, v7().slice(0, 8)),
      versionId: cadence.versionId,
      contactIds: [contact.id],
    },
  });
  const [task] = await tasksOf(contact);
  return { contact, task: task! };
}

describe('logging an act', () => {
  test('writes the entry, the tether and the next step together', async () => {
    const contact = await aContact(rep);
    const logged = await rep.ok('log', {
      body: log(contact, { body: 'Wants the price.', minutes: 7 }),
    });
    expect(logged).toMatchObject({ nextOn: '2026-11-27', words: 'Next: hear what they decided' });
    expect(await read(contact)).toMatchObject({
      tether: {
        lastTouchAt: '2026-11-24T09:10:00.000Z',
        lastTouchKind: 'call',
        lastTouchCounts: 'conversation',
        nextStepOn: '2026-11-27',
        nextStepChannel: 'call',
      },
      answers: [{ channel: 'call', tried: 1, answered: 1 }],
    });
    const { entries } = await rep.ok('listJournal', {
      query: { contactId: contact.id },
    });
    expect(entries[0]).toMatchObject({
      kind: 'call',
      outcomeLabel: 'Spoke',
      body: 'Wants the price.',
      minutes: 7,
      userName: 'Imogen Thorne',
    });
  });

  test('the same log sent twice is written once', async () => {
    const contact = await aContact(rep);
    const body = log(contact);
    await rep.ok('log', { body });
    await rep.ok('log', { body });
    expect((await rep.ok('listJournal', { query: { contactId: contact.id } })).entries).toHaveLength(1);
    expect(await tasksOf(contact)).toHaveLength(1);
  });

  test('two logs of one task at once: one wins, the other is told', async () => {
    const { contact, task } = await onCadence();
    const part = {
      taskId: task.id,
      outcomeId: 'call-no-answer',
      next: { kind: 'run' },
    };
    const answers = await Promise.all([1, 2].map(() => rep.call('log', { body: log(contact, part) })));
    expect(answers.map((each) => each.status).sort()).toEqual([200, 409]);
    expect((await runsOf(contact))[0]).toMatchObject({ step: 2 });
  });

  test('two logs of one task without a cadence at once: one next step, not two', async () => {
    const contact = await aContact(rep);
    const task = await rep.ok('createTask', {
      body: { channel: 'call', purpose: 'ask', dueOn: '2026-11-24', contactId: contact.id },
    });
    const answers = await Promise.all(
      [1, 2, 3].map(() => rep.call('log', { body: log(contact, { taskId: task.id }) })),
    );
    expect(answers.map((each) => each.status).sort()).toEqual([200, 409, 409]);
    expect(answers.find((each) => each.status === 409)!.body).toMatchObject({ code: 'already-done' });
    expect(await tasksOf(contact)).toHaveLength(1);
  });

  test('the past is welcome, the future refused, and nothing is written then', async () => {
    const contact = await aContact(rep);
    await rep.ok('log', { body: log(contact, { at: '2026-11-20T15:00:00.000Z' }) });
    const refused = await rep.call('log', { body: log(contact, { at: '2026-11-24T09:11:00.000Z' }) });
    expect(refused.body).toMatchObject({ code: 'in-the-future', status: 422 });
    expect((await read(contact)).tether.lastTouchAt).toBe('2026-11-20T15:00:00.000Z');
  });

  test.each([
    ['an outcome nobody knows', { outcomeId: 'call-danced' }, 'wrong-outcome'],
    ['a next step in the past', { next: { ...onFriday, dueOn: '2026-11-23' } }, 'in-the-past'],
    ['a next step of a cadence that is not there', { next: { kind: 'run' } }, 'run-not-active'],
  ])('%s is refused whole', async (_, part, code) => {
    const contact = await aContact(rep);
    const refused = await rep.call('log', { body: log(contact, part) });
    expect(refused.body.code).toBe(code);
    expect((await rep.ok('listJournal', { query: { contactId: contact.id } })).entries).toEqual([]);
  });

  test('a task of somebody else is refused', async () => {
    const { task } = await onCadence();
    const other = await aContact(rep);
    const refused = await rep.call('log', { body: log(other, { taskId: task.id, next: nothing }) });
    expect(refused.body).toMatchObject({ code: 'invalid-request', fields: [{ path: 'taskId' }] });
  });

  test('a task that somebody moved meanwhile is fulfilled all the same, and only once', async () => {
    const { contact, task } = await onCadence();
    await rep.ok('deferTask', {
      params: { id: task.id },
      body: { version: task.version, dueOn: '2026-11-30' },
    });
    const fulfil = () => rep.call('log', { body: log(contact, { taskId: task.id, next: nothing }) });
    expect((await fulfil()).status).toBe(200);
    expect((await fulfil()).body).toMatchObject({ code: 'already-done', current: { dueOn: '2026-11-30' } });
  });

  test('leaving an open deal without a next step needs a reason', async () => {
    const contact = await aContact(rep);
    const deal = await aDeal(rep, contact.id);
    const [task] = await tasksOf(contact);
    const part = { taskId: task!.id, next: { kind: 'none', reason: ' ' } };
    expect((await rep.call('log', { body: log(contact, part) })).body).toMatchObject({
      code: 'reason-needed',
      fields: [{ path: 'next.reason' }],
    });
    await rep.ok('log', { body: log(contact, { ...part, next: nothing }) });
    expect(await rep.ok('getDeal', { params: { id: deal.id } })).toMatchObject({
      tetherState: 'loose',
      tether: { lastTouchKind: 'call', nextStepOn: null },
    });
  });
});

describe('a cadence while it is walked', () => {
  test('no answer: the run goes a step on, and its next task is the next step', async () => {
    const { contact, task } = await onCadence();
    await rep.ok('log', {
      body: log(contact, {
        taskId: task.id,
        outcomeId: 'call-no-answer',
        next: { kind: 'run' },
      }),
    });
    expect((await runsOf(contact))[0]).toMatchObject({ status: 'running', step: 2, nextOn: '2026-11-25' });
    expect(await tasksOf(contact)).toMatchObject([
      { channel: 'email', dueOn: '2026-11-25', runWords: 'First contact, step 2 of 3' },
    ]);
    expect((await read(contact)).attempts).toEqual([{ channel: 'call', tries: 1 }]);
  });

  test('another day than proposed moves the cadence’s own step, and there is still one', async () => {
    const { contact, task } = await onCadence();
    const next = { ...onFriday, dueOn: '2026-12-01' };
    await rep.ok('log', {
      body: log(contact, { taskId: task.id, outcomeId: 'call-no-answer', next }),
    });
    expect(await tasksOf(contact)).toMatchObject([{ channel: 'call', dueOn: '2026-12-01' }]);
    expect((await runsOf(contact))[0]).toMatchObject({ nextOn: '2026-12-01', step: 2 });
  });

  test('a conversation ends it, with the reason', async () => {
    const { contact, task } = await onCadence();
    await rep.ok('log', { body: log(contact, { taskId: task.id }) });
    expect((await runsOf(contact))[0]).toMatchObject({
      status: 'finished',
      exitReason: 'spoke (call)',
      nextOn: null,
    });
    expect(await tasksOf(contact)).toMatchObject([{ purpose: 'hear what they decided' }]);
  });

  test('a letter from outside ends it too, waits for an answer, and is in the Round', async () => {
    const { contact } = await onCadence();
    await rep.ok('log', { body: log(contact, { outcomeId: 'email-came-in', next: nothing }) });
    expect((await runsOf(contact))[0]).toMatchObject({ status: 'finished', exitReason: 'replied by email' });
    const round = await rep.ok('round');
    const row = [...round.above, ...round.below].find((each) => each.contactId === contact.id);
    expect(row).toMatchObject({ kind: 'reply', reasons: [{ words: 'wrote 1 min ago', pressing: true }] });
  });

  test('no next step at all stops it', async () => {
    const { contact, task } = await onCadence();
    await rep.ok('log', {
      body: log(contact, {
        taskId: task.id,
        outcomeId: 'call-no-answer',
        next: nothing,
      }),
    });
    expect((await runsOf(contact))[0]).toMatchObject({ status: 'stopped', exitReason: 'enough for now' });
    expect(await tasksOf(contact)).toEqual([]);
  });

  test('the walk proposes a next step for every outcome, and the cadence’s where it goes on', async () => {
    const { contact, task } = await onCadence();
    const item = await rep.ok('walkItem', { query: { taskId: task.id } });
    expect(item.contact.id).toBe(contact.id);
    const proposed = Object.fromEntries(
      item.choices.map(({ outcome, proposal }) => [outcome.id, [proposal.step.kind, proposal.on]]),
    );
    expect(proposed).toMatchObject({
      'call-spoke': ['task', '2026-11-27'],
      'call-no-answer': ['run', '2026-11-25'],
      'call-not-interested': ['none', null],
    });
  });
});

describe('taking a log back', () => {
  test('puts task, run, tether and deal back as they were', async () => {
    const { contact, task } = await onCadence();
    await aDeal(rep, contact.id);
    const before = [await read(contact), await tasksOf(contact), (await runsOf(contact))[0]!];
    const body = log(contact, { taskId: task.id });
    await rep.ok('log', { body });
    await rep.ok('undoLog', { params: { id: body.id } });
    const after = [await read(contact), await tasksOf(contact), (await runsOf(contact))[0]!];
    const withoutVersions = (value: unknown) =>
      JSON.parse(
        JSON.stringify(value, (key, each: unknown) => (key === 'version' ? undefined : each)),
      ) as unknown;
    expect(withoutVersions(after)).toEqual(withoutVersions(before));
    expect((await rep.call('undoLog', { params: { id: body.id } })).body.code).toBe('already-done');
  });

  test('is refused once the next step was changed, and for another person’s log', async () => {
    const contact = await aContact(rep);
    const body = log(contact);
    await rep.ok('log', { body });
    const [task] = await tasksOf(contact);
    await rep.ok('deferTask', {
      params: { id: task!.id },
      body: { version: task!.version, dueOn: '2026-12-01' },
    });
    expect((await rep.call('undoLog', { params: { id: body.id } })).body.code).toBe('cannot-undo');
    const other = await installation.as('rep');
    expect((await other.call('undoLog', { params: { id: body.id } })).body).toMatchObject({
      code: 'not-yours',
    });
  });
});

test('touch facts equal a recomputation from the journal after any writing and taking back', async () => {
  const contact = await aContact(rep);
  const outcomes = [
    'call-no-answer',
    'call-spoke',
    'email-sent',
    'email-came-in',
    'visit-held',
    'call-voicemail',
    'email-answered',
  ];
  const ids: string[] = [];
  for (let n = 0; n < 24; n += 1) {
    const body = log(contact, {
      outcomeId: outcomes[(n * 5) % outcomes.length],
      next: nothing,
      at: new Date(Date.UTC(2026, 10, 1 + ((n * 7) % 23), 10)).toISOString(),
    });
    await rep.ok('log', { body });
    ids.push(body.id);
    if (n % 3 === 2) await rep.ok('undoLog', { params: { id: ids[n - 1]! } });
  }
  const kept = await read(contact);
  await installation.services.database.transaction(async (tx) => {
    await tx.change('UPDATE contact SET last_touch_at = NULL, waiting_since = NULL, next_touch_due = NULL');
    const { services } = installation;
    await refreshTouchFacts({ ...tx, services, settings: () => services.settings.read(tx) }, [contact.id]);
  });
  expect(await read(contact)).toEqual(kept);
});

test('an entry after all others carries the known facts on; one of the past has the whole journal read', async () => {
  const contact = await aContact(rep);
  const { database } = installation.services;
  const at = (day: number) => new Date(Date.UTC(2026, 10, day, 10)).toISOString();
  const add = (day: number) =>
    rep.ok('log', { body: log(contact, { outcomeId: 'call-voicemail', next: nothing, at: at(day) }) });
  await add(10);
  // A conversation that the journal does not know: who reads the journal again forgets it.
  await database.change(
    "UPDATE contact SET last_conversation_at = '2026-11-01 10:00:00' WHERE id = UNHEX(:id)",
    {
      id: contact.id.replaceAll('-', ''),
    },
  );
  await add(12);
  expect((await read(contact)).lastConversationAt).toBe(at(1));
  await add(11);
  expect((await read(contact)).lastConversationAt).toBeNull();
});
