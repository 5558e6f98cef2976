import type { AgreementRow } from '@kettle/contract';
import { aMailServer, type MailServer } from '../../../testing/mail-server';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, journalOf } from '../../../testing/people';
import { askForDailyWork } from '../../features';
import { bytesOf } from '../../platform/ids';
import { smtpOut } from '../mail/index';

let server: MailServer;
let installation: Installation;
let rep: Caller;
beforeEach(async () => {
  server = await aMailServer();
  installation = await install({ mailOut: smtpOut(server.url) });
  rep = await installation.as('rep', 'Imogen Thorne');
  installation.clock.set('2026-11-24T09:10:00.000Z');
});
afterEach(async () => {
  await installation.close();
  await server.close();
});

// Ends on 1 March 2027; the last day for notice is 31 December, the talk begins on 1 December.
const terms = {
  ...{ name: 'Yearly service', startsOn: '2026-03-01', termMonths: 12, valueMinor: 318_000 },
  ...{ noticeDays: 60, leadDays: 30, renewsItself: true, upliftKind: 'percent', upliftBy: 350 },
};
const make = async (part: object = {}, contactId?: string): Promise<AgreementRow> =>
  rep.ok('createAgreement', {
    body: { ...terms, contactId: contactId ?? (await aContact(rep)).id, ...part },
  });
async function day(on: string): Promise<void> {
  installation.clock.set(`${on}T09:10:00.000Z`);
  await askForDailyWork(installation.services);
  await installation.work();
}
const renewalOf = async (id: string, by = rep) => {
  const { terms: all } = await by.ok('getAgreement', { params: { id } });
  const dealId = all.flatMap(({ renewalDeal }) => renewalDeal?.id ?? []).at(-1);
  return dealId === undefined ? null : by.ok('getDeal', { params: { id: dealId } });
};
const dealCount = async () =>
  Number(
    (
      await installation.services.database.rows<{ count: string }>(
        "SELECT COUNT(*) AS count FROM deal WHERE type = 'renewal'",
      )
    )[0]!.count,
  );
const close = (deal: { id: string; version: number }, body: object, by = rep) =>
  by.ok('closeDeal', { params: { id: deal.id }, body: { version: deal.version, keep: [], ...body } });

