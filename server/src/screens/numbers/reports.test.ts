import type { AskReport, Deal, Report, ReportFigure } from '@kettle/contract';
import { randomUUID } from 'node:crypto';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, aLead, aLog, stagesOf } from '../../../testing/people';
import { askForDailyWork } from '../../features';

let installation: Installation;
let rep: Caller;
let other: Caller;
let manager: Caller;
beforeEach(async () => {
  installation = await install();
  manager = await installation.as('manager', 'Corin Vale');
  rep = await installation.as('rep', 'Imogen Thorne');
  other = await installation.as('rep', 'Owen Marsh');
  await installation.services.database.change("UPDATE session SET expires_at = '2027-12-01'");
});
afterEach(() => installation.close());

const report = (kind: AskReport['kind'], query: object = {}, who = rep): Promise<Report> =>
  who.ok('report', { query: { kind, period: 'this-month', ...query } });
const records = (kind: AskReport['kind'], query: object, who = rep) =>
  who.ok('reportRecords', { query: { kind, period: 'this-month', ...query } });
const deal = async (part: object = {}, who = rep) => aDeal(who, (await aContact(who)).id, part);
const close = (it: Deal, as: 'won' | 'lost' | 'parked', on: string, part: object = {}, who = rep) =>
  who.ok('closeDeal', {
    params: { id: it.id },
    body: {
      ...{ as, version: it.version },
      ...(as === 'parked' ? { wakeOn: '2027-03-01', reason: 'budget' } : { on }),
      ...(as === 'lost' ? { reason: 'price' } : {}),
      ...part,
    },
  });
const move = async (it: Deal, at: number, who = rep): Promise<Deal> => {
  const stages = await stagesOf(who);
  return who.ok('moveDeal', {
    params: { id: it.id },
    body: { stageId: stages[at]!.id, version: it.version, expectedCloseOn: it.expectedCloseOn },
  });
};

/** A report's rows by name: what each column says. */
const said = ({ columns, rows }: Report, when: 'figures' | 'before' = 'figures') =>
  Object.fromEntries(
    rows.map((row) => [
      row.name,
      Object.fromEntries(columns.map(({ key }, at) => [key, row[when]?.[at]?.value ?? null])),
    ]),
  );
const totalOf = ({ columns, total }: Report): Record<string, number | null> =>
  Object.fromEntries(columns.map(({ key }, at) => [key, total!.figures[at]!.value]));
const figureOf = ({ columns, rows }: Report, row: string, column: string): ReportFigure =>
  rows.find(({ name }) => name === row)!.figures[columns.findIndex(({ key }) => key === column)]!;

