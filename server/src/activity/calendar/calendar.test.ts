import type { Appointment, Contact } from '@kettle/contract';
import fc from 'fast-check';
import { v7 } from 'uuid';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, aLog, aTask, journalOf } from '../../../testing/people';
import { wholeState } from '../../../testing/whole-state';

let installation: Installation;
let imogen: Caller;
let owen: Caller;
let manager: Caller;
let maud: Contact;
beforeAll(async () => {
  installation = await install();
  imogen = await installation.as('rep', 'Imogen Thorne');
  owen = await installation.as('rep', 'Owen Marsh');
  manager = await installation.as('manager', 'Corin Vale');
  maud = await aContact(imogen);
});
afterAll(() => installation.close());
beforeEach(() => installation.clock.set('2026-11-24T09:10:00.000Z'));
afterEach(() => setReading('all'));
const setReading = async (reading: string) => {
  const admin = await installation.as('admin');
  const now = await admin.ok('rightsSettings');
  if (now.reading !== reading) await admin.ok('changeRightsSettings', { body: { ...now, reading } });
};

/** A Wednesday; nobody has anything on it but what a test plans. */
const at = (time: string, day = '2026-11-25') => `${day}T${time}:00.000Z`;
const plan = (part: object = {}, caller = imogen) =>
  caller.ok('planAppointment', {
    body: { title: 'Survey', startsAt: at('10:00'), minutes: 60, contactId: maud.id, ...part },
  });
const read = (id: string, caller = imogen) => caller.ok('getAppointment', { params: { id } });
const change = ({ id, version }: Appointment, part: object, caller = imogen) =>
  caller.call('changeAppointment', { params: { id }, body: { version, ...part } });
const callOff = ({ id, version }: Appointment, part: object) =>
  imogen.call('callOffAppointment', { params: { id }, body: { version, ...part } });
const tasksOf = async (contact: { id: string }) =>
  (await imogen.ok('listTasks', { query: { contactId: contact.id } })).tasks;
const calendar = async (query: object = {}, caller = imogen) =>
  caller.ok('calendar', { query: { from: '2026-11-23', days: 7, ...query } });
const removeAll = () =>
  installation.services.database.transaction(async (tx) => {
    await tx.change('DELETE FROM appointment_guest');
    await tx.change('DELETE FROM appointment');
    await tx.change('UPDATE task SET promised_at = NULL');
  });