describe('on the lead day', () => {
  test('a renewal begins: a deal in its own pipeline, linked, with its value, its task and its people; the won deal is untouched', async () => {
    const contact = await aContact(rep);
    const won = await aDeal(rep, contact.id, { people: [{ contactId: contact.id, role: 'decides' }] });
    await close(won, { as: 'won', on: '2026-11-24' });
    const before = await rep.ok('getDeal', { params: { id: won.id } });
    const made = await make({ dealId: won.id, signerId: contact.id }, contact.id);
    await day('2026-11-30');
    expect(await dealCount()).toBe(0);
    await day('2026-12-01');
    const deal = (await renewalOf(made.id))!;
    expect(deal).toMatchObject({
      ...{
        type: 'renewal',
        status: 'open',
        amountMinor: 329_130,
        expectedCloseOn: '2026-12-31',
        ownerId: rep.id,
      },
      ...{ origin: { id: won.id }, contactId: contact.id },
      renews: [{ agreementId: made.id, endsOn: '2027-03-01', nextMinor: 329_130 }],
    });
    expect(deal.people.map(({ role }) => role).sort()).toEqual(['decides', 'signs']);
    const { pipelines } = await rep.ok('listDeals', { query: { owner: 'mine' } });
    const own = pipelines.find(({ stages }) => stages.some(({ id }) => id === deal.stageId));
    expect([own?.name, own?.stages.map(({ name }) => name)]).toEqual([
      'Renewals',
      ['To talk about', 'In talks', 'Agreed in words'],
    ]);
    const after = await rep.ok('getDeal', { params: { id: won.id } });
    const inCommon = { handedOn: [], stalledDays: 0, agreementId: made.id };
    expect({ ...after, ...inCommon }).toEqual({ ...before, ...inCommon });
    expect((await rep.ok('getDeal', { params: { id: deal.id } })).tether.nextStepOn).toBe('2026-12-01');
    const { above, below } = await rep.ok('round');
    expect([...above, ...below].some((row) => row.dealId === deal.id)).toBe(true);
  });

  test('whoever leads it is told, and has by mail what the talk needs', async () => {
    const contact = await aContact(rep, { tags: ['complaint'] });
    await make({ startsOn: '2025-03-01' }, contact.id);
    await day('2026-12-01');
    const [row] = await installation.services.database.rows<{ words: string; path: string }>(
      "SELECT words, path FROM notification WHERE user_id = :user AND kind = 'renewal' ORDER BY created_at DESC LIMIT 1",
      { user: bytesOf(rep.id) },
    );
    expect(row!.words).toContain('A renewal comes up: Yearly service');
    expect(row!.path).toMatch(/^\/deals\//);
    const mail = server.got.find(({ subject }) => subject!.startsWith('A renewal comes up'))!;
    expect(mail.text).toContain('with us since 2025-03-01 (term 2)');
    expect(mail.text).toContain('The term ends on 2027-03-01; notice until 2026-12-31.');
    expect(mail.text).toContain('Who decides is not known.');
    expect(mail.text).toContain('A complaint of theirs is open.');
    expect(mail.text).toContain('Chance that they leave:');
  });

  test('whoever stands in for its owner is told too; it stays its owner’s', async () => {
    const standIn = await installation.as('rep', 'Mina Rook');
    const manager = await installation.as('manager');
    const made = await make();
    await manager.ok('planAbsence', {
      body: { userId: rep.id, from: '2026-11-30', to: '2026-12-04', standInId: standIn.id },
    });
    await day('2026-12-01');
    expect((await renewalOf(made.id))!.ownerId).toBe(rep.id);
    const rows = await installation.services.database.rows(
      "SELECT 1 FROM notification WHERE user_id = :user AND kind = 'renewal'",
      { user: bytesOf(standIn.id) },
    );
    expect(rows).toHaveLength(1);
  });

  test('missed while nothing ran, it is caught up with; where it has renewed itself, it is not', async () => {
    const soon = await make();
    const rolled = await make({ startsOn: '2026-01-01', name: 'Rolls first' });
    await day('2026-12-20');
    const reader = await installation.as('manager');
    expect(await renewalOf(soon.id, reader)).toMatchObject({ expectedCloseOn: '2026-12-31' });
    // Its last day for notice was 2 November: it goes on by itself.
    expect(await renewalOf(rolled.id, reader)).toBeNull();
    await day('2027-01-02');
    const detail = await reader.ok('getAgreement', { params: { id: rolled.id } });
    expect(detail.agreement).toMatchObject({ termNumber: 2, state: 'running' });
  });

  test('one that was decided, archived or deleted is left alone', async () => {
    const [left, archived, gone] = [await make(), await make(), await make()];
    const end = { version: 1, by: 'customer', noticeOn: '2026-11-20', reason: 'price' };
    await rep.ok('endAgreement', { params: { id: left.id }, body: end });
    await rep.ok('archiveRecord', {
      body: { kind: 'agreement', id: archived.id, version: 1, isArchived: true },
    });
    await rep.ok('removeRecord', { body: { kind: 'agreement', id: gone.id, version: 1 } });
    await day('2026-12-01');
    expect(await dealCount()).toBe(0);
  });
});

test('an agreement that is given away takes its open renewal with it, and back when that is undone', async () => {
  const other = await installation.as('rep', 'Dara Finch');
  const made = await make();
  await day('2026-12-01');
  const changeId = '01900000-0000-7000-8000-0000000000c1';
  const body = { kind: 'agreement', ids: [made.id], ownerId: other.id };
  expect((await rep.call('giveRecords', { body, changeId })).body).toEqual({ given: 1, left: 0 });
  const ownersNow = async () => [
    (await other.ok('getAgreement', { params: { id: made.id } })).agreement.ownerId,
    (await renewalOf(made.id, other))!.ownerId,
  ];
  expect(await ownersNow()).toEqual([other.id, other.id]);
  await rep.ok('undoChange', { params: { id: changeId } });
  expect(await ownersNow()).toEqual([rep.id, rep.id]);
});

test('renewals begin in the pipeline that an admin says, and in one alone', async () => {
  const admin = await installation.as('admin');
  await make();
  await day('2026-12-01');
  const { pipelines } = await rep.ok('listDeals', { query: { owner: 'mine' } });
  const [sales] = pipelines;
  expect(pipelines.map(({ isForRenewals }) => isForRenewals)).toEqual([false, true]);
  await admin.ok('changeFlow', {
    params: { id: sales!.id },
    body: { version: sales!.version, movesOn: false, handsOnTo: null, isForRenewals: true },
  });
  const after = (await rep.ok('listDeals', { query: { owner: 'mine' } })).pipelines;
  expect(after.map(({ isForRenewals }) => isForRenewals)).toEqual([true, false]);
  const made = await make({ name: 'Filters' });
  const { dealId } = await rep.ok('openRenewal', { body: { agreementIds: [made.id] } });
  expect((await rep.ok('getDeal', { params: { id: dealId } })).stageId).toBe(sales!.stages[0]!.id);
});

describe('by a rule', () => {
  const step = {
    ...{ name: 'The renewal step', subject: 'agreement', if: null, isOn: true },
    ...{ when: { kind: 'event', event: 'agreement.due' }, then: [{ kind: 'renewal' }] },
  };
  const untilWorked = async (on: string) => {
    await day(on);
    for (let turn = 0; turn < 3; turn += 1) await installation.work();
  };

  test('of an admin’s renewals begin as it says, once each, and for those it leaves out not at all', async () => {
    const admin = await installation.as('admin');
    const asks = { join: 'all', rules: [{ field: 'name', ask: 'has', value: 'Service' }] };
    const rule = await admin.ok('addRule', { body: { ...step, if: asks } });
    expect((await admin.ok('listRules')).renewalStep).toEqual({ ruleId: rule.id, ruleName: rule.name });
    const [mine, other] = [await make({ name: 'Service' }), await make({ name: 'Filters' })];
    await untilWorked('2026-12-01');
    const deal = (await renewalOf(mine.id))!;
    expect(deal).toMatchObject({ type: 'renewal', amountMinor: 329_130, ownerId: rep.id });
    expect(await renewalOf(other.id)).toBeNull();
    await untilWorked('2026-12-02');
    expect(await dealCount()).toBe(1);
    const [fired] = (await admin.ok('listFirings', { params: { id: rule.id } })).firings;
    expect(fired).toMatchObject({ state: 'done', recordId: mine.id, words: 'its renewal begun' });
    expect(server.got.filter(({ subject }) => subject?.startsWith('A renewal comes up'))).toHaveLength(1);
    await admin.ok('undoFiring', { params: { id: rule.id, firingId: fired!.id } });
    expect(await dealCount()).toBe(0);
  });

  test.each(['off', 'removed', 'a manager’s', 'of somebody who has left'])(
    'that is %s nothing is lost: the step that ships begins them',
    async (how) => {
      const admin = await installation.as('admin', 'Petra Lindholm');
      const author = how === 'a manager’s' ? await installation.as('manager') : admin;
      const { id } = await author.ok('addRule', { body: { ...step, isOn: how !== 'off' } });
      if (how === 'removed') await admin.ok('removeRule', { params: { id } });
      if (how.startsWith('of'))
        await installation.services.database.change(
          "UPDATE app_user SET deactivated_at = '2026-11-24' WHERE id = :id",
          { id: bytesOf(admin.id) },
        );
      await make();
      await untilWorked('2026-12-01');
      expect(await dealCount()).toBe(1);
    },
  );
});

describe('once and only once', () => {
  test('however often the day’s work runs, on however many servers', async () => {
    for (let n = 0; n < 6; n += 1) await make({ name: `Service ${n}` });
    installation.clock.set('2026-12-01T09:10:00.000Z');
    for (let again = 0; again < 3; again += 1) {
      await Promise.all([askForDailyWork(installation.services), askForDailyWork(installation.services)]);
      await Promise.all([installation.work(), installation.workElsewhere(), installation.workElsewhere()]);
    }
    await day('2026-12-02');
    expect(await dealCount()).toBe(6);
  });

  test('whatever statement of it fails: nothing of it is there, and the next try makes it whole', async () => {
    const { database } = installation.services;
    const transaction = database.transaction.bind(database);
    let failed = 0;
    let at = 0;
    const made: AgreementRow[] = [];
    for (;;) {
      at += 1;
      made.push(await make({ name: `Service ${at}` }));
      const [agreement] = made.slice(-1);
      installation.clock.set('2026-12-01T09:10:00.000Z');
      await database.change("DELETE FROM job WHERE kind = 'agreements-day'");
      await askForDailyWork(installation.services);
      let count = 0;
      let isBroken = false;
      jest.spyOn(database, 'transaction').mockImplementation((run, options) =>
        transaction((tx) => {
          let isOurs = false;
          const change = tx.change.bind(tx);
          return run(
            Object.assign(Object.create(tx) as typeof tx, {
              change: async (sql: string, parameters?: never) => {
                if (sql.includes('INSERT INTO deal ')) isOurs = true;
                if (isOurs) count += 1;
                const answer = await change(sql, parameters);
                if (isOurs && count === at && !isBroken) {
                  isBroken = true;
                  failed += 1;
                  throw new Error('the line was cut');
                }
                return answer;
              },
            }),
          );
        }, options),
      );
      await installation.work();
      jest.restoreAllMocks();
      if (!isBroken) break;
      expect([at, await renewalOf(agreement!.id)]).toEqual([at, null]);
      installation.clock.set('2026-12-01T10:10:00.000Z');
      await installation.work();
      expect(await renewalOf(agreement!.id)).toMatchObject({ renews: [{ agreementId: agreement!.id }] });
      installation.clock.set('2026-11-24T09:10:00.000Z');
    }
    expect(failed).toBeGreaterThan(5);
    expect(await dealCount()).toBe(made.length);
  }, 120_000);

  test('a renewal that was undone does not come again by itself', async () => {
    const made = await make();
    await day('2026-12-01');
    const deal = (await renewalOf(made.id))!;
    const [row] = await installation.services.database.rows<{ set_id: Buffer }>(
      "SELECT set_id FROM change_row WHERE table_name = 'deal' AND op = 'insert' AND row_key = :key",
      { key: `{"id":"${deal.id.replaceAll('-', '').toUpperCase()}"}` },
    );
    const hex = row!.set_id.toString('hex');
    const id = [hex.slice(0, 8), hex.slice(8, 12), hex.slice(12, 16), hex.slice(16, 20), hex.slice(20)].join(
      '-',
    );
    await (await installation.as('admin')).ok('undoChange', { params: { id } });
    expect(await dealCount()).toBe(0);
    await day('2026-12-02');
    expect(await dealCount()).toBe(0);
  });
});

describe('what becomes of a renewal', () => {
  const begun = async (part: object = {}) => {
    const made = await make(part);
    await day('2026-12-01');
    return { made, deal: (await renewalOf(made.id))! };
  };
  const detailOf = (id: string, by = rep) => by.ok('getAgreement', { params: { id } });

  test('won early it has its next term, from the day the last one ends, for what the deal came to', async () => {
    const { made, deal } = await begun();
    await close(deal, { as: 'won', on: '2026-12-01', amountMinor: 350_000 });
    const detail = await detailOf(made.id);
    expect(detail.agreement).toMatchObject({ decision: 'renewed', termNumber: 1, valueMinor: 318_000 });
    expect(detail.terms.at(-1)).toMatchObject({
      ...{
        startsOn: '2027-03-01',
        endsOn: '2028-03-01',
        valueMinor: 350_000,
        how: 'renewed',
        deal: { id: deal.id },
      },
    });
    await day('2027-03-01');
    const reader = await installation.as('manager');
    expect((await detailOf(made.id, reader)).agreement).toMatchObject({
      termNumber: 2,
      valueMinor: 350_000,
      decision: 'open',
    });
  });

  test('with another length and value, as was agreed on', async () => {
    const { made, deal } = await begun();
    const renewed = [{ agreementId: made.id, months: 24, valueMinor: 600_000 }];
    await close(deal, { as: 'won', on: '2026-12-01', renewed });
    expect((await detailOf(made.id)).terms.at(-1)).toMatchObject({
      endsOn: '2029-03-01',
      yearlyMinor: 300_000,
    });
  });

  test('won late, when its term is over, the next begins where that ended', async () => {
    const { made, deal } = await begun({ renewsItself: false });
    await day('2027-03-20');
    const later = await installation.as('manager');
    expect((await detailOf(made.id, later)).agreement.state).toBe('over');
    const seen = await later.ok('getDeal', { params: { id: deal.id } });
    await close(seen, { as: 'won', on: '2027-03-20' }, later);
    expect((await detailOf(made.id, later)).agreement).toMatchObject({
      state: 'running',
      termNumber: 2,
      termStartsOn: '2027-03-01',
    });
  });

  test('won after it renewed itself, the term it rolled to is the one agreed on', async () => {
    const { made, deal } = await begun();
    await day('2027-03-05');
    const later = await installation.as('manager');
    expect((await detailOf(made.id, later)).terms.map(({ how }) => how)).toEqual(['first', 'rolled']);
    const seen = await later.ok('getDeal', { params: { id: deal.id } });
    await close(seen, { as: 'won', on: '2027-03-05', amountMinor: 300_000 }, later);
    const { terms: all, agreement } = await detailOf(made.id, later);
    expect(all).toMatchObject([
      { how: 'first' },
      { how: 'renewed', valueMinor: 300_000, startsOn: '2027-03-01' },
    ]);
    expect(agreement.valueMinor).toBe(300_000);
  });

  test('lost it ends with its term, for the reason it was lost for; opened again, it does not', async () => {
    const { made, deal } = await begun();
    await close(deal, { as: 'lost', on: '2026-12-01', reason: 'Price' });
    expect((await detailOf(made.id)).agreement).toMatchObject({
      leavesOn: '2027-03-01',
      endReason: 'Price',
      decision: 'leaving',
    });
    await rep.ok('reopenDeal', {
      params: { id: deal.id },
      body: { next: { kind: 'none', reason: 'they think again' } },
    });
    expect((await detailOf(made.id)).agreement).toMatchObject({ leavesOn: null, decision: 'open' });
  });

  test('what was won is undone whole', async () => {
    const { made, deal } = await begun();
    await close(deal, { as: 'won', on: '2026-12-01' });
    await rep.ok('undoClose', { params: { id: deal.id } });
    const detail = await detailOf(made.id);
    expect([detail.terms.length, detail.agreement.decision]).toEqual([1, 'open']);
  });

  test('several of a customer are renewed in one deal and come to one day; the parts add up to its value', async () => {
    const contact = await aContact(rep);
    const one = await make({ upliftBy: 0 }, contact.id);
    const other = await make(
      { name: 'Filters', startsOn: '2026-06-01', valueMinor: 100_000, upliftBy: 0 },
      contact.id,
    );
    const { dealId } = await rep.ok('openRenewal', { body: { agreementIds: [one.id, other.id] } });
    const deal = await rep.ok('getDeal', { params: { id: dealId } });
    expect(deal).toMatchObject({ amountMinor: 418_000, renews: [{}, {}] });
    const renewed = [
      { agreementId: one.id, until: '2027-06-01', valueMinor: 80_156 },
      { agreementId: other.id, months: 12, valueMinor: 100_000 },
    ];
    await close(deal, { as: 'won', on: '2026-11-24', renewed });
    expect((await detailOf(one.id)).terms.at(-1)).toMatchObject({
      endsOn: '2027-06-01',
      months: null,
      yearlyMinor: 318_010,
    });
    await day('2026-12-01');
    expect(await dealCount()).toBe(1);
  });

  test('of several without a word the value is shared out to the penny', async () => {
    const contact = await aContact(rep);
    const all = [];
    for (const name of ['A', 'B', 'C'])
      all.push(await make({ name, upliftBy: 0, valueMinor: 100_000 }, contact.id));
    const { dealId } = await rep.ok('openRenewal', { body: { agreementIds: all.map(({ id }) => id) } });
    const deal = await rep.ok('getDeal', { params: { id: dealId } });
    await close(deal, { as: 'won', on: '2026-11-24', amountMinor: 100_000 });
    const values = [];
    for (const { id } of all) values.push((await detailOf(id)).terms.at(-1)!.valueMinor);
    expect(values.sort()).toEqual([33_333, 33_333, 33_334]);
  });

  test.each([
    ['of several customers', async () => [await make(), await make()], 'of several customers'],
    [
      'that are renewed already',
      async () => {
        const made = await make();
        await rep.ok('openRenewal', { body: { agreementIds: [made.id] } });
        return [made];
      },
      'has an open renewal already',
    ],
  ])('agreements %s are refused', async (_, given, why) => {
    const agreementIds = (await given()).map(({ id }) => id);
    const refused = await rep.call('openRenewal', { body: { agreementIds } });
    expect([refused.status, refused.body.fields[0].path]).toEqual([400, 'agreementIds']);
    expect(refused.body.fields[0].message).toContain(why);
  });
});

describe('check-ins within a term', () => {
  const checkIns = async () =>
    installation.services.database.rows<{ purpose: string; due_on: string }>(
      "SELECT purpose, due_on FROM task WHERE purpose LIKE 'Check-in%' ORDER BY due_on",
    );

  test('are tasks of their own, every so many months, once each, and none in the time to talk', async () => {
    await make({ startsOn: '2026-11-01', checkInMonths: 3 });
    for (const on of ['2027-01-31', '2027-02-01', '2027-02-02', '2027-05-01', '2027-08-02', '2027-10-01'])
      await day(on);
    // 1 May is a Saturday, and Monday 3 May a bank holiday.
    expect((await checkIns()).map(({ due_on: on }) => on)).toEqual([
      '2027-02-01',
      '2027-05-04',
      '2027-08-02',
    ]);
  });
});

describe('what is at stake', () => {
  test('by window, by month and by owner, with the chance that each leaves', async () => {
    await make({ name: 'Soon' });
    const over = await make({
      name: 'Over',
      startsOn: '2025-11-01',
      renewsItself: false,
      valueMinor: 100_000,
    });
    const lost = await make({ name: 'Lost', startsOn: '2025-09-01', valueMinor: 200_000, upliftBy: 0 });
    await rep.ok('endAgreement', {
      params: { id: lost.id },
      body: {
        version: lost.version,
        by: 'customer',
        noticeOn: null,
        leavesOn: '2026-11-01',
        reason: 'price',
      },
    });
    await day('2026-12-02');
    const ahead = await rep.ok('readRenewals', { query: { owner: 'mine' } });
    const windows = Object.fromEntries(
      ahead.windows.map(({ window, count, yearlyHomeMinor }) => [window, [count, yearlyHomeMinor]]),
    );
    expect(windows).toEqual({
      lead: [1, 318_000],
      notice: [1, 318_000],
      over: [1, 100_000],
      renewed: [0, 0],
      lost: [1, 200_000],
    });
    const [december] = ahead.months;
    expect(december).toMatchObject({ month: '2026-12-01', count: 1, openMinor: 318_000, renewedMinor: 0 });
    expect(december!.atRiskMinor).toBeGreaterThan(0);
    expect(ahead.owners).toMatchObject([{ userId: rep.id, count: 1, yearlyHomeMinor: 318_000 }]);
    const listed = await rep.ok('listAgreements', { query: { window: 'over' } });
    expect(listed.rows.map(({ id }) => id)).toEqual([over.id]);
  });

  test('retention adds up to the penny, and each figure opens its customers', async () => {
    const [keeps, leaves] = [await aContact(rep), await aContact(rep)];
    await make({ startsOn: '2025-09-01', valueMinor: 100_000, upliftBy: 1000 }, keeps.id);
    const gone = await make(
      { name: 'Filters', startsOn: '2025-09-01', valueMinor: 40_000, upliftBy: 0 },
      leaves.id,
    );
    await rep.ok('endAgreement', {
      params: { id: gone.id },
      body: {
        version: gone.version,
        by: 'customer',
        noticeOn: null,
        leavesOn: '2026-10-15',
        reason: 'moved away',
      },
    });
    const query = { owner: 'all', from: '2026-01-01', months: '12' };
    const { months, whole, cohorts } = await rep.ok('customerRetention', { query });
    for (const [at, month] of months.entries()) {
      const { start, end, expansion, contraction, churn, back } = month;
      expect(start + month.new + back + expansion - contraction - churn).toBe(end);
      if (at > 0) expect(start).toBe(months[at - 1]!.end);
    }
    expect(months[8]).toMatchObject({ month: '2026-09-01', start: 140_000, expansion: 10_000, end: 150_000 });
    expect(months[9]).toMatchObject({ churn: 40_000, gross: expect.closeTo(110 / 150, 10) });
    expect(whole).toMatchObject({ start: 140_000, end: 110_000, expansion: 10_000, churn: 40_000 });
    expect(cohorts).toEqual([]);
    const { rows } = await rep.ok('customerRetentionRecords', {
      query: { owner: 'all', from: '2026-10-01', months: '1', kind: 'churn' },
    });
    expect(rows).toMatchObject([
      {
        before: 40_000,
        after: 0,
        companyId: leaves.companyId,
        agreements: [{ id: gone.id, endReason: 'moved away' }],
      },
    ]);
    const wrong = await rep.call('customerRetention', { query: { ...query, from: '2026-01-02' } });
    expect([wrong.status, wrong.body.fields[0].path]).toEqual([400, 'from']);
  });
});

test('what is begun stands in the journal of the deal', async () => {
  const contact = await aContact(rep);
  await make({}, contact.id);
  await day('2026-12-01');
  const bodies = (await journalOf(rep, { contactId: contact.id })).map(({ body }) => body);
  expect(
    bodies.some((body) => body.includes('Yearly service: £3,180 for 12 months, with us since 2026-03-01')),
  ).toBe(true);
});