describe('what was won and lost', () => {
  test('by reason, beside the month before as far as this one has come, in the organisation’s currency', async () => {
    await close(await deal({ amountMinor: 100_000 }), 'lost', '2026-11-03');
    await close(await deal({ amountMinor: 50_000 }), 'lost', '2026-11-24', { reason: 'no reply' });
    await close(await deal({ amountMinor: 70_000 }), 'won', '2026-11-10', { reason: 'price' });
    await close(await deal({ amountMinor: 30_000 }), 'lost', '2026-10-24');
    // Not yet: this month has only come to its 24th day.
    await close(await deal({ amountMinor: 30_000 }), 'lost', '2026-10-25');
    const found = await report('lost', { by: 'reason' });
    expect(found).toMatchObject({
      words: 'What do we win and lose?',
      scope: 'Imogen Thorne',
      period: { from: '2026-11-01', to: '2026-11-24' },
      before: { from: '2026-10-01', to: '2026-10-24' },
    });
    const none = { lost: 0, 'lost-value': 0, won: 0, 'won-value': 0, 'win-rate': null, days: null };
    expect(said(found)).toMatchObject({
      price: {
        ...none,
        lost: 1,
        'lost-value': 100_000,
        won: 1,
        'won-value': 70_000,
        'win-rate': 0.5,
      },
      'no reply': { ...none, lost: 1, 'lost-value': 50_000, 'win-rate': 0, days: 0 },
    });
    expect(said(found, 'before')).toMatchObject({
      price: { lost: 1, 'lost-value': 30_000 },
      'no reply': none,
    });
    expect(totalOf(found)).toMatchObject({ lost: 2, 'lost-value': 150_000, won: 1 });
    const { low, high } = figureOf(found, 'price', 'win-rate');
    expect([low!, high!].map((value) => value.toFixed(2))).toEqual(['0.09', '0.91']);
  });

  test('every figure opens its records, and they are as many', async () => {
    const lost = await close(await deal({ name: 'Linde', amountMinor: 100_000 }), 'lost', '2026-11-03');
    await close(await deal(), 'won', '2026-11-10', { reason: 'price' });
    await close(await deal(), 'lost', '2026-10-10');
    expect(await records('lost', { by: 'reason', row: 'price', column: 'lost' })).toMatchObject({
      count: 1,
      records: [{ id: lost.id, name: 'Linde', path: `/deals/${lost.id}`, on: '2026-11-03', minor: 100_000 }],
    });
    expect((await records('lost', { by: 'reason', row: 'price' })).count).toBe(2);
    expect((await records('lost', { by: 'reason', column: 'lost', when: 'before' })).count).toBe(1);
    expect((await records('lost', { by: 'reason', row: 'nothing of it', column: 'lost' })).count).toBe(0);
    const none = await rep.call('reportRecords', { query: { kind: 'lost', column: 'constructor' } });
    expect([none.status, none.body.code]).toEqual([404, 'not-found']);
  });

  test('to whom: a deal with several competitors is in the row of each, and once in the total', async () => {
    const one = await deal({ competitors: ['Brook & Sons', 'Clear Stream'] });
    await close(one, 'lost', '2026-11-03');
    const named = await deal({ competitors: ['Brook & Sons', 'Clear Stream'] });
    await close(named, 'lost', '2026-11-04', { lostTo: 'Clear Stream' });
    await close(await deal(), 'lost', '2026-11-04');
    const found = await report('lost', { by: 'competitor' });
    expect(said(found)).toMatchObject({
      'Clear Stream': { lost: 2 },
      'Brook & Sons': { lost: 1 },
      'nobody named': { lost: 1 },
    });
    expect(totalOf(found).lost).toBe(3);
    const none = found.rows.find(({ name }) => name === 'nobody named')!.key;
    expect((await records('lost', { by: 'competitor', row: none, column: 'lost' })).count).toBe(1);
    expect((await records('lost', { by: 'competitor', column: 'lost' })).count).toBe(3);
    expect(found.notes[0]).toContain('once in the total');
  });

  test('by stage, owner, source and month there are the same deals', async () => {
    await close(await deal({ source: 'fair' }), 'lost', '2026-11-03');
    await close(await move(await deal({ source: 'fair' }), 1), 'won', '2026-11-04');
    for (const by of ['stage', 'owner', 'source', 'month', 'reason', 'competitor'] as const)
      expect([
        by,
        totalOf(await report('lost', { by })).lost,
        totalOf(await report('lost', { by })).won,
      ]).toEqual([by, 1, 1]);
    const stages = await stagesOf(rep);
    // In the order of the stages, not of their size.
    const byStage = await report('lost', { by: 'stage' });
    expect(byStage.rows.map(({ name }) => name)).toEqual([stages[0]!.name, stages[1]!.name]);
    expect(Object.keys(said(await report('lost', { by: 'month' })))).toEqual(['Nov 2026']);
  });
});

