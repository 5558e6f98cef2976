import type { AskForecast, Deal } from '@kettle/contract';
import { askForDailyWork } from '../../features';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, stagesOf } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
let manager: Caller;
beforeEach(async () => {
  installation = await install();
  manager = await installation.as('manager', 'Corin Vale');
  rep = await installation.as('rep', 'Imogen Thorne');
  await installation.services.database.change("UPDATE session SET expires_at = '2027-12-01'");
});
afterEach(() => installation.close());

const forecast = (part: Partial<AskForecast> = {}, who = rep) =>
  who.ok('forecast', { body: { whose: 'mine', from: '2026-12-01', months: 1, ...part } });
const deal = async (part: object = {}, who = rep) => aDeal(who, (await aContact(who)).id, part);
const close = (it: Deal, as: 'won' | 'lost', on: string, who = rep) =>
  who.ok('closeDeal', {
    params: { id: it.id },
    body: { as, version: it.version, on, ...(as === 'lost' ? { reason: 'price' } : {}) },
  });
const quota = (minor: number, userId = rep.id) =>
  manager.ok('setQuota', {
    body: { userId, isTeam: false, month: '2026-01-01', minor, holds: 'on' } as never,
  });

test('what is won, and what each open deal may bring: expected, in one, five and nine of ten cases, and the chance of the quota', async () => {
  await quota(100_000);
  const half = { winProbability: 0.5 };
  const one = await deal({ ...half, name: 'One', amountMinor: 100_000, expectedCloseOn: '2026-12-20' });
  const two = await deal({ ...half, name: 'Two', amountMinor: 50_000, expectedCloseOn: '2026-12-31' });
  await deal({ ...half, name: 'Later', amountMinor: 900_000, expectedCloseOn: '2027-01-01' });
  await deal({ ...half, name: 'Whenever', amountMinor: 900_000, expectedCloseOn: null });
  const found = await forecast();
  expect(found).toMatchObject({
    ...{ from: '2026-12-01', until: '2026-12-31', quotaMinor: 100_000, count: 2, learnedFrom: 0 },
    now: {
      wonMinor: 0,
      expectedMinor: 75_000,
      lowMinor: 0,
      middleMinor: 50_000,
      highMinor: 150_000,
      quotaChance: 0.5,
    },
    supposed: null,
  });
  expect(found.deals.map(({ dealId, ifWon, ifLost }) => [dealId, ifWon, ifLost])).toEqual([
    [one.id, 1, 0],
    [two.id, 0.5, 0.5],
  ]);
  expect(found.chances.at(0)).toEqual({ minor: 0, chance: 1 });
  expect(found.chances.at(-1)).toEqual({ minor: 150_000, chance: 0.25 });
  // The same on Home, for the running month.
  installation.clock.set('2026-12-02T09:10:00.000Z');
  const home = await rep.ok('monthForecast', { query: { whose: 'mine' } });
  expect([home.expectedMinor, home.quotaChance, home.open]).toEqual([75_000, 0.5, 2]);
});

test('what if: won, lost, later, worth something else; nothing of it is saved', async () => {
  await quota(100_000);
  const one = await deal({ winProbability: 0.5, amountMinor: 100_000, expectedCloseOn: '2026-12-20' });
  const two = await deal({ winProbability: 0.5, amountMinor: 50_000, expectedCloseOn: '2026-12-31' });
  const supposed = async (...whatIf: AskForecast['whatIf']) => {
    const { supposed: found, now } = await forecast({ whatIf });
    expect(now.expectedMinor).toBe(75_000);
    return [found!.expectedMinor, found!.quotaChance];
  };
  expect(await supposed({ dealId: one.id, as: 'won' })).toEqual([125_000, 1]);
  expect(await supposed({ dealId: one.id, as: 'lost' })).toEqual([25_000, 0]);
  expect(await supposed({ dealId: one.id, as: 'later' }, { dealId: two.id, as: 'won' })).toEqual([50_000, 0]);
  expect(await supposed({ dealId: two.id, as: 'value', minor: 100_000 })).toEqual([100_000, 0.75]);
  // One of a colleague's who is not to be read is refused, as is their forecast.
  const other = await installation.as('rep', 'Owen Marsh');
  const theirs = await deal({ amountMinor: 100_000, expectedCloseOn: '2026-12-20' }, other);
  // A colleague's deal is none of these, whatever is supposed of it.
  expect(await supposed({ dealId: theirs.id, as: 'won' })).toEqual([75_000, 0.5]);
  expect((await rep.ok('getDeal', { params: { id: one.id } })).version).toBe(one.version);
});

