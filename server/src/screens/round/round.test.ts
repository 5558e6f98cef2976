import type { Contact, Round, RoundRow, Task } from '@kettle/contract';
import { v7 } from 'uuid';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, aLog, aTask } from '../../../testing/people';
import { askForDailyWork } from '../../features';

let installation: Installation;
let rep: Caller;
beforeEach(async () => {
  installation = await install();
  rep = await installation.as('rep', 'Imogen Thorne');
});
afterEach(() => installation.close());

const read = (query: object = {}) => rep.ok('round', { query });
const rows = (round: Round) => [...round.above, ...round.below];
const about = (round: Round, contact: { id: string }) =>
  rows(round).filter((row) => row.contactId === contact.id);
const plan = (contact: Contact, part: object = {}) => aTask(rep, contact.id, part);
const later = (at: string) => installation.clock.set(at);

describe('what is in the Round', () => {
  test('nothing, for somebody who has nothing', async () => {
    expect(await read()).toMatchObject({
      above: [],
      below: [],
      counts: { all: 0 },
      hidden: 0,
      header: { left: 0, freeMinutes: 485, reserveMinutes: 15 },
    });
  });

  test('its first rows, and how many are behind them', async () => {
    for (let n = 0; n < 4; n += 1) await plan(await aContact(rep));
    const [first, whole] = [await read({ limit: 3 }), await read()];
    expect([rows(first).length, first.more, first.hidden, first.counts.all]).toEqual([3, 1, 0, 4]);
    expect(rows(first)).toEqual(rows(whole).slice(0, 3));
    expect(whole.more).toBe(0);
  });

  test('a task due, a late one, and not one of tomorrow', async () => {
    const [now, late, tomorrow] = [await aContact(rep), await aContact(rep), await aContact(rep)];
    await plan(now);
    await plan(late);
    await plan(tomorrow, { dueOn: '2026-11-26' });
    later('2026-11-25T09:10:00.000Z');
    const round = await read();
    expect(round.counts).toMatchObject({ all: 2, late: 2 });
    expect(round.tomorrow).toBe(1);
    expect(about(round, late)[0]).toMatchObject({
      kind: 'task',
      due: 'late',
      reasons: [{ words: 'due yesterday', pressing: true }],
    });
  });

  test('a quiet contact once its check-in is past, and not while a step is planned', async () => {
    const [quiet, planned] = [await aContact(rep), await aContact(rep)];
    await plan(planned, { dueOn: '2026-12-10' });
    later('2026-12-04T09:10:00.000Z');
    const round = await read();
    expect(about(round, quiet)[0]).toMatchObject({
      kind: 'quiet',
      channel: 'call',
      reasons: [{ words: 'quiet for 10 days, check-in every 7' }],
    });
    expect(about(round, planned)).toEqual([]);
  });

  test('somebody who must not be called is asked for by mail', async () => {
    const quiet = await aContact(rep, { doNotContact: ['call'] });
    later('2026-12-04T09:10:00.000Z');
    expect(about(await read(), quiet)[0]).toMatchObject({ channel: 'email' });
  });

  test('a loose deal, and a stalled one with both reasons on one row', async () => {
    const contact = await aContact(rep);
    const deal = await aDeal(rep, contact.id, { next: { kind: 'none', reason: 'they call' } });
    expect(about(await read(), contact)[0]).toMatchObject({
      kind: 'loose',
      dealId: deal.id,
      reasons: [{ words: 'deal £9,800 has no next step' }],
    });
    later('2026-12-05T09:10:00.000Z');
    const [row, ...more] = about(await read(), contact);
    expect(more).toEqual([]);
    expect(row!.reasons.map((reason) => reason.words)).toEqual(
      expect.arrayContaining([
        'deal £9,800 has no next step',
        'deal £9,800 stalled 1 day past its patience in Inquiry',
      ]),
    );
  });

  test('an agreement from its lead day to its notice deadline, with the deadline in words', async () => {
    const contact = await aContact(rep);
    const agreement = await rep.ok('createAgreement', {
      body: {
        name: 'Yearly service',
        contactId: contact.id,
        startsOn: '2025-12-31',
        termMonths: 12,
        valueMinor: 318_000,
        noticeDays: 32,
        leadDays: 10,
        renewsItself: true,
      },
    });
    expect(agreement).toMatchObject({
      endsOn: '2026-12-31',
      noticeDeadlineOn: '2026-11-27',
      leadOn: '2026-11-17',
    });
    expect(about(await read(), contact)[0]).toMatchObject({
      kind: 'renewal',
      agreementId: agreement.id,
      reasons: [{ words: 'notice closes in 3 days · agreement £3,180 a year', pressing: true }],
    });
    later('2026-11-30T09:10:00.000Z');
    expect(about(await read(), contact)).toEqual([]);
  });

  test('an act planned and a reason without one are a single row that keeps both', async () => {
    const contact = await aContact(rep);
    await aDeal(rep, contact.id, {
      next: { kind: 'task', channel: 'email', dueOn: '2026-11-24', purpose: 'send it', minutes: 5 },
    });
    await aDeal(rep, contact.id, { name: 'Another', next: { kind: 'none', reason: 'x' } });
    const [row, ...more] = about(await read(), contact);
    expect(more).toEqual([]);
    expect(row!.reasons).toHaveLength(2);
    expect(row!.taskId).not.toBeNull();
  });
});