describe('whose', () => {
  test('mine, my team’s, a person’s of it, everybody’s I may read; nobody else’s', async () => {
    await close(await deal(), 'won', '2026-11-03');
    await close(await deal({}, other), 'won', '2026-11-03', {}, other);
    const won = async (whose: string, who: Caller) => totalOf(await report('lost', { whose }, who)).won;
    expect(await won('mine', rep)).toBe(1);
    expect(await won('mine', manager)).toBe(0);
    expect(await won('team', manager)).toBe(2);
    expect(await won(other.id, manager)).toBe(1);
    expect(await won('all', manager)).toBe(2);
    const outside = await rep.call('report', { query: { kind: 'lost', whose: manager.id } });
    expect([outside.status, outside.body.code]).toEqual([403, 'not-allowed']);
    const inside = await rep.call('reportRecords', { query: { kind: 'lost', whose: manager.id } });
    expect(inside.status).toBe(403);
  });

  test('where colleagues’ records may not be read, none of them is counted or opened', async () => {
    const admin = await installation.as('admin', 'Petra Lindholm');
    const settings = await admin.ok('rightsSettings');
    await admin.ok('changeRightsSettings', { body: { ...settings, reading: 'own' } });
    await close(await deal({}, other), 'won', '2026-11-03', {}, other);
    await aLog(other, (await aContact(other)).id);
    await aLead(other);
    for (const kind of ['lost', 'activity', 'drop-off', 'standings', 'movement', 'answers'] as const)
      expect([
        kind,
        (await report(kind, { whose: 'all' })).rows
          .flatMap(({ figures }) => figures.map(({ value }) => value ?? 0))
          .reduce((sum, value) => sum + value, 0),
      ]).toEqual([kind, 0]);
    expect((await records('lost', { whose: 'all' })).count).toBe(0);
  });

  test('of one pipeline; an unknown one is not found', async () => {
    const [pipeline] = (await rep.ok('listPipelines')).pipelines;
    await close(await deal(), 'won', '2026-11-03');
    expect(totalOf(await report('lost', { pipeline: pipeline!.id })).won).toBe(1);
    const none = await rep.call('report', { query: { kind: 'lost', pipeline: randomUUID() } });
    expect(none.status).toBe(404);
  });
});

test('wrong questions are refused at their field', async () => {
  const refused = async (query: object) => {
    const { status, body } = await rep.call('report', { query });
    return [status, body.fields?.[0]?.path];
  };
  expect(await refused({ kind: 'lost', by: 'hour' })).toEqual([400, 'query.by']);
  expect(await refused({ kind: 'lost', period: 'days', from: '2026-11-01' })).toEqual([400, 'query.to']);
  expect(await refused({ kind: 'lost', period: 'days', from: '2026-11-02', to: '2026-11-01' })).toEqual([
    400,
    'query.to',
  ]);
  expect(await refused({ kind: 'make-it', period: 'last-7-days' })).toEqual([400, 'query.period']);
  expect(await refused({ kind: 'nonsense' })).toEqual([400, 'query.kind']);
});