test('a quarter is its months; a team is its people; another pipeline has its own deals and no quota', async () => {
  await quota(100_000);
  const other = await installation.as('rep', 'Owen Marsh');
  await deal({ winProbability: 1, amountMinor: 10_000, expectedCloseOn: '2027-02-20' });
  await deal({ winProbability: 1, amountMinor: 20_000, expectedCloseOn: '2026-12-20' }, other);
  expect(await forecast({ months: 3 })).toMatchObject({
    until: '2027-02-28',
    quotaMinor: 300_000,
    now: { expectedMinor: 10_000 },
  });
  expect((await forecast({ months: 3, whose: 'team' }, manager)).now.expectedMinor).toBe(30_000);
  expect((await forecast({ months: 3, whose: other.id }, manager)).now.expectedMinor).toBe(20_000);
  const [pipeline] = (await rep.ok('listPipelines')).pipelines;
  expect(await forecast({ pipelineId: pipeline!.id })).toMatchObject({
    quotaMinor: null,
    now: { quotaChance: null },
  });
  const outsider = await rep.call('forecast', { body: { whose: manager.id, from: '2026-12-01' } });
  expect([outsider.status, outsider.body.code]).toEqual([403, 'not-allowed']);
  const bad = await rep.call('forecast', { body: { from: '2026-12-02' } });
  expect([bad.status, bad.body.fields[0].path]).toEqual([400, 'from']);
});

test('once enough deals were won, how they kept their day says how likely one closes in the period', async () => {
  installation.clock.set('2026-11-20T09:10:00.000Z');
  for (let n = 0; n < 20; n += 1)
    await close(
      await deal({ amountMinor: 0, expectedCloseOn: n % 2 === 0 ? '2026-11-20' : '2026-11-10' }),
      'won',
      '2026-11-20',
    );
  await deal({ winProbability: 1, amountMinor: 100_000, expectedCloseOn: '2026-12-25' });
  const found = await forecast();
  expect(found).toMatchObject({ learnedFrom: 20, now: { expectedMinor: 50_000 } });
  expect(found.deals[0]).toMatchObject({ winChance: 1, inTime: 0.5 });
  expect((await forecast({ from: '2027-01-01' })).now.expectedMinor).toBe(50_000);
});

test('how it was foreseen on the Mondays before: as deals were then, and as far back as their stages are known', async () => {
  installation.clock.set('2026-10-20T09:10:00.000Z');
  const early = await deal({ winProbability: 0.5, amountMinor: 100_000, expectedCloseOn: '2026-12-20' });
  installation.clock.set('2026-11-24T09:10:00.000Z');
  await deal({ winProbability: 0.5, amountMinor: 40_000, expectedCloseOn: '2026-12-20' });
  await askForDailyWork(installation.services);
  await installation.work();
  const weeks = async () =>
    (await forecast()).weeks.map(({ on, expectedMinor, wonMinor }) => [on, expectedMinor, wonMinor]);
  expect(await weeks()).toEqual([
    ...['2026-10-26', '2026-11-02', '2026-11-09', '2026-11-16', '2026-11-23'].map((on) => [on, 50_000, 0]),
    ['2026-11-24', 70_000, 0],
  ]);
  installation.clock.set('2026-12-02T09:10:00.000Z');
  await askForDailyWork(installation.services);
  await installation.work();
  await close(await rep.ok('getDeal', { params: { id: early.id } }), 'won', '2026-12-02');
  expect((await weeks()).slice(-2)).toEqual([
    ['2026-11-30', 70_000, 0],
    ['2026-12-02', 120_000, 100_000],
  ]);
  // Marked once, however often the day’s work runs.
  await askForDailyWork(installation.services);
  await Promise.all([installation.work(), installation.workElsewhere()]);
  expect((await weeks()).length).toBe(7);
});

test('the chances of stages against what came of deals, and what they should be', async () => {
  const stages = await stagesOf(rep);
  const empty = await rep.ok('calibration', {});
  expect(empty).toMatchObject({ passages: 0, score: null });
  expect(empty.stages[0]).toMatchObject({ closed: 0, low: null, proposed: null });
  for (let n = 0; n < 20; n += 1)
    await close(await deal({ amountMinor: 100 }), n < 12 ? 'won' : 'lost', '2026-11-24');
  const found = await rep.ok('calibration', {});
  const first = found.stages.find(({ stageId }) => stageId === stages[0]!.id)!;
  expect(first).toMatchObject({ chance: 0.1, closed: 20, won: 12, proposed: 0.6 });
  expect(first.low!).toBeGreaterThan(0.3);
  expect(found.passages).toBe(20);
  expect(found.score).toBeCloseTo((12 * 0.9 ** 2 + 8 * 0.1 ** 2) / 20, 10);
  expect(found.reliability! - found.resolution! + found.uncertainty!).toBeCloseTo(found.score!, 10);
  const { pipelines } = await rep.ok('listPipelines');
  const own = await rep.ok('calibration', { query: { pipelineId: pipelines[0]!.id } });
  expect(own.stages.every(({ pipelineId }) => pipelineId === pipelines[0]!.id)).toBe(true);
});