describe('one with a customer', () => {
  test('is their next step, stands in the calendar with its way, and is a row of the Round at its time', async () => {
    const contact = await aContact(imogen);
    const made = await plan({
      ...{ contactId: contact.id, startsAt: at('14:00', '2026-11-24'), place: 'Mill Lane 3' },
      ...{ travelMinutes: 20, travelAfterMinutes: 25, note: 'Ask at the gate.', channel: 'visit' },
    });
    expect(made).toMatchObject({
      ...{ title: 'Survey', contactName: contact.name, place: 'Mill Lane 3', channel: 'visit' },
      ...{ startsAt: at('14:00', '2026-11-24'), endsAt: at('15:00', '2026-11-24'), state: 'planned' },
      ...{ travelMinutes: 20, travelAfterMinutes: 25, note: 'Ask at the gate.' },
    });
    expect(await tasksOf(contact)).toMatchObject([
      { id: made.taskId, channel: 'visit', purpose: 'Survey', promisedAt: made.startsAt, minutes: 60 },
    ]);
    const tether = (await imogen.ok('getContact', { params: { id: contact.id } })).tether;
    expect(tether).toMatchObject({ nextStepOn: '2026-11-24', nextStepChannel: 'visit' });
    const round = await imogen.ok('round');
    const row = [...round.above, ...round.below].find(({ contactId }) => contactId === contact.id);
    expect(row).toMatchObject({ fixedAt: made.startsAt, minutes: 60 });
    const { entries } = await calendar();
    expect(entries.find(({ id }) => id === made.id)).toMatchObject({ kind: 'appointment', mayChange: true });
    // 14:00 to 15:00 with 20 and 25 minutes on the way: of 09:10 to 17:30 there is left
    const { gaps } = await imogen.ok('spine');
    expect(gaps.map(({ minutes }) => minutes)).toEqual([270, 125]);
  });

  test('a task to meet at a time has one, whoever planned it where; a call at a time is a promise', async () => {
    const contact = await aContact(imogen);
    const visit = await aTask(imogen, contact.id, {
      channel: 'visit',
      dueOn: '2026-11-26',
      promisedMinute: 600,
    });
    const call = await aTask(imogen, contact.id, { dueOn: '2026-11-26', promisedMinute: 700 });
    const mine = (await calendar()).entries.filter(({ contactId }) => contactId === contact.id);
    expect(mine.map(({ kind, taskId }) => [kind, taskId])).toEqual([
      ['appointment', visit.id],
      ['task', call.id],
    ]);
    // Put off to a day without a time it holds no place in the calendar; with a time it has it again.
    await imogen.ok('deferTask', {
      params: { id: visit.id },
      body: { version: visit.version, dueOn: '2026-11-27' },
    });
    expect((await read(visit.id)).state).toBe('called-off');
    const [, later] = await tasksOf(contact);
    await imogen.ok('changeTask', {
      params: { id: visit.id },
      body: { version: later!.version, promisedMinute: 660, purpose: 'measure' },
    });
    expect(await read(visit.id)).toMatchObject({
      state: 'planned',
      startsAt: at('11:00', '2026-11-27'),
      title: 'measure',
    });
  });

  test.each([
    ['visit-held', 'held'],
    ['visit-nobody', 'missed'],
    ['visit-called-off', 'called-off'],
  ])('the log %s says that it was %s', async (outcomeId, state) => {
    const contact = await aContact(imogen);
    const made = await plan({
      contactId: contact.id,
      channel: 'visit',
      startsAt: at('09:00', '2026-11-24'),
      minutes: 5,
    });
    await aLog(imogen, contact.id, { taskId: made.taskId, outcomeId });
    expect((await read(made.id)).state).toBe(state);
  });

  test('the walk says when and where, and who else comes', async () => {
    const contact = await aContact(imogen);
    const made = await plan({
      contactId: contact.id,
      place: 'Yard',
      note: 'Bring the meter.',
      guestIds: [maud.id],
    });
    const item = await imogen.ok('walkItem', { query: { taskId: made.taskId } });
    expect(item.appointment).toEqual({
      ...{ startsAt: made.startsAt, endsAt: made.endsAt, place: 'Yard', note: 'Bring the meter.' },
      guests: [{ id: maud.id, name: maud.name }],
    });
    expect(
      (await imogen.ok('walkItem', { query: { contactId: maud.id, planned: 'none' } })).appointment,
    ).toBeNull();
  });

  test('a move keeps what others changed, says so, and is put back by its undo, derived facts included', async () => {
    const contact = await aContact(imogen);
    const made = await plan({ contactId: contact.id });
    const { database } = installation.services;
    const before = await wholeState(database);
    const changeId = v7();
    await imogen.ok('changeAppointment', {
      params: { id: made.id },
      body: { version: made.version, startsAt: at('15:00'), minutes: 30, guestIds: [maud.id] },
      changeId,
    });
    expect(await read(made.id)).toMatchObject({ endsAt: at('15:30'), guests: [{ contactId: maud.id }] });
    expect((await tasksOf(contact))[0]).toMatchObject({
      promisedAt: at('15:00'),
      minutes: 30,
      timesMoved: 0,
    });
    await imogen.ok('undoChange', { params: { id: changeId }, body: {} });
    expect(await wholeState(database)).toEqual(before);
  });

  test('two people change it at once: other fields meet, the same one is asked about', async () => {
    const made = await plan();
    expect((await change(made, { place: 'Yard' }, manager)).status).toBe(200);
    expect((await change(made, { title: 'Second survey' })).status).toBe(200);
    expect(await read(made.id)).toMatchObject({ place: 'Yard', title: 'Second survey' });
    const late = await change(made, { place: 'Office' });
    expect([late.status, late.body]).toMatchObject([409, { code: 'stale', fields: [{ path: 'place' }] }]);
  });

  test('without its person it cannot be; time of one’s own may become one with a customer', async () => {
    const made = await plan();
    expect((await change(made, { contactId: null })).body).toMatchObject({ fields: [{ path: 'contactId' }] });
    const own = await plan({ contactId: null, title: 'Desk' });
    expect(own).toMatchObject({ taskId: null, channel: null });
    const contact = await aContact(imogen);
    expect((await change(own, { contactId: contact.id, channel: 'meeting' })).status).toBe(200);
    const [task] = await tasksOf(contact);
    expect(await read(own.id)).toMatchObject({ taskId: task!.id, channel: 'meeting', title: 'Desk' });
  });
});