describe('how deals move', () => {
  test('each forward, back, still, new, won, lost or off the lanes, with the days in each stage', async () => {
    installation.clock.set('2026-10-20T09:10:00.000Z');
    const [forward, back, still, won, off] = [
      await deal({ name: 'Forward' }),
      await move(await deal({ name: 'Back' }), 1),
      await deal({ name: 'Still' }),
      await deal({ name: 'Won' }),
      await deal({ name: 'Off' }),
    ];
    installation.clock.set('2026-11-10T09:10:00.000Z');
    await move(forward, 2);
    await move(back, 0);
    await close(won, 'won', '2026-11-10');
    await close(off, 'parked', '2026-11-10');
    await deal({ name: 'New' });
    installation.clock.set('2026-11-24T09:10:00.000Z');
    const found = await report('movement');
    expect(found.listsRecords).toBe(true);
    expect(totalOf(found)).toEqual({ forward: 1, back: 1, still: 1, new: 1, won: 1, lost: 0, off: 1 });
    const stages = await stagesOf(rep);
    const listed = await records('movement', {});
    const words = Object.fromEntries(listed.records.map(({ name, words: said }) => [name, said]));
    expect(words).toMatchObject({
      Forward: `${stages[0]!.name} → ${stages[2]!.name}: 9 days in ${stages[0]!.name}, 14 days in ${stages[2]!.name}`,
      Still: `${stages[0]!.name}: 23 days in ${stages[0]!.name}`,
      New: `new → ${stages[0]!.name}: 14 days in ${stages[0]!.name}`,
      Won: `${stages[0]!.name} → out of ${stages[0]!.name}: 9 days in ${stages[0]!.name}`,
    });
    expect(words.Still).toBe(
      (await records('movement', { row: still.id, column: 'still' })).records[0]?.words ?? words.Still,
    );
    // Of the month before: all five were new.
    expect(found.rows[0]!.before!.map(({ value }) => value)).toEqual([0, 0, 0, 5, 0, 0, 0]);
    const byStage = said(await report('movement', { by: 'stage' }));
    expect(byStage['not there yet']).toMatchObject({ new: 1 });
  });

  test('where they stand still: open now and a month ago, longer than the stage’s patience, stalled and loose', async () => {
    installation.clock.set('2026-10-20T09:10:00.000Z');
    await deal();
    installation.clock.set('2026-11-24T09:10:00.000Z');
    await move(await deal(), 1);
    const found = await report('standstill');
    expect(totalOf(found)).toMatchObject({
      open: 2,
      value: 1_960_000,
      stalled: 1,
      loose: 0,
      past: 0.5,
      days: 17.5,
    });
    expect(found.total!.before!.map(({ value }) => value).slice(0, 2)).toEqual([1, 980_000]);
    // What is of now is not known of then.
    const at = found.columns.findIndex(({ key }) => key === 'stalled');
    expect(found.total!.before![at]).toEqual({ value: null });
    expect((await records('standstill', { column: 'stalled' })).count).toBe(1);
    expect(said(await report('standstill', { by: 'owner' }))['Imogen Thorne']).toMatchObject({ open: 2 });
  });

  test('how they get through: who went on, was lost or is there, and after how many days half went on', async () => {
    installation.clock.set('2026-10-20T09:10:00.000Z');
    const made: Deal[] = [];
    for (let n = 0; n < 4; n += 1) made.push(await deal({ amountMinor: 100_000 }));
    installation.clock.set('2026-10-25T09:10:00.000Z');
    const second = await move(made[0]!, 1);
    await close(made[1]!, 'lost', '2026-10-25');
    installation.clock.set('2026-10-30T09:10:00.000Z');
    await move(made[2]!, 1);
    await close(second, 'won', '2026-10-30');
    installation.clock.set('2026-11-24T09:10:00.000Z');
    const found = await report('pace', { period: 'last-month' });
    const [stage] = await stagesOf(rep);
    const row = Object.entries(said(found)).find(([name]) => name.startsWith(stage!.name))![1];
    // Of four one is lost on day 5 and one still there: half of those at risk are gone on day 10.
    expect(row).toEqual({ entered: 4, 'went-on': 0.5, lost: 0.25, there: 1, half: 10, mean: 7.5 });
    expect(Object.fromEntries(found.figures.map(({ words, figure }) => [words, figure.value]))).toEqual({
      'days from added to won': 10,
      'days from added to lost': 5,
      // 2 open at the end, half won, £1,000 each, in 10 days.
      'a day at this pace': (2 * 0.5 * 100_000) / 10,
    });
    expect(found.figures[0]!.before).toEqual({ value: null });
  });

  test('whether they close on their day: that of the decision before the expected one', async () => {
    const day = { expectedCloseOn: '2026-11-30' };
    await close(await deal(day), 'won', '2026-11-24');
    await close(await deal({ ...day, decisionOn: '2026-11-01' }), 'won', '2026-11-24');
    await close(await deal({ expectedCloseOn: '2026-11-24' }), 'lost', '2026-11-10');
    await close(await deal({ expectedCloseOn: null }), 'lost', '2026-11-10');
    const found = await report('close-days');
    expect(said(found)).toMatchObject({
      '8 to 30 days early': { closed: 1, won: 0 },
      'within 7 days': { closed: 1, won: 1 },
      '8 to 30 days late': { closed: 1, won: 1, late: 23 },
    });
    expect(totalOf(found)).toMatchObject({ closed: 3, late: -6 });
    expect(found.rows.map(({ key }) => key)).toEqual(['early-7', 'on', 'late-7']);
  });
});

