import { randomUUID } from 'node:crypto';
import type { Deal } from '@kettle/contract';
import { work } from '../../platform/work/work';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, journalOf, shapeStages, standingNamed } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
let admin: Caller;
const brief = {
  prompts: [],
  tasks: [{ id: randomUUID(), channel: 'visit', purpose: 'survey on site', afterDays: 2, minutes: 60 }],
};
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep');
  admin = await installation.as('admin');
  await shapeStages(admin, { Inquiry: { brief } });
});
beforeEach(() => installation.clock.set('2026-11-24T09:10:00.000Z'));
afterAll(() => installation.close());

const agreement = {
  name: 'Yearly service',
  startsOn: '2026-12-01',
  termMonths: 12,
  valueMinor: 48_000,
  noticeDays: 60,
  leadDays: 45,
  renewsItself: true,
};
const ways = {
  won: { as: 'won', on: '2026-11-24', amountMinor: 1_000_000, reason: 'service' },
  lost: { as: 'lost', on: '2026-11-24', reason: 'price', lostTo: 'Kolk Filters', words: 'ten per cent less' },
  parked: { as: 'parked', wakeOn: '2027-03-01', reason: 'next budget year' },
} as const;

const close = (deal: Deal, body: object, by = rep) =>
  by.ok('closeDeal', { params: { id: deal.id }, body: { version: deal.version, ...body } });
const takeBack = (deal: Deal, by = rep) => by.call('undoClose', { params: { id: deal.id } });
const read = (deal: Deal) => rep.ok('getDeal', { params: { id: deal.id } });
const tasksOf = async (deal: Deal) =>
  (await rep.ok('listTasks', { query: { dealId: deal.id } })).tasks
    .map(({ purpose, dueOn }) => `${purpose} ${dueOn}`)
    .sort();
const runsOf = async (contactId: string) => (await rep.ok('listRuns', { query: { contactId } })).runs;
/** What anybody would compare: all of a deal but how often it was written. */
const plain = ({ version: _, ...deal }: Deal) => deal;

test.each(Object.entries(ways))('%s and undone, a deal and its tasks are as they were', async (_, way) => {
  const contact = await aContact(rep);
  const deal = await aDeal(rep, contact.id);
  const tasks = await tasksOf(deal);
  expect(tasks).toEqual(['ask 2026-11-26', 'survey on site 2026-11-26']);
  const closed = await close(deal, way);
  expect(await tasksOf(deal)).toEqual([]);
  const { status, body } = await takeBack(closed);
  expect(status).toBe(200);
  expect(plain(body as Deal)).toEqual(plain(deal));
  expect(await tasksOf(deal)).toEqual(tasks);
  const words = (await journalOf(rep, { dealId: deal.id })).map((entry) => entry.body);
  expect(words.some((text) => text.startsWith(`Undone: Deal “${deal.name}” ${closed.status}`))).toBe(true);
});

test('the agreement goes, the standing and the check-in are those of before', async () => {
  const contact = await aContact(rep);
  const before = await rep.ok('getContact', { params: { id: contact.id } });
  const deal = await aDeal(rep, contact.id);
  const standing = await standingNamed(rep, 'Customer');
  const won = await close(deal, { ...ways.won, standingId: standing.id, agreement });
  expect(won.agreementId).not.toBeNull();
  const opened = (await takeBack(won)).body as Deal;
  expect(opened).toMatchObject({ status: 'open', agreementId: null, amountMinor: deal.amountMinor });
  const after = await rep.ok('getContact', { params: { id: contact.id } });
  expect([after.standingId, after.checkInDueOn]).toEqual([before.standingId, before.checkInDueOn]);
});

test('an agreement made before the closing stays', async () => {
  const contact = await aContact(rep);
  const deal = await aDeal(rep, contact.id);
  const made = await rep.ok('createAgreement', {
    body: { ...agreement, contactId: contact.id, dealId: deal.id },
  });
  installation.clock.set('2026-11-24T10:00:00.000Z');
  const opened = (await takeBack(await close(deal, ways.won))).body as Deal;
  expect(opened.agreementId).toBe(made.id);
});

