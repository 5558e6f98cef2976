import type { AgreementDetail, AgreementRow } from '@kettle/contract';
import { randomUUID } from 'node:crypto';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, journalOf } from '../../../testing/people';
import { enqueue, oncePerDay } from '../../platform/jobs/job-table';

let installation: Installation;
let rep: Caller;
beforeEach(async () => {
  installation = await install();
  rep = await installation.as('rep');
  installation.clock.set('2026-11-24T09:10:00.000Z');
});
afterEach(() => installation.close());

const terms = {
  ...{ name: 'Yearly service', startsOn: '2026-03-01', termMonths: 12, valueMinor: 318_000 },
  ...{ noticeDays: 60, leadDays: 30, renewsItself: true },
};
const make = async (part: object = {}, contactId?: string): Promise<AgreementRow> =>
  rep.ok('createAgreement', {
    body: { ...terms, contactId: contactId ?? (await aContact(rep)).id, ...part },
  });
const read = (id: string, by = rep): Promise<AgreementDetail> => by.ok('getAgreement', { params: { id } });
/** What a day brings for agreements alone. */
async function day(on: string): Promise<void> {
  installation.clock.set(`${on}T09:10:00.000Z`);
  await enqueue(installation.services.database, oncePerDay('agreements-day', installation.clock.now()));
  await installation.work();
}
const termsOf = ({ terms: all }: AgreementDetail) =>
  all.map(({ startsOn, endsOn, valueMinor, how }) => [startsOn, endsOn, valueMinor, how]);

describe('a chain of terms', () => {
  test('one that began years ago and renews itself has rolled on to today, with its uplift', async () => {
    const made = await make({ startsOn: '2024-01-31', termMonths: 12, upliftKind: 'percent', upliftBy: 350 });
    expect(made).toMatchObject({
      termNumber: 3,
      termStartsOn: '2026-01-31',
      endsOn: '2027-01-31',
      state: 'running',
    });
    expect(termsOf(await read(made.id))).toEqual([
      ['2024-01-31', '2025-01-31', 318_000, 'first'],
      ['2025-01-31', '2026-01-31', 329_130, 'rolled'],
      ['2026-01-31', '2027-01-31', 340_650, 'rolled'],
    ]);
    expect(made.valueMinor).toBe(340_650);
  });

  test('two months that end by themselves are not shown as a yearly value', async () => {
    const made = await make({
      termMonths: 2,
      renewsItself: false,
      startsOn: '2026-11-01',
      valueMinor: 50_000,
    });
    expect(made).toMatchObject({ valueMinor: 50_000, yearlyMinor: 50_000, yearlyHomeMinor: 50_000 });
    expect(await make({ termMonths: 2, valueMinor: 50_000 })).toMatchObject({ yearlyMinor: 300_000 });
  });

  test('for ten years none is lost from the list on any day, and each is in the term it should be', async () => {
    const rolls = await make({ startsOn: '2026-01-31', termMonths: 1, noticeDays: 5, leadDays: 5 });
    const yearly = await make({ startsOn: '2024-02-29' });
    const once = await make({ renewsItself: false, startsOn: '2026-06-30', termMonths: 6 });
    const left = await make({ startsOn: '2026-05-31', termMonths: 3 });
    await rep.ok('endAgreement', {
      params: { id: left.id },
      body: { version: left.version, by: 'customer', noticeOn: '2026-11-20', reason: 'price' },
    });
    // Some months are missed: the server was off.
    for (let month = 0; month < 120; month += month % 7 === 3 ? 3 : 1) {
      const on = new Date(Date.UTC(2026, 11 + month, 1 + (month % 28))).toISOString().slice(0, 10);
      await day(on);
      const ids = (await (await installation.as('manager')).ok('listAgreements', { query: { owner: 'all' } }))
        .rows;
      const of = (id: string) => ids.find((row) => row.id === id);
      expect([of(rolls.id)?.state, of(yearly.id)?.state]).toEqual(['running', 'running']);
      for (const id of [rolls.id, yearly.id]) {
        expect(of(id)!.termStartsOn <= on).toBe(true);
        expect(of(id)!.endsOn > on).toBe(true);
      }
      expect(of(once.id)?.state).toBe(on < '2026-12-30' ? 'running' : 'over');
      expect(of(left.id) === undefined).toBe(on >= '2027-02-28');
    }
    const reader = await installation.as('manager');
    const { terms: months } = await read(rolls.id, reader);
    expect(months.slice(0, 3).map(({ endsOn }) => endsOn)).toEqual([
      '2026-02-28',
      '2026-03-31',
      '2026-04-30',
    ]);
    expect(months).toHaveLength(months.at(-1)!.number);
    expect((await read(yearly.id, reader)).terms.map(({ endsOn }) => endsOn).slice(0, 4)).toEqual([
      '2025-02-28',
      '2026-02-28',
      '2027-02-28',
      '2028-02-29',
    ]);
  }, 120_000);

  test('made at winning it has the deal’s value and its lines by the year', async () => {
    const contact = await aContact(rep);
    const deal = await aDeal(rep, contact.id, {
      lines: [
        { productId: null, name: 'Softener', quantity: 1, priceMinor: 90_000, billing: 'once' },
        { productId: null, name: 'Service', quantity: 2, priceMinor: 24_000, billing: 'yearly' },
      ],
    });
    const made = await make({ dealId: deal.id, valueMinor: 48_000 }, contact.id);
    const detail = await read(made.id);
    expect(detail.lines).toMatchObject([{ name: 'Service', quantity: 2, totalMinor: 48_000 }]);
    expect(detail.deal).toMatchObject({ id: deal.id });
    const lines = [
      { productId: null, name: 'Two visits', quantity: 2, priceMinor: 30_000, billing: 'yearly' },
    ];
    const after = await rep.ok('setAgreementLines', { params: { id: made.id }, body: { version: 1, lines } });
    expect(after.lines).toMatchObject([{ name: 'Two visits', totalMinor: 60_000 }]);
    expect(after.agreement.valueMinor).toBe(48_000);
  });
});