describe('what people do', () => {
  test('who does how much: what was logged, by person, channel, outcome and weekday; deals won are their owner’s', async () => {
    const contact = await aContact(rep);
    await aLog(rep, contact.id, { minutes: 4 });
    await aLog(rep, contact.id, { outcomeId: 'call-spoke', minutes: 6 });
    await close(await deal({ amountMinor: 90_000 }), 'won', '2026-11-24');
    const found = await report('activity', { whose: 'all' }, manager);
    expect(said(found)['Imogen Thorne']).toMatchObject({
      ...{ acts: 2, conversations: 1, calls: 2, mails: 0, met: 0, minutes: 10, won: 1, 'won-value': 90_000 },
    });
    expect(said(await report('activity', { by: 'channel' })).Call).toMatchObject({ acts: 2 });
    expect(said(await report('activity', { by: 'weekday' })).Tuesday).toMatchObject({ acts: 2 });
    expect(totalOf(await report('activity', { by: 'outcome' })).acts).toBe(2);
    const listed = await records('activity', { by: 'channel', row: 'call', column: 'conversations' });
    expect(listed.count).toBe(1);
    expect(listed.records[0]).toMatchObject({ path: `/people/${contact.id}`, name: contact.name });
  });

  test('what earns answers: by Kaplan-Meier, so that what is young neither counts as failed nor is left out', async () => {
    const [answered, silent] = [await aContact(rep), await aContact(rep)];
    installation.clock.set('2026-10-05T08:10:00.000Z');
    await aLog(rep, answered.id);
    await aLog(rep, silent.id);
    installation.clock.set('2026-10-09T08:10:00.000Z');
    await aLog(rep, answered.id, { outcomeId: 'call-spoke' });
    installation.clock.set('2026-11-24T09:10:00.000Z');
    const found = await report('answers', { period: 'last-month' });
    // Three tries: one conversation at once, one after four days, one never.
    expect(said(found).Call).toMatchObject({ tried: 3, 'at-once': 1 / 3 });
    expect(figureOf(found, 'Call', 'answered').value).toBeCloseTo(2 / 3, 10);
    // By the clock of whoever was tried: an hour ahead of UTC in summer.
    expect(said(await report('answers', { period: 'last-month', by: 'hour' }))['9 – 10']).toMatchObject({
      tried: 3,
    });
    expect(said(await report('answers', { period: 'last-month', by: 'weekday' }))).toMatchObject({
      Monday: { tried: 2 },
      Friday: { tried: 1 },
    });
    expect(
      said(await report('answers', { period: 'last-month', by: 'owner' }))['Imogen Thorne'],
    ).toMatchObject({ tried: 3 });
    await askForDailyWork(installation.services);
    await installation.work();
    const byTries = await report('answers', { by: 'tries' });
    expect(said(byTries)['1']).toEqual({ tried: 2, answered: 0.5 });
    expect(byTries.columns.every(({ opens }) => !opens)).toBe(true);
    expect(
      (await rep.call('reportRecords', { query: { kind: 'answers', by: 'tries', column: 'tried' } })).status,
    ).toBe(404);
  });

  test('where leads drop off, and which source pays', async () => {
    const tried = await aLead(rep, { source: 'fair' });
    await aLog(rep, tried.contactId);
    await aLead(rep, { source: 'fair' });
    await aLead(rep, { source: 'web' });
    await close(await deal({ source: 'web', amountMinor: 40_000 }), 'won', '2026-11-24');
    const found = await report('drop-off');
    expect(said(found)).toMatchObject({
      fair: { began: 2, tried: 0.5, talked: 0, aside: 0 },
      web: { began: 1, tried: 0 },
    });
    expect((await records('drop-off', { row: 'fair', column: 'tried' })).records[0]).toMatchObject({
      path: `/deals/leads/${tried.id}`,
    });
    const sources = said(await report('sources'));
    expect(sources).toMatchObject({
      fair: { won: 0, began: 2, mean: null },
      web: { won: 1, 'won-value': 40_000, began: 1, mean: 40_000 },
    });
    expect((await records('sources', { row: 'web', column: 'began' })).count).toBe(1);
    expect((await records('sources', { row: 'web', column: 'won-value' })).count).toBe(1);
  });

  test('how people stand, with the list that shows just them', async () => {
    const contact = await aContact(rep);
    await aContact(other);
    const found = await report('standings');
    expect(found).toMatchObject({ period: null, before: null });
    const { standings } = await rep.ok('listStandings');
    const { standing } = standings.find((each) => each.standing.id === contact.standingId)!;
    const row = found.rows.find(({ name }) => name === standing.name)!;
    expect([row.figures[0]!.value, row.before, row.path]).toEqual([
      1,
      null,
      `/people?standing=${standing.id}&owner=mine`,
    ]);
    const all = await report('standings', { whose: 'team', by: 'owner' }, manager);
    expect(totalOf(all).people).toBe(2);
    installation.clock.set('2027-11-24T09:10:00.000Z');
    expect(totalOf(await report('standings')).quiet).toBe(1);
    expect((await records('standings', { column: 'quiet' })).records[0]).toMatchObject({ id: contact.id });
  });
});