describe('calling off', () => {
  test('with a new time it is one act: moved, told in the journal, counted as a move', async () => {
    const contact = await aContact(imogen);
    const made = await plan({ contactId: contact.id });
    const off = await callOff(made, {
      reason: 'he is ill',
      instead: { kind: 'moved', startsAt: at('11:00', '2026-12-01'), minutes: 45 },
    });
    expect(off.body).toMatchObject({ state: 'planned', endsAt: at('11:45', '2026-12-01') });
    expect((await tasksOf(contact))[0]).toMatchObject({ dueOn: '2026-12-01', timesMoved: 1 });
    expect((await journalOf(imogen, { contactId: contact.id }))[0]).toMatchObject({
      kind: 'system',
      body: 'Called off: Survey, Wed 25 Nov 10:00 (he is ill). New time: Tue 1 Dec 11:00',
    });
  });

  test('with a step that finds one, or for good with a reason; it leaves the calendar', async () => {
    const contact = await aContact(imogen);
    const made = await plan({ contactId: contact.id });
    expect((await callOff(made, { instead: { kind: 'none' } })).body).toMatchObject({
      code: 'reason-needed',
      fields: [{ path: 'reason' }],
    });
    const call = {
      kind: 'task',
      channel: 'call',
      purpose: 'find a new time',
      dueOn: '2026-11-26',
      minutes: 5,
    };
    expect((await callOff(made, { instead: call })).body).toMatchObject({ state: 'called-off' });
    expect(await tasksOf(contact)).toMatchObject([{ purpose: 'find a new time', dueOn: '2026-11-26' }]);
    expect((await calendar()).entries.some(({ id }) => id === made.id)).toBe(false);
    const again = await callOff({ ...made, version: made.version + 1 }, { instead: call });
    expect(again.body).toMatchObject({ code: 'already-done', current: { state: 'called-off' } });
  });

  test('a time that is over is refused at its field', async () => {
    const off = await callOff(await plan(), {
      instead: { kind: 'moved', startsAt: at('08:00', '2026-11-24'), minutes: 30 },
    });
    expect(off.body).toMatchObject({ code: 'in-the-past', fields: [{ path: 'instead.startsAt' }] });
  });
});

describe('whose it is', () => {
  test('a colleague sees that there is something, and nothing of it where records are their owners’ alone', async () => {
    await removeAll();
    const contact = await aContact(imogen);
    const made = await plan({ contactId: contact.id, place: 'Yard' });
    const seen = async (caller: Caller) =>
      (await calendar({ who: imogen.id }, caller)).entries.find(({ id }) => id === made.id);
    expect(await seen(owen)).toMatchObject({ kind: 'appointment', title: 'Survey', mayChange: false });
    await setReading('own');
    expect(await seen(owen)).toMatchObject({
      kind: 'busy',
      title: '',
      place: null,
      contactId: null,
      startsAt: made.startsAt,
    });
    expect((await owen.call('getAppointment', { params: { id: made.id } })).status).toBe(404);
    expect(await seen(manager)).toMatchObject({ kind: 'appointment', mayChange: true });
    // Whoever comes to it reads it, and has it in their own days.
    expect((await change(made, { colleagueIds: [owen.id] })).status).toBe(200);
    expect(await seen(owen)).toMatchObject({ title: 'Survey', mayChange: false });
    expect((await calendar({}, owen)).entries.map(({ id }) => id)).toEqual([made.id]);
  });

  test('a colleague who is asked to come is told once, with the day and time in their own zone', async () => {
    const made = await plan({ colleagueIds: [owen.id], contactId: null, title: 'Stand-up' });
    const told = async () =>
      (await owen.ok('listNotifications', {})).notifications
        .map(({ words }) => words)
        .filter((words) => words.includes('Stand-up'));
    expect(await told()).toEqual(['Imogen Thorne asks you to come: Stand-up, Wed 25 Nov 10:00']);
    await change(made, { startsAt: at('12:00') });
    expect((await told())[0]).toBe('Imogen Thorne moved Stand-up to Wed 25 Nov 12:00');
    expect(await told()).toHaveLength(2);
  });

  test('another’s is changed by whoever leads them, and by nobody else', async () => {
    const made = await plan();
    expect((await change(made, { title: 'x' }, owen)).body).toMatchObject({ code: 'not-yours' });
    expect((await change(made, { title: 'Survey, led' }, manager)).status).toBe(200);
    const refused = await owen.call('planAppointment', {
      body: { title: 'x', startsAt: at('10:00'), minutes: 30, ownerId: imogen.id },
    });
    expect(refused.body).toMatchObject({ code: 'not-yours' });
  });

  test('one with a customer may be given to any colleague, as every step may; time of one’s own may not', async () => {
    const contact = await aContact(imogen);
    const given = await change(await plan({ contactId: contact.id }), { ownerId: owen.id });
    expect(given.body).toMatchObject({ ownerName: 'Owen Marsh', state: 'planned' });
    expect((await tasksOf(contact))[0]).toMatchObject({ ownerName: 'Owen Marsh' });
    expect((await calendar({}, owen)).entries.some(({ contactId }) => contactId === contact.id)).toBe(true);
    const own = await change(await plan({ contactId: null }), { ownerId: owen.id });
    expect(own.body).toMatchObject({ code: 'not-yours' });
  });

  test('the team’s calendar has everybody’s, each in their own', async () => {
    await removeAll();
    await plan({ contactId: null, title: 'Mine' });
    await plan({ contactId: null, title: 'His', ownerId: owen.id }, manager);
    const { people, entries } = await calendar({ who: 'team' });
    expect(people.map(({ name }) => name)).toEqual(
      expect.arrayContaining(['Imogen Thorne', 'Owen Marsh', 'Corin Vale']),
    );
    expect(entries.map(({ title, personIds }) => [title, personIds])).toEqual(
      expect.arrayContaining([
        ['Mine', [imogen.id]],
        ['His', [owen.id]],
      ]),
    );
  });
});