describe('more or less within a term', () => {
  const change = (id: string, body: object, changeId?: string) =>
    rep.call('changeTermValue', {
      params: { id },
      body: { version: 1, words: '', ...body },
      ...(changeId && { changeId }),
    });

  test('holds from its day, in the past or to come, and is undone', async () => {
    const contact = await aContact(rep);
    const made = await make({}, contact.id);
    const changeId = randomUUID();
    const reply = await change(
      made.id,
      { on: '2026-09-01', valueMinor: 400_000, words: 'a second softener' },
      changeId,
    );
    expect(reply.body.agreement).toMatchObject({ valueMinor: 400_000, yearlyMinor: 400_000, version: 2 });
    expect((await journalOf(rep, { contactId: contact.id }))[0]!.body).toBe(
      'Agreement “Yearly service”: £4,000 a term from 2026-09-01 on. a second softener',
    );
    await rep.ok('undoChange', { params: { id: changeId } });
    expect((await read(made.id)).agreement).toMatchObject({ valueMinor: 318_000, yearlyMinor: 318_000 });
    const { version } = (await read(made.id)).agreement;
    const later = { version, on: '2026-12-01', valueMinor: 200_000 };
    await rep.ok('changeTermValue', { params: { id: made.id }, body: later });
    expect((await read(made.id)).agreement.valueMinor).toBe(318_000);
    await day('2026-12-01');
    expect((await read(made.id)).agreement).toMatchObject({ valueMinor: 200_000, yearlyHomeMinor: 200_000 });
  });

  test.each([
    ['before the start', '2026-02-28', 'lies before the start, 2026-03-01'],
    ['after the term', '2027-03-01', 'renew the agreement first'],
  ])('%s is refused at its day', async (_, on, why) => {
    const made = await make();
    const refused = await change(made.id, { on, valueMinor: 1 });
    expect([refused.status, refused.body.fields[0].path]).toEqual([400, 'on']);
    expect(refused.body.fields[0].message).toContain(why);
  });

  test('over a version that another changed is refused', async () => {
    const made = await make();
    await rep.ok('changeAgreement', { params: { id: made.id }, body: { version: 1, name: 'Other' } });
    expect((await change(made.id, { on: '2026-09-01', valueMinor: 1 })).body.code).toBe('stale');
  });
});