describe('its order and its line', () => {
  test('every row has its arithmetic, and they are ordered by cost of waiting for each minute', async () => {
    for (const amountMinor of [100_000, 4_000_000, 900_000]) {
      const contact = await aContact(rep);
      await aDeal(rep, contact.id, {
        amountMinor,
        next: { kind: 'task', channel: 'call', dueOn: '2026-11-24', purpose: 'ask', minutes: 6 },
      });
    }
    const { above } = await read();
    const perMinute = above.map((row) => row.arithmetic.costMinor / row.minutes);
    expect(perMinute).toEqual([...perMinute].sort((a, b) => b - a));
    expect(above[0]!.arithmetic).toMatchObject({
      stakeMinor: 400_000,
      chanceToday: 0.6,
      laterOn: '2026-11-25',
      minutes: 6,
    });
    expect(above[0]!.arithmetic.sentence).toMatch(
      /^Done today £2,400; left, it gets tomorrow and brings £2,089: waiting costs £311 for 6 min\.$/,
    );
  });

  test('a promise stands at its time; what does not fit the day is below the line with a day of its own', async () => {
    const [promised, long, short] = [await aContact(rep), await aContact(rep), await aContact(rep)];
    await plan(promised, { promisedMinute: 17 * 60, minutes: 10 });
    await plan(long, { minutes: 470 });
    await plan(short, { minutes: 30 });
    const round = await read();
    expect(about(round, promised)[0]).toMatchObject({
      fixedAt: '2026-11-24T17:00:00.000Z',
      reasons: [{ words: 'promised for 17:00', pressing: true }],
    });
    expect(round.above.map((row) => row.contactId)).toEqual([short.id, promised.id]);
    expect(round.below).toMatchObject([{ contactId: long.id, moveTo: '2026-11-26' }]);
  });

  test('the prices of a day are set once: what comes later is ranked at them', async () => {
    await plan(await aContact(rep), { minutes: 480 });
    await plan(await aContact(rep), { minutes: 480 });
    const { priceOfMinuteMinor } = (await read()).header;
    expect(priceOfMinuteMinor).toBeGreaterThan(0);
    for (let n = 0; n < 4; n += 1) await plan(await aContact(rep), { minutes: 480 });
    const later = await read();
    expect(later.header.priceOfMinuteMinor).toBe(priceOfMinuteMinor);
    expect(later.above.length + later.below.length).toBe(6);
  });

  test('a filter says what it hides', async () => {
    await plan(await aContact(rep));
    await plan(await aContact(rep), { channel: 'email' });
    expect(await read({ channel: 'email' })).toMatchObject({
      hidden: 1,
      counts: { all: 2, channels: { call: 1, email: 1 } },
    });
    expect(await read({ due: 'late' })).toMatchObject({ hidden: 2, above: [] });
  });

  test('a pinned row is first today, and no longer pinned tomorrow', async () => {
    const [dear, cheap] = [await aContact(rep), await aContact(rep)];
    await aDeal(rep, dear.id, {
      next: { kind: 'task', channel: 'call', dueOn: '2026-11-24', purpose: 'ask', minutes: 6 },
    });
    const task = await plan(cheap);
    await rep.ok('placeRow', { body: { key: `task:${task.id}`, place: 'top' } });
    expect((await read()).above[0]).toMatchObject({ contactId: cheap.id, pinned: true });
    later('2026-11-25T09:10:00.000Z');
    expect((await read()).above[0]).toMatchObject({ contactId: dear.id, pinned: false });
  });

  test('rows move to their days in one go; what was changed meanwhile stays and is told', async () => {
    const [one, two] = [await aContact(rep), await aContact(rep)];
    const [first, second] = [await plan(one), await plan(two)];
    await rep.ok('deferTask', { params: { id: second.id }, body: { version: 1, dueOn: '2026-11-30' } });
    const row = (task: Task, contact: Contact) => ({
      taskId: task.id,
      taskVersion: 1,
      contactId: contact.id,
      dealId: null,
      channel: 'call',
      purpose: task.purpose,
      minutes: 6,
      to: '2026-11-26',
    });
    const loose = {
      ...row(first, one),
      taskId: null,
      taskVersion: null,
      contactId: (await aContact(rep)).id,
    };
    const moved = await rep.ok('moveRows', {
      body: { rows: [row(first, one), row(second, two), loose, { ...loose, to: '2026-11-24' }] },
    });
    expect(moved).toEqual({
      moved: 2,
      refused: [
        { purpose: 'ask', why: 'it was changed or done meanwhile' },
        { purpose: 'ask', why: 'the day has passed' },
      ],
    });
    expect(await rep.ok('listTasks', { query: { contactId: one.id } })).toMatchObject({
      tasks: [{ dueOn: '2026-11-26', timesMoved: 1 }],
    });
  });

  test('an item moved three times is asked about', async () => {
    const contact = await aContact(rep);
    let task = await plan(contact);
    for (const dueOn of ['2026-11-25', '2026-11-26', '2026-11-27'])
      task = await rep.ok('deferTask', {
        params: { id: task.id },
        body: { version: task.version, dueOn },
      });
    later('2026-11-27T09:10:00.000Z');
    expect(about(await read(), contact)[0]).toMatchObject({ askToKeep: true });
  });

  test('the day’s end teaches the price of a minute, once a day', async () => {
    await plan(await aContact(rep), { minutes: 480 });
    await plan(await aContact(rep), { minutes: 480 });
    later('2026-11-24T17:40:00.000Z');
    await askForDailyWork(installation.services);
    await askForDailyWork(installation.services);
    await installation.work();
    expect(await installation.services.database.rows('SELECT COUNT(*) AS n FROM round_day')).toEqual([
      { n: 1 },
    ]);
    later('2026-11-25T09:10:00.000Z');
    expect((await read()).header.priceOfMinuteMinor).toBeGreaterThan(0);
  });
});