describe('what is in the way', () => {
  const warn = async (part: object) =>
    (
      await imogen.ok('appointmentWarnings', {
        body: { startsAt: at('10:30'), minutes: 30, ...part },
      })
    ).warnings.map(({ kind, words }) => [kind, words]);
  beforeEach(removeAll);

  test('another appointment, its way, a promise; not the one that is moved', async () => {
    const made = await plan({ travelMinutes: 20 });
    expect(await warn({})).toEqual([['overlap', 'At 10:00–11:00 you have “Survey”.']]);
    expect(await warn({ exceptId: made.id })).toEqual([]);
    expect(await warn({ startsAt: at('09:15') })).toEqual([
      ['overlap', 'Too little time for the way: at 10:00–11:00 you have “Survey”.'],
    ]);
    expect(await warn({ startsAt: at('11:10'), travelMinutes: 15 })).toHaveLength(1);
    await aTask(imogen, maud.id, {
      purpose: 'ring',
      dueOn: '2026-11-25',
      promisedMinute: 13 * 60,
      minutes: 10,
    });
    expect(await warn({ startsAt: at('13:05') })).toEqual([['overlap', 'At 13:00–13:10 you have “ring”.']]);
  });

  test('hours, days off and the past, for us and for them, each in their own zone', async () => {
    const lisbon = await aContact(imogen, { country: 'PT', phone: null });
    const tokyo = await aContact(imogen, { country: 'JP', phone: null, zone: 'Asia/Tokyo' });
    expect(await warn({ startsAt: at('18:00') })).toEqual([
      ['hours', 'This is outside your hours, 09:00 to 17:30.'],
    ]);
    expect(await warn({ startsAt: at('10:00', '2026-11-28') })).toEqual([
      ['off', 'For you, Sat 28 Nov is a weekend.'],
    ]);
    expect(await warn({ startsAt: at('08:00', '2026-11-24') })).toEqual(
      expect.arrayContaining([['past', 'This lies in the past.']]),
    );
    // 1 December is Restauração da Independência, a public holiday in Portugal.
    expect(await warn({ startsAt: at('10:00', '2026-12-01'), contactIds: [lisbon.id] })).toEqual([
      [
        'their-off',
        expect.stringMatching(/^For Maud Ellery\d+, Tue 1 Dec is .+, a public holiday in Portugal\.$/),
      ],
    ]);
    expect(await warn({ startsAt: at('14:00'), contactIds: [tokyo.id] })).toEqual([
      ['their-hours', expect.stringMatching(/^It is 23:00 then for Maud Ellery/)],
    ]);
    expect(await warn({ startsAt: at('10:30'), colleagueIds: [owen.id] })).toEqual([]);
  });
});