test('a cadence that was ended goes on where it was', async () => {
  const contact = await aContact(rep);
  const deal = await aDeal(rep, contact.id);
  await startOn(contact);
  const [before] = await runsOf(contact.id);
  const closed = await close(deal, ways.lost);
  expect((await runsOf(contact.id))[0]!.status).not.toBe('running');
  await takeBack(closed);
  const [after] = await runsOf(contact.id);
  expect(after).toMatchObject({
    status: 'running',
    step: before!.step,
    nextOn: before!.nextOn,
    exitReason: null,
  });
});

test('what the brief made is still withdrawn when the deal moves on', async () => {
  const deal = await aDeal(rep, (await aContact(rep)).id);
  const opened = (await takeBack(await close(deal, ways.parked))).body as Deal;
  const stages = (await rep.ok('listPipelines')).pipelines[0]!.stages;
  await rep.ok('moveDeal', {
    params: { id: deal.id },
    body: { version: opened.version, stageId: stages[1]!.id, expectedCloseOn: opened.expectedCloseOn },
  });
  expect(await tasksOf(deal)).toEqual(['ask 2026-11-26']);
});

test('the stay in its stage goes on: the time it was closed is not cut out', async () => {
  const deal = await aDeal(rep, (await aContact(rep)).id);
  await takeBack(await close(deal, ways.won));
  const stays = await installation.services.database.rows<{ left_at: string | null }>(
    'SELECT left_at FROM stage_stay WHERE deal_id = UNHEX(:id) ORDER BY number',
    { id: deal.id.replaceAll('-', '') },
  );
  expect(stays).toEqual([{ left_at: null }]);
});

describe('is refused', () => {
  test('to another rep; a manager may', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    const closed = await close(deal, ways.lost);
    const other = await installation.as('rep');
    expect((await takeBack(closed, other)).body.code).toBe('not-yours');
    expect((await read(deal)).status).toBe('lost');
    expect((await takeBack(closed, await installation.as('manager'))).status).toBe(200);
    expect((await read(deal)).status).toBe('open');
  });

  test('of a deal that is open, also one that was opened again', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    expect((await takeBack(deal)).body.code).toBe('cannot-undo');
    const closed = await close(deal, ways.lost);
    const next = { kind: 'none', reason: 'they call' };
    const opened = await rep.ok('reopenDeal', {
      params: { id: deal.id },
      body: { version: closed.version, next },
    });
    expect((await takeBack(opened)).body.code).toBe('cannot-undo');
  });

  test('by the undo of a log: a closing is more than its entry', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    await close(deal, ways.lost);
    const entry = (await journalOf(rep, { dealId: deal.id })).find(({ body }) => body.includes(' lost'))!;
    expect((await rep.call('undoLog', { params: { id: entry.id } })).body.code).toBe('not-found');
    expect((await read(deal)).status).toBe('lost');
  });

  test('once its agreement was changed', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    const won = await close(deal, { ...ways.won, agreement });
    await work(installation.services, null, (w) =>
      w.change('UPDATE agreement SET notice_days = 60, version = 2 WHERE id = UNHEX(:id)', {
        id: won.agreementId!.replaceAll('-', ''),
      }),
    );
    expect((await takeBack(won)).body.code).toBe('cannot-undo');
    expect(await read(deal)).toMatchObject({ status: 'won', agreementId: won.agreementId });
  });

  test('once a task it dropped was taken up again; a task it never touched does not matter', async () => {
    const contact = await aContact(rep);
    const deal = await aDeal(rep, contact.id);
    const other = await rep.ok('createTask', {
      body: { contactId: contact.id, channel: 'call', purpose: 'greet', dueOn: '2026-11-30', minutes: 5 },
    });
    const dropped = (await rep.ok('listTasks', { query: { dealId: deal.id } })).tasks[0]!;
    const closed = await close(deal, ways.lost);
    await rep.ok('deferTask', {
      params: { id: other.id },
      body: { version: other.version, dueOn: '2026-12-07' },
    });
    await rep.ok('reopenTask', { params: { id: dropped.id } });
    expect((await takeBack(closed)).body).toMatchObject({
      code: 'cannot-undo',
      detail: expect.stringContaining('the task was changed by') as string,
    });
  });
});