describe('its header', () => {
  test('counts what was done today and the meetings held', async () => {
    const contact = await aContact(rep);
    const task = await plan(contact);
    const next = { kind: 'none', reason: 'x' };
    await rep.ok('log', {
      body: { id: v7(), contactId: contact.id, taskId: task.id, outcomeId: 'call-spoke', next },
    });
    await rep.ok('log', {
      body: {
        id: v7(),
        contactId: contact.id,
        outcomeId: 'visit-held',
        next,
        at: '2026-11-23T10:00:00.000Z',
      },
    });
    await rep.ok('log', {
      body: {
        id: v7(),
        contactId: contact.id,
        outcomeId: 'meeting-held',
        next,
        at: '2026-10-05T10:00:00.000Z',
      },
    });
    await rep.ok('log', { body: { id: v7(), contactId: contact.id, outcomeId: 'meeting-missed', next } });
    expect((await read()).header).toMatchObject({
      done: 2,
      doneMinutes: 6,
      meetingsHeld: { week: 1, month: 1, quarter: 2 },
      quota: null,
    });
  });

  test('what it counts is what its press lists: logs, and tasks finished without one, each once', async () => {
    const [maud, other] = [await aContact(rep), await aContact(rep)];
    const deal = await aDeal(rep, maud.id);
    const logged = await plan(maud, { purpose: 'ask about salt' });
    await aLog(rep, maud.id, { taskId: logged.id, outcomeId: 'call-spoke', dealId: deal.id, minutes: 9 });
    const silent = await plan(other, { purpose: 'send the folder', minutes: 4 });
    await rep.ok('finishTask', { params: { id: silent.id } });
    await aLog(rep, other.id, { outcomeId: 'visit-held', at: '2026-11-23T10:00:00.000Z' });
    const { entryId: removed } = await aLog(rep, other.id);
    await rep.ok('removeEntry', { params: { id: removed }, body: { version: 1 } });
    const colleague = await installation.as('rep');
    await aLog(colleague, (await aContact(colleague)).id);

    const today = await rep.ok('whatIsDone');
    expect(today).toMatchObject({
      from: '2026-11-24',
      to: '2026-11-24',
      total: 2,
      minutes: 13,
      conversations: 1,
    });
    expect(
      today.rows.map(({ outcome, purpose, contactName, dealId }) => [outcome, purpose, contactName, dealId]),
    ).toEqual(
      expect.arrayContaining([
        ['Spoke', 'ask about salt', maud.name, deal.id],
        [null, 'send the folder', other.name, null],
      ]),
    );
    const { header } = await read();
    expect([header.done, header.doneMinutes]).toEqual([today.total, today.minutes]);
    const week = await rep.ok('whatIsDone', { query: { from: '2026-11-23', met: 'true' } });
    expect([week.total, header.meetingsHeld.week]).toEqual([1, 1]);
    expect(week.rows[0]).toMatchObject({ channel: 'visit', outcome: 'Held' });
    expect((await rep.call('whatIsDone', { query: { from: '2026-11-25', to: '2026-11-24' } })).status).toBe(
      400,
    );
    expect((await colleague.call('whatIsDone', { query: { owner: rep.id } })).status).toBe(403);
  });

  test('shows the month against the quota', async () => {
    const quota = { userId: rep.id, month: '2026-11-01', minor: 2_000_000, holds: 'on' };
    await (await installation.as('manager')).ok('setQuota', { body: quota });
    const deal = await aDeal(rep, (await aContact(rep)).id);
    await rep.ok('closeDeal', {
      params: { id: deal.id },
      body: { as: 'won', version: deal.version, on: '2026-11-24' },
    });
    expect((await read()).header.quota).toEqual({ soldMinor: 980_000, targetMinor: 2_000_000 });
  });
});

