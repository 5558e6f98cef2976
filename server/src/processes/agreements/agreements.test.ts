import { randomUUID } from 'node:crypto';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, journalOf } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep');
});
beforeEach(() => installation.clock.set('2026-11-24T09:10:00.000Z'));
afterAll(() => installation.close());

const terms = {
  name: 'Yearly service',
  startsOn: '2026-03-01',
  termMonths: 12,
  valueMinor: 318_000,
  noticeDays: 60,
  leadDays: 30,
  renewsItself: true,
};
const make = (contactId: string, part: object = {}, by = rep) =>
  by.ok('createAgreement', { body: { ...terms, contactId, ...part } });
const list = async (query: object, by = rep) =>
  (await by.ok('listAgreements', { query: { owner: 'all', ...query } })).rows;

test('dates follow from its term: the end, the last day to give notice on a working day, the day to begin', async () => {
  const contact = await aContact(rep);
  // It runs to 1 March 2027; sixty days before is Thursday 31 December.
  expect(await make(contact.id)).toMatchObject({
    companyId: contact.companyId,
    contactName: contact.name,
    endsOn: '2027-03-01',
    noticeDeadlineOn: '2026-12-31',
    leadOn: '2026-12-01',
    version: 1,
  });
});

test('of somebody without a company it is theirs alone, listed by them and not by a firm', async () => {
  const person = await aContact(rep, { companyName: null });
  const made = await make(person.id, { name: 'Softener at home' });
  expect([made.companyId, made.companyName]).toEqual([null, null]);
  expect((await list({ contactId: person.id })).map(({ id }) => id)).toEqual([made.id]);
  const [entry] = await journalOf(rep, { contactId: person.id });
  expect(entry!.body).toBe('Agreement “Softener at home” from 2026-03-01');
});

test('mine are those I own; one whose term is over is listed still, and one that has left is not', async () => {
  const other = await installation.as('rep');
  const [mine, theirs] = [
    await make((await aContact(rep)).id, { renewsItself: false }),
    await make((await aContact(other)).id, {}, other),
  ];
  const ids = (await list({ owner: 'mine' })).map(({ id }) => id);
  expect([ids.includes(mine.id), ids.includes(theirs.id)]).toEqual([true, false]);
  installation.clock.set('2027-03-02T09:10:00.000Z');
  const later = await installation.as('manager');
  const listed = async (window?: string) => (await list({ window }, later)).map(({ id }) => id);
  expect(await listed()).toContain(mine.id);
  expect(await listed('over')).toEqual([mine.id]);
  await later.ok('endAgreement', {
    params: { id: mine.id },
    body: { version: mine.version, by: 'customer', noticeOn: null, leavesOn: '2027-03-01', reason: 'price' },
  });
  expect(await listed()).not.toContain(mine.id);
  expect(await listed('lost')).toEqual([mine.id]);
});

test('what a private customer pays a year is at stake when they have gone quiet, as a firm’s is', async () => {
  const [paying, other] = [
    await aContact(rep, { companyName: null, checkInDays: 10 }),
    await aContact(rep, { companyName: null, checkInDays: 10 }),
  ];
  await make(paying.id, { valueMinor: 1_200_000 });
  installation.clock.set('2026-12-21T09:10:00.000Z');
  const manager = await installation.as('manager');
  const { above, below } = await manager.ok('round', { query: { owner: rep.id } });
  const rows = [...above, ...below];
  const stakeOf = (id: string) => rows.find((row) => row.contactId === id)!.arithmetic.stakeMinor;
  expect(stakeOf(paying.id)).toBeGreaterThan(stakeOf(other.id));
});

test.each([
  ['termMonths', { termMonths: 0 }],
  ['valueMinor', { valueMinor: -5 }],
  ['startsOn', { startsOn: '2026-02-30' }],
  ['name', { name: '' }],
])('a wrong %s is refused at that field, and nothing is written', async (path, part) => {
  const contact = await aContact(rep);
  const refused = await rep.call('createAgreement', { body: { ...terms, contactId: contact.id, ...part } });
  expect([refused.status, refused.body.fields[0].path]).toEqual([400, path]);
  expect(await list({ contactId: contact.id })).toEqual([]);
});