test('whether customers stay, by month, adds up to the penny; a move opens its customers', async () => {
  const contact = await aContact(rep);
  await rep.ok('createAgreement', {
    body: {
      ...{
        name: 'Care plan',
        contactId: contact.id,
        startsOn: '2026-10-05',
        termMonths: 12,
        valueMinor: 120_000,
      },
      ...{ noticeDays: 30, leadDays: 30, renewsItself: true },
    },
  });
  const found = await report('retention', { period: 'this-quarter' });
  expect(said(found)['Oct 2026']).toMatchObject({ start: 0, new: 120_000, end: 120_000 });
  expect(said(found)['Nov 2026']).toMatchObject({ start: 120_000, new: 0, end: 120_000, gross: 1, net: 1 });
  for (const row of [...Object.values(said(found)), totalOf(found)])
    expect(row.start! + row.new! + row.back! + row.expansion! + row.contraction! + row.churn!).toBe(row.end);
  expect(
    (await records('retention', { period: 'this-quarter', row: '2026-10', column: 'new' })).records[0],
  ).toMatchObject({
    ...{ minor: 120_000, under: 'Care plan' },
  });
  expect(totalOf(await report('retention', { period: 'this-quarter' }, other)).end).toBe(0);
});

test('whether we make it: sums, the chance of at least each, and what the month before came to', async () => {
  await manager.ok('setQuota', {
    body: { userId: rep.id, isTeam: false, month: '2026-01-01', minor: 100_000, holds: 'on' } as never,
  });
  await close(await deal({ amountMinor: 20_000 }), 'won', '2026-11-03');
  await close(await deal({ amountMinor: 30_000 }), 'won', '2026-10-03');
  await deal({ winProbability: 0.5, amountMinor: 100_000, expectedCloseOn: '2026-11-28' });
  const found = await report('make-it');
  expect(said(found)).toEqual({
    'won so far': { sum: 20_000, chance: 1 },
    'in nine of ten cases more than': { sum: 20_000, chance: 0.9 },
    'as likely more as less than': { sum: 20_000, chance: 0.5 },
    expected: { sum: 70_000, chance: 0.5 },
    'in one of ten cases more than': { sum: 120_000, chance: 0.1 },
    quota: { sum: 100_000, chance: 0.5 },
  });
  expect(said(found, 'before')['won so far']!.sum).toBe(30_000);
  expect(
    said(await report('make-it', { whose: 'all', period: 'this-quarter' }, manager))['won so far']!.sum,
  ).toBe(50_000);
});