test('times that suit everybody: within the hours of both sides, each in their own zone, free of what ours have', async () => {
  await removeAll();
  const find = async (part: object) =>
    (await imogen.ok('freeTimes', { body: { minutes: 60, from: '2026-11-25', ...part } })).times.map(
      ({ startsAt, elsewhere }) => [startsAt.slice(5, 16), ...elsewhere],
    );
  await plan({ contactId: null, startsAt: at('09:00'), minutes: 90 });
  await plan({ contactId: null, startsAt: at('11:00'), minutes: 120, ownerId: owen.id }, manager);
  expect((await find({})).slice(0, 2)).toEqual([['11-25T10:30'], ['11-26T09:00']]);
  // Owen is taken from eleven to one, and an hour is needed.
  expect((await find({ colleagueIds: [owen.id] }))[0]).toEqual(['11-25T13:00']);
  // Lisbon shares the clock and has 1 December off; New York begins at 14:00 of ours.
  const york = await aContact(imogen, { country: 'US', phone: null, zone: 'America/New_York' });
  const [first] = await find({ contactIds: [york.id] });
  expect(first).toEqual(['11-25T14:00', `09:00 for ${york.name}`]);
  // Thursday the 26th is Thanksgiving: nobody is met there.
  expect((await find({ contactIds: [york.id] })).some(([when]) => when!.startsWith('11-26'))).toBe(false);
  const tokyo = await aContact(imogen, { country: 'JP', phone: null, zone: 'Asia/Tokyo' });
  expect(await find({ contactIds: [tokyo.id] })).toEqual([]);
});

test('a day says why nobody works on it, and how many tasks without a time it has', async () => {
  const { days } = await calendar({ from: '2026-12-21', days: 7 });
  expect(days.map(({ on, isOff, holiday }) => [on.slice(8), isOff, holiday])).toEqual([
    ...['21', '22', '23', '24'].map((day) => [day, false, null]),
    ['25', true, 'Christmas Day'],
    ['26', true, 'Boxing Day'],
    ['27', true, null],
  ]);
  const before = (await calendar()).days.find(({ on }) => on === '2026-11-26')!.tasks;
  await aTask(imogen, maud.id, { dueOn: '2026-11-26' });
  expect((await calendar()).days.find(({ on }) => on === '2026-11-26')).toMatchObject({ tasks: before + 1 });
});

test('one is reminded before time of one’s own, and not of what was called off', async () => {
  await removeAll();
  const kept = await plan({ contactId: null, title: 'Dentist', remindMinutes: 30 });
  const gone = await plan({ contactId: null, title: 'Nothing', remindMinutes: 30 });
  await callOff(gone, { instead: { kind: 'none' } });
  installation.clock.set(at('09:31'));
  await installation.work();
  const words = (await imogen.ok('listNotifications', {})).notifications.map((each) => each.words);
  expect(words).toContain('At 10:00: Dentist');
  expect(words.some((each) => each.includes('Nothing'))).toBe(false);
  expect(kept.remindMinutes).toBe(30);
});

test('an undo of any acts on an appointment, in reverse order, leaves nothing of them', async () => {
  const contact = await aContact(imogen);
  await aDeal(imogen, contact.id);
  const { database } = installation.services;
  const act = fc.oneof(
    fc.record({ kind: fc.constant('move' as const), hour: fc.integer({ min: 9, max: 16 }) }),
    fc.record({ kind: fc.constant('place' as const), text: fc.constantFrom('Yard', 'Office', '') }),
    fc.record({ kind: fc.constant('guest' as const) }),
    fc.record({ kind: fc.constant('off' as const) }),
    fc.record({ kind: fc.constant('done' as const) }),
  );
  await fc.assert(
    fc.asyncProperty(fc.array(act, { minLength: 1, maxLength: 4 }), async (acts) => {
      const before = await wholeState(database);
      const changes: string[] = [v7()];
      const made = await imogen.ok('planAppointment', {
        body: { title: 'Survey', startsAt: at('10:00'), minutes: 60, contactId: contact.id },
        changeId: changes[0]!,
      });
      for (const each of acts) {
        const now = await read(made.id);
        if (now.state !== 'planned') break;
        const changeId = v7();
        changes.push(changeId);
        const target = { params: { id: made.id }, changeId };
        const { version } = now;
        if (each.kind === 'off')
          await imogen.ok('callOffAppointment', {
            ...target,
            body: { version, reason: 'ill', instead: { kind: 'none' } },
          });
        else if (each.kind === 'done')
          await imogen.ok('finishTask', { params: { id: now.taskId! }, changeId });
        else
          await imogen.ok('changeAppointment', {
            ...target,
            body: {
              version,
              ...(each.kind === 'move' && { startsAt: at(String(each.hour).padStart(2, '0') + ':00') }),
              ...(each.kind === 'place' && { place: each.text }),
              ...(each.kind === 'guest' && { guestIds: [maud.id] }),
            },
          });
      }
      for (const id of changes.reverse()) await imogen.ok('undoChange', { params: { id }, body: {} });
      expect(await wholeState(database)).toEqual(before);
    }),
    { numRuns: 12 },
  );
});