test('made for a deal it hangs on it, and the deal names it', async () => {
  const contact = await aContact(rep);
  const deal = await aDeal(rep, contact.id);
  const made = await make(contact.id, { dealId: deal.id });
  expect(await rep.ok('getDeal', { params: { id: deal.id } })).toMatchObject({ agreementId: made.id });
});

test('is listed by notice deadline, the soonest first', async () => {
  const contact = await aContact(rep);
  const short = { noticeDays: 10, leadDays: 5 };
  await make(contact.id, { ...short, startsOn: '2026-06-01' });
  await make(contact.id, { ...short, startsOn: '2026-03-01' });
  const rows = await list({ companyId: contact.companyId! });
  expect(rows.map((row) => row.noticeDeadlineOn)).toEqual(['2027-02-19', '2027-05-21']);
});

test('is made by whoever may change the contact alone', async () => {
  const contact = await aContact(rep);
  const other = await installation.as('rep');
  const refused = await other.call('createAgreement', { body: { ...terms, contactId: contact.id } });
  expect([refused.status, refused.body.code]).toEqual([403, 'not-yours']);
});

test('a number out of its range is refused in plain words', async () => {
  const contact = await aContact(rep);
  const wrong = async (part: object) => {
    const body = { ...terms, contactId: contact.id, ...part };
    return (await rep.call('createAgreement', { body })).body.fields;
  };
  expect(await wrong({ termMonths: 0 })).toEqual([{ path: 'termMonths', message: 'must be at least 1' }]);
  expect(await wrong({ noticeDays: 731 })).toEqual([{ path: 'noticeDays', message: 'must be at most 730' }]);
});

describe('a change of what it says', () => {
  const change = (id: string, body: object, by = rep) => by.call('changeAgreement', { params: { id }, body });

  test('moves its dates, stands in the journal, and is undone', async () => {
    const contact = await aContact(rep);
    const made = await make(contact.id);
    const changeId = randomUUID();
    const body = { version: 1, termMonths: 24, valueMinor: 600_000, renewsItself: false };
    const reply = await rep.call('changeAgreement', { params: { id: made.id }, body, changeId });
    // Two years from 1 March 2026; sixty days before 1 March 2028 is 1 January, a holiday and a Saturday.
    expect(reply.body).toMatchObject({
      ...{ endsOn: '2028-03-01', noticeDeadlineOn: '2027-12-31', leadOn: '2027-12-01' },
      ...{ valueMinor: 600_000, renewsItself: false, version: 2, name: 'Yearly service' },
    });
    const [entry] = await journalOf(rep, { contactId: contact.id });
    expect(entry!.body).toBe(
      'Agreement “Yearly service”: Months: 12 → 24; Value: £3,180 → £6,000; Renews itself: yes → no',
    );
    await rep.ok('undoChange', { params: { id: changeId } });
    const [back] = await list({ contactId: contact.id });
    expect(back).toMatchObject({ endsOn: made.endsOn, valueMinor: 318_000, renewsItself: true });
  });

  test('meets another’s change field by field', async () => {
    const made = await make((await aContact(rep)).id);
    const manager = await installation.as('manager');
    expect((await change(made.id, { version: 1, valueMinor: 400_000 })).status).toBe(200);
    expect((await change(made.id, { version: 1, noticeDays: 90 }, manager)).body).toMatchObject({
      ...{ valueMinor: 400_000, noticeDays: 90, noticeDeadlineOn: '2026-12-01' },
    });
    const refused = await change(made.id, { version: 1, valueMinor: 300_000 }, manager);
    expect([refused.status, refused.body.code]).toEqual([409, 'stale']);
    expect(refused.body.fields).toMatchObject([{ path: 'valueMinor' }]);
  });

  test.each([
    [{ termMonths: 0 }, 'termMonths'],
    [{ name: '' }, 'name'],
    [{ startsOn: '2026-02-30' }, 'startsOn'],
    [{ noticeDays: 800 }, 'noticeDays'],
  ])('%j is refused at its field', async (part, path) => {
    const made = await make((await aContact(rep)).id);
    const refused = await change(made.id, { version: 1, ...part });
    expect([refused.status, refused.body.fields[0].path]).toEqual([400, path]);
  });

  test('is for its owner and who leads them', async () => {
    const made = await make((await aContact(rep)).id);
    const refused = await change(made.id, { version: 1, name: 'Mine now' }, await installation.as('rep'));
    expect([refused.status, refused.body.code]).toEqual([403, 'not-yours']);
  });
});