describe('an end', () => {
  const end = (id: string, body: object) =>
    rep.call('endAgreement', {
      params: { id },
      body: { version: 1, by: 'customer', noticeOn: null, reason: 'price', ...body },
    });

  test.each([
    ['a notice in time ends it with the term', '2026-11-20', '2027-03-01'],
    ['one that came too late with the term after', '2026-12-31', '2027-03-01'],
    ['', '2027-01-04', '2028-03-01'],
  ])('%s', async (_, noticeOn, leavesOn) => {
    installation.clock.set('2027-01-10T09:10:00.000Z');
    const at = await installation.as('rep');
    const made = await at.ok('createAgreement', { body: { ...terms, contactId: (await aContact(at)).id } });
    const reply = await at.ok('endAgreement', {
      params: { id: made.id },
      body: { version: 1, by: 'customer', noticeOn, reason: 'price' },
    });
    expect(reply.agreement).toMatchObject({ leavesOn, noticeOn, decision: 'leaving', endReason: 'price' });
  });

  test('in mid-term by a day agreed on; on that day it has ended', async () => {
    const made = await make();
    const reply = await end(made.id, { leavesOn: '2026-12-31', by: 'us', words: 'the house is sold' });
    expect(reply.body.agreement).toMatchObject({ state: 'running', leavesOn: '2026-12-31', endedBy: 'us' });
    await day('2026-12-31');
    expect((await read(made.id, await installation.as('manager'))).agreement.state).toBe('ended');
    await day('2028-12-31');
    expect((await read(made.id, await installation.as('manager'))).terms).toHaveLength(1);
  });

  test('is taken back when they stay', async () => {
    const made = await make();
    await end(made.id, {});
    const kept = await rep.ok('keepAgreement', { params: { id: made.id }, body: { version: 2 } });
    expect(kept.agreement).toMatchObject({ leavesOn: null, decision: 'open', endReason: null });
    const again = await rep.call('keepAgreement', { params: { id: made.id }, body: { version: 3 } });
    expect(again.status).toBe(400);
  });

  test.each([
    ['noticeOn', { noticeOn: '2026-11-25' }, 'lies in the future'],
    ['leavesOn', { leavesOn: '2026-03-01' }, 'must lie after the start'],
    ['reason', { reason: '' }, ''],
  ])('a wrong %s is refused there', async (path, part, why) => {
    const made = await make();
    const refused = await end(made.id, part);
    expect([refused.status, refused.body.fields[0].path]).toEqual([400, path]);
    expect(refused.body.fields[0].message).toContain(why);
  });

  test('after the term of one that does not renew itself is refused', async () => {
    const made = await make({ renewsItself: false });
    expect((await end(made.id, { leavesOn: '2027-06-01' })).body.fields[0].message).toContain(
      'does not renew itself',
    );
  });
});

test('whoever may not change the agreement changes none of it', async () => {
  const made = await make();
  const other = await installation.as('rep');
  const calls = [
    other.call('changeTermValue', {
      params: { id: made.id },
      body: { version: 1, on: '2026-09-01', valueMinor: 1, words: '' },
    }),
    other.call('endAgreement', {
      params: { id: made.id },
      body: { version: 1, by: 'us', noticeOn: null, reason: 'x' },
    }),
    other.call('setAgreementLines', { params: { id: made.id }, body: { version: 1, lines: [] } }),
    other.call('openRenewal', { body: { agreementIds: [made.id] } }),
  ];
  expect((await Promise.all(calls)).map(({ status }) => status)).toEqual([403, 403, 403, 403]);
  expect((await read(made.id)).agreement.version).toBe(1);
});

test('lines that come to more than an amount can be are refused there, as a deal’s are', async () => {
  const made = await make();
  const line = { name: 'Basin', quantity: 1_000_000, priceMinor: 900_000_000, billing: 'yearly' };
  const lines = Array.from({ length: 100 }, () => line);
  const refused = await rep.call('setAgreementLines', {
    params: { id: made.id },
    body: { version: 1, lines },
  });
  expect([refused.status, refused.body.fields[0].path]).toEqual([400, 'lines']);
});

test('files hang on it', async () => {
  const made = await make();
  const kept = await rep.upload({ agreementId: made.id, name: 'signed.pdf' }, Buffer.from('%PDF-1.7 signed'));
  expect(kept.status).toBe(200);
  const { files } = await rep.ok('listFiles', { query: { agreementId: made.id } });
  expect(files.map(({ name }) => name)).toEqual(['signed.pdf']);
});