describe('the day spine', () => {
  test('shows hours, meetings with their drive, promises and gaps, and the Round counts with them', async () => {
    await plan(await aContact(rep), { promisedMinute: 600, minutes: 10 });
    await rep.ok('planAppointment', {
      body: {
        title: 'Site survey',
        place: 'Dunmere',
        startsAt: '2026-11-24T11:00:00.000Z',
        minutes: 60,
        travelMinutes: 20,
      },
    });
    const spine = await rep.ok('spine');
    expect(spine).toMatchObject({
      on: '2026-11-24',
      dayStart: '2026-11-24T09:00:00.000Z',
      blocks: [{ title: 'Site survey' }],
      promises: [{ at: '2026-11-24T10:00:00.000Z', minutes: 10 }],
    });
    expect(spine.gaps.map((gap) => gap.minutes)).toEqual([90, 330]);
    expect((await read()).header.freeMinutes).toBe(405);
    await rep.ok('callOffAppointment', {
      params: { id: spine.blocks[0]!.id },
      body: { version: 1, instead: { kind: 'none' } },
    });
    expect((await read()).header.freeMinutes).toBe(485);
  });
});

test('of an appointment that is over only its log is left of the day', async () => {
  const maud = await aContact(rep);
  await rep.ok('planAppointment', {
    body: { title: 'Survey', startsAt: '2026-11-24T10:00:00.000Z', minutes: 75, contactId: maud.id },
  });
  const minutes = async () => about(await read(), maud)[0]!.minutes;
  expect(await minutes()).toBe(75);
  later('2026-11-24T11:00:00.000Z');
  expect(await minutes()).toBe(75);
  later('2026-11-24T11:20:00.000Z');
  expect(await minutes()).toBe(5);
});

test('rows of the Round name who they are about', async () => {
  const contact = await aContact(rep, { country: 'NL', phone: null });
  await plan(contact);
  const [row] = about(await read(), contact) as [RoundRow];
  expect(row).toMatchObject({
    contactName: contact.name,
    companyName: contact.companyName,
    zone: 'Europe/Amsterdam',
    purpose: 'ask',
    tether: { nextStepOn: '2026-11-24' },
  });
});

test('the walk shows what was said last, not what the system noted', async () => {
  const contact = await aContact(rep);
  await aDeal(rep, contact.id);
  await aLog(rep, contact.id, { outcomeId: 'call-spoke', body: 'wants a price' });
  const item = await rep.ok('walkItem', { query: { contactId: contact.id } });
  expect(item.recent.map(({ kind, body }) => [kind, body])).toEqual([['call', 'wants a price']]);
  expect(item.deal?.name).toBe('Second softener');
});

test('a log outside the Round is taken for what was planned and is due, unless it is said to be none of it', async () => {
  const contact = await aContact(rep);
  const due = await plan(contact, { purpose: 'ask about salt' });
  const later = await plan(contact, { channel: 'visit', purpose: 'look at it', dueOn: '2026-12-01' });
  const item = (query: object) => rep.ok('walkItem', { query: { contactId: contact.id, ...query } });
  const likely = await item({ channel: 'call', planned: 'likely' });
  expect(likely.task?.id).toBe(due.id);
  expect(likely.planned.map(({ id, purpose }) => [id, purpose])).toEqual([
    [due.id, 'ask about salt'],
    [later.id, 'look at it'],
  ]);
  expect((await item({ channel: 'visit', planned: 'likely' })).task).toBeNull();
  expect((await item({ channel: 'call', planned: 'none' })).task).toBeNull();
  expect((await item({ channel: 'call' })).task).toBeNull();
  // A colleague's steps are theirs to log.
  const admin = await installation.as('admin');
  const theirs = await admin.ok('walkItem', { query: { contactId: contact.id, planned: 'likely' } });
  expect([theirs.task, theirs.planned]).toEqual([null, []]);
});