/** Starts them on the first cadence, for a deal or for none. @returns its name */
async function startOn({ id }: { id: string }, dealId: string | null = null): Promise<string> {
  const [cadence] = (await rep.ok('listCadences')).cadences;
  const body = { requestId: randomUUID(), versionId: cadence!.versionId, contactIds: [id], dealId };
  await rep.ok('startRuns', { params: { id: cadence!.id }, body });
  return cadence!.name;
}

describe('planned steps', () => {
  const stepsOf = (deal: Deal) => rep.ok('closingSteps', { params: { id: deal.id } });
  const reopen = (closed: Deal, bringBack: boolean) =>
    rep.ok('reopenDeal', {
      params: { id: closed.id },
      body: {
        version: closed.version,
        bringBack,
        next: { kind: 'task', channel: 'call', dueOn: '2026-11-27', purpose: 'take it up', minutes: 5 },
      },
    });

  test('that closing would drop are told before, with the cadence; those it dropped after', async () => {
    const contact = await aContact(rep);
    const deal = await aDeal(rep, contact.id);
    const cadence = await startOn(contact);
    const before = await stepsOf(deal);
    expect(before.steps.map(({ purpose }) => purpose).sort()).toEqual(['ask', 'survey on site']);
    expect(before.runs.map(({ cadenceName }) => cadenceName)).toEqual([cadence]);
    const closed = await close(await read(deal), ways.lost);
    const after = await stepsOf(closed);
    // The brief's visit is made anew by entering the stage.
    expect([after.steps.map(({ purpose }) => purpose), after.runs]).toEqual([['ask'], []]);
  });

  test.each(Object.entries(ways))(
    'that are kept when it is %s stay, the brief’s and a run’s too',
    async (_, way) => {
      const contact = await aContact(rep);
      const deal = await aDeal(rep, contact.id);
      await startOn(contact, deal.id);
      const { steps, runs } = await stepsOf(deal);
      const survey = steps.find(({ purpose }) => purpose === 'survey on site')!;
      const closed = await close(await read(deal), { ...way, keep: [survey.id, runs[0]!.id] });
      const left = await tasksOf(deal);
      expect(left).toHaveLength(2);
      expect(left).toContain('survey on site 2026-11-26');
      expect(left.some((task) => task.startsWith('ask '))).toBe(false);
      expect((await runsOf(contact.id)).map(({ status }) => status)).toEqual(['running']);
      expect((await takeBack(closed)).status).toBe(200);
      expect(await tasksOf(deal)).toHaveLength(3);
    },
  );

  test('a step that was kept is in the Round without the value of a deal that is over', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    const { steps } = await stepsOf(deal);
    await close(deal, { ...ways.won, keep: steps.map(({ id }) => id) });
    installation.clock.set('2026-11-26T09:10:00.000Z');
    const { above, below } = await rep.ok('round');
    const kept = [...above, ...below].filter(({ dealId }) => dealId === deal.id);
    expect(kept.length).toBeGreaterThan(0);
    // A tenth of what it was won with would be at stake if it were open.
    for (const { arithmetic } of kept) expect(arithmetic.stakeMinor).toBeLessThan(100_000);
  });

  test('come back with the deal when that is asked for, each once, on the days they had', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    await reopen(await close(deal, ways.parked), true);
    expect(await tasksOf(deal)).toEqual([
      'ask 2026-11-26',
      'survey on site 2026-11-26',
      'take it up 2026-11-27',
    ]);
    expect(
      (await journalOf(rep, { dealId: deal.id })).some(({ body }) => body.endsWith('1 planned step is back')),
    ).toBe(true);
  });

  test('stay dropped when it is not, and what an earlier closing dropped stays so', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    await reopen(await close(deal, ways.lost), false);
    expect(await tasksOf(deal)).toEqual(['survey on site 2026-11-26', 'take it up 2026-11-27']);
    installation.clock.set('2026-11-24T10:00:00.000Z');
    const again = await close(await read(deal), ways.lost);
    expect((await stepsOf(again)).steps.map(({ purpose }) => purpose)).toEqual(['take it up']);
  });
});
