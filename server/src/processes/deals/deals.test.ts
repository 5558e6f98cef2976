import type { Deal } from '@kettle/contract';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, journalOf, stagesOf } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep');
});
beforeEach(() => installation.clock.set('2026-11-24T09:10:00.000Z'));
afterAll(() => installation.close());

const bodyOf = (deal: Deal, part: object = {}) => ({
  version: deal.version,
  name: deal.name,
  stageId: deal.stageId,
  amountMinor: deal.amountMinor,
  expectedCloseOn: deal.expectedCloseOn,
  winProbability: null,
  ...part,
});
const change = (deal: Deal, part: object) =>
  rep.call('changeDeal', { params: { id: deal.id }, body: bodyOf(deal, part) });

describe('a deal', () => {
  test('is made with its next step, weighted by its stage', async () => {
    const contact = await aContact(rep);
    expect(await aDeal(rep, contact.id)).toMatchObject({
      status: 'open',
      companyName: contact.companyName,
      amountMinor: 980_000,
      winProbability: 0.1,
      weightedMinor: 98_000,
      tetherState: 'held',
      tether: { nextStepOn: '2026-11-26' },
      stalledDays: -10,
    });
  });

  test('without a next step needs a reason', async () => {
    const [stage] = await stagesOf(rep);
    const body = {
      name: 'x',
      contactId: (await aContact(rep)).id,
      stageId: stage!.id,
      amountMinor: 1,
      expectedCloseOn: null,
      next: { kind: 'none', reason: '' },
    };
    expect((await rep.call('createDeal', { body })).body.code).toBe('reason-needed');
  });

  test('a change of stage is in the journal and starts patience again; its name does not', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    const stages = await stagesOf(rep);
    installation.clock.set('2026-12-05T09:00:00.000Z');
    const renamed = (await change(deal, { name: 'Renamed' })).body as Deal;
    expect(renamed.stalledDays).toBe(1);
    const moved = (await change(renamed, { stageId: stages[1]!.id })).body as Deal;
    expect(moved).toMatchObject({
      stalledDays: -14,
      winProbability: 0.25,
      stageSince: '2026-12-05T09:00:00.000Z',
    });
    const { entries } = await rep.ok('listJournal', {
      query: { dealId: deal.id },
    });
    expect(entries[0]!.body).toBe('Inquiry → Survey');
  });

  test('two who change it at once: the second is shown the first one’s change', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    await change(deal, { amountMinor: 5 });
    expect((await change(deal, { amountMinor: 7 })).body).toMatchObject({
      code: 'stale',
      current: { amountMinor: 5, version: 2 },
    });
  });

  test('its own probability goes before the stage’s', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    expect((await change(deal, { winProbability: 0.8 })).body).toMatchObject({
      winProbability: 0.8,
      weightedMinor: 784_000,
    });
  });

  test('won it counts whole and lost not at all, in its row, every sum, group and file, whatever was thought of it', async () => {
    const owner = await installation.as('rep');
    const make = async (as: 'open' | 'won' | 'lost') => {
      const deal = await aDeal(owner, (await aContact(owner)).id);
      const thought = await owner.ok('changeDeal', {
        params: { id: deal.id },
        body: bodyOf(deal, { winProbability: 0.3, amountMinor: 100_000 }),
      });
      if (as === 'open') return;
      await owner.ok('closeDeal', {
        params: { id: deal.id },
        body: { version: thought.version, on: '2026-11-24', reason: 'price', as },
      });
    };
    for (const as of ['open', 'won', 'lost'] as const) await make(as);
    const query = { owner: 'mine', status: 'any' };
    const { rows } = await owner.ok('pageDeals', { query: { ...query, sort: '-chance' } });
    expect(rows.map((row) => [row.status, row.winProbability, row.weightedMinor])).toEqual([
      ['won', 1, 100_000],
      ['open', 0.3, 30_000],
      ['lost', 0, 0],
    ]);
    const count = await owner.ok('countDeals', { query: { ...query, group: 'stage' } });
    expect(count.sums).toMatchObject({ value: 300_000, weighted: 130_000 });
    expect(count.groups.map(({ sums }) => sums.weighted)).toEqual([130_000]);
    const file = await owner.call('exportDeals', { query: { ...query, columns: 'name,chance,weighted' } });
    const lines = file.text.trim().split('\r\n').slice(1);
    expect(lines.map((line) => line.replace(/^[^,]*,/, '')).sort()).toEqual([
      '0,0.00,GBP',
      '0.3,300.00,GBP',
      '1,1000.00,GBP',
    ]);
  });

  test('is won only with a reason where the organisation says so', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    const admin = await installation.as('admin', 'Petra Lund');
    const reasons = await admin.ok('closeReasons');
    await admin.ok('changeCloseReasons', { body: { ...reasons, wonNeedsReason: true } });
    const win = (part: object) =>
      rep.call('closeDeal', {
        params: { id: deal.id },
        body: { as: 'won', version: deal.version, on: '2026-11-24', ...part },
      });
    expect((await win({})).body.fields).toEqual([
      { path: 'reason', message: 'must be filled in: say what won it' },
    ]);
    expect((await win({ reason: 'service' })).status).toBe(200);
    const { version } = await admin.ok('closeReasons');
    await admin.ok('changeCloseReasons', { body: { ...reasons, version } });
  });

  test('won or lost ends its tasks, and it is closed only once', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    const close = (body: object) =>
      rep.call('closeDeal', {
        params: { id: deal.id },
        body: { version: deal.version, on: '2026-11-24', ...body },
      });
    expect((await close({ as: 'won', on: '2026-11-25' })).body.code).toBe('in-the-future');
    expect((await close({ as: 'lost' })).body.fields).toMatchObject([{ path: 'reason' }]);
    expect((await close({ as: 'won' })).body).toMatchObject({
      status: 'won',
      tether: { nextStepOn: null },
    });
    expect((await close({ as: 'lost', reason: 'price' })).body.code).toBe('stale');
    expect(await rep.ok('listTasks', { query: { dealId: deal.id } })).toEqual({ tasks: [] });
  });

  test.each([
    ['amountMinor', { amountMinor: -1 }],
    ['amountMinor', { amountMinor: 1.5 }],
    ['expectedCloseOn', { expectedCloseOn: '2026-02-30' }],
    ['name', { name: '  ' }],
    ['winProbability', { winProbability: 1.2 }],
    ['stageId', { stageId: '01938f6c-0000-7000-8000-000000000001' }],
  ])('a wrong %s is told at its field: %j', async (field, part) => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    const refused = await change(deal, part);
    expect([refused.status, (refused.body.fields as { path: string }[]).map((each) => each.path)]).toEqual([
      400,
      [field],
    ]);
  });
});

test('the list says what its filter hides', async () => {
  const other = await installation.as('rep');
  await aDeal(other, (await aContact(other)).id, { next: { kind: 'none', reason: 'x' } });
  await aDeal(other, (await aContact(other)).id);
  const all = await other.ok('listDeals', { query: { owner: 'all' } });
  const loose = await other.ok('listDeals', { query: { show: 'loose' } });
  expect(loose.rows).toMatchObject([{ tetherState: 'loose' }]);
  expect(loose.rows.length + loose.hidden).toBe(all.rows.length);
  expect(all.hidden).toBe(0);
});

describe('on the lanes', () => {
  const move = (deal: Deal, part: object, by = rep) =>
    by.call('moveDeal', {
      params: { id: deal.id },
      body: {
        version: deal.version,
        stageId: deal.stageId,
        expectedCloseOn: deal.expectedCloseOn,
        ...part,
      },
    });

  test('a deal is put into another stage and month, and nothing else of it changes', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    const [, second] = await stagesOf(rep);
    const moved = (await move(deal, { stageId: second!.id, expectedCloseOn: '2027-01-18' })).body as Deal;
    expect(moved).toMatchObject({
      name: deal.name,
      amountMinor: deal.amountMinor,
      stageId: second!.id,
      expectedCloseOn: '2027-01-18',
    });
    expect((await journalOf(rep, { dealId: deal.id }))[0]!.body).toContain('→');
  });

  test('one that was changed meanwhile stays, and shows the change', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    await change(deal, { name: 'Theirs', expectedCloseOn: '2027-03-01' });
    expect((await move(deal, { expectedCloseOn: null })).body).toMatchObject({
      code: 'stale',
      current: { name: 'Theirs' },
    });
  });

  test('a colleague’s is not moved, nor one into a stage that is not there', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    const other = await installation.as('rep');
    expect((await move(deal, {}, other)).body.code).toBe('not-yours');
    expect((await move(deal, { stageId: deal.id })).body.fields[0].path).toBe('stageId');
  });
});

describe('parked', () => {
  const park = (deal: Deal, wakeOn = '2026-12-03') =>
    rep.call('closeDeal', {
      params: { id: deal.id },
      body: { as: 'parked', version: deal.version, wakeOn, reason: 'next year’s budget' },
    });
  const inRound = async (deal: Deal) => {
    const { above, below } = await rep.ok('round');
    return [...above, ...below].find(({ dealId }) => dealId === deal.id);
  };
  const isListed = async (deal: Deal) => (await rep.ok('listDeals')).rows.some(({ id }) => id === deal.id);

  test('a deal is out of every total, its tasks are withdrawn, and it comes back on its day', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    const parked = (await park(deal)).body as Deal;
    expect(parked).toMatchObject({
      status: 'parked',
      wakeOn: '2026-12-03',
      closeReason: 'next year’s budget',
    });
    expect([await isListed(deal), await inRound(deal)]).toEqual([false, undefined]);
    installation.clock.set('2026-12-03T09:10:00.000Z');
    expect(await inRound(deal)).toMatchObject({ kind: 'waking', purpose: 'take it up again' });
  });

  test('opened again it has its history, its next step and a new patience', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    const parked = (await park(deal)).body as Deal;
    installation.clock.set('2026-12-03T09:10:00.000Z');
    const next = {
      kind: 'task',
      channel: 'call',
      dueOn: '2026-12-04',
      promisedMinute: null,
      purpose: 'ask',
      minutes: 6,
    };
    const opened = await rep.ok('reopenDeal', {
      params: { id: deal.id },
      body: { version: parked.version, next },
    });
    expect(opened).toMatchObject({ status: 'open', wakeOn: null, tetherState: 'held', stalledDays: -10 });
    expect(await isListed(deal)).toBe(true);
    const words = (await journalOf(rep, { dealId: deal.id })).map(({ body }) => body);
    expect(words).toEqual(
      expect.arrayContaining([
        expect.stringContaining('parked until'),
        expect.stringContaining('opened again'),
      ]),
    );
    const again = await rep.call('reopenDeal', {
      params: { id: deal.id },
      body: { version: opened.version, next },
    });
    expect(again.body.code).toBe('stale');
  });

  test('without a next step it is not opened, nor parked until a day that is over', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    expect((await park(deal, '2026-11-24')).body).toMatchObject({
      code: 'in-the-past',
      fields: [{ path: 'wakeOn' }],
    });
    const parked = (await park(deal)).body as Deal;
    const refused = await rep.call('reopenDeal', {
      params: { id: deal.id },
      body: { version: parked.version, next: { kind: 'none', reason: '' } },
    });
    expect(refused.body.code).toBe('reason-needed');
  });
});
