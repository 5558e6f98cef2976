import { randomUUID } from 'node:crypto';
import type { Removable } from '@kettle/contract';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, aLead, aLog, journalOf } from '../../../testing/people';
import { wholeState } from '../../../testing/whole-state';

let installation: Installation;
let rep: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep', 'Imogen Thorne');
});
beforeEach(() => installation.clock.set('2026-11-24T09:10:00.000Z'));
afterAll(() => installation.close());

interface Seen {
  readonly id: string;
  readonly version: number;
}
const put = async (kind: Removable, { id, version }: Seen, isArchived: boolean, by = rep) => {
  const changeId = randomUUID();
  const { status, body } = await by.call('archiveRecord', {
    body: { kind, id, version, isArchived },
    changeId,
  });
  return {
    changeId,
    status,
    code: body.code as string | undefined,
    words: (body.detail ?? body.words) as string,
  };
};
const archive = (kind: Removable, seen: Seen, by = rep) => put(kind, seen, true, by);
const read = (id: string) => rep.ok('getContact', { params: { id } });
const readDeal = (id: string) => rep.ok('getDeal', { params: { id } });
const undo = (changeId: string) => rep.ok('undoChange', { params: { id: changeId } });
const listed = async (query: object) => (await rep.ok('listContacts', { query })).rows.map(({ id }) => id);
const counted = (query: object = {}) => rep.ok('countContacts', { query });
const inRound = async (contactId: string) => {
  const { above, below } = await rep.ok('round');
  return [...above, ...below].some((row) => row.contactId === contactId);
};
const leadOf = (contactId: string) =>
  rep.ok('createLead', { body: { subject: 'a softener', contactId, ownerId: rep.id } });
const agree = (contactId: string) =>
  rep.ok('createAgreement', {
    body: {
      name: 'Yearly service',
      contactId,
      startsOn: '2026-03-01',
      termMonths: 12,
      valueMinor: 120_000,
      noticeDays: 90,
      leadDays: 30,
      renewsItself: true,
    },
  });

describe('a contact', () => {
  test('made one with somebody who is not archived is not archived either', async () => {
    const [kept, gone] = [await aContact(rep), await aContact(rep)];
    await archive('contact', await read(kept.id));
    const { version } = await read(kept.id);
    await rep.ok('mergeContacts', {
      body: { keepId: kept.id, keepVersion: version, goneId: gone.id, goneVersion: gone.version, take: [] },
    });
    expect((await read(kept.id)).archivedAt).toBeNull();
  });

  test('is in no list, count, group or Round, and is found by search, last and marked', async () => {
    const [contact, other] = [
      await aContact(rep, { familyName: 'Quillon', checkInDays: 5 }),
      await aContact(rep, { familyName: 'Quillon', givenName: 'Zoe' }),
    ];
    installation.clock.set('2026-12-01T09:10:00.000Z');
    expect(await inRound(contact.id)).toBe(true);
    const before = await counted();
    expect((await archive('contact', await read(contact.id))).status).toBe(200);
    expect(await listed({ q: 'quillon' })).toEqual([other.id]);
    expect(await listed({ q: 'quillon', archived: 'yes' })).toEqual([contact.id]);
    expect((await counted({ q: 'quillon' })).found).toBe(1);
    installation.clock.set('2026-12-01T09:11:00.000Z');
    expect((await counted()).total).toBe(before.total - 1);
    expect(await inRound(contact.id)).toBe(false);
    const { hits } = await rep.ok('search', { query: { q: 'quillon' } });
    expect(hits.map(({ id }) => id)).toEqual([other.id, contact.id]);
    expect(hits[1]!.words).toContain('archived');
  });

  test('takes its steps and cadences along; the undo brings all of it back, to the row', async () => {
    const contact = await aContact(rep);
    await aLog(rep, contact.id, { body: 'hello', outcomeId: 'call-spoke' });
    await rep.ok('createTask', {
      body: { contactId: contact.id, channel: 'call', purpose: 'ask', dueOn: '2026-11-30', minutes: 5 },
    });
    const { cadences } = await rep.ok('listCadences');
    await rep.ok('startRuns', {
      params: { id: cadences[0]!.id },
      body: { requestId: randomUUID(), versionId: cadences[0]!.versionId, contactIds: [contact.id] },
    });
    const before = await wholeState(installation.services.database);
    const { changeId } = await archive('contact', await read(contact.id));
    const after = await read(contact.id);
    expect([after.tether.nextStepOn, after.archivedAt]).toEqual([null, '2026-11-24T09:10:00.000Z']);
    const { runs } = await rep.ok('listRuns', { query: { contactId: contact.id } });
    expect(runs.map((run) => [run.status, run.exitReason])).toEqual([
      ['stopped', 'archived by Imogen Thorne'],
    ]);
    const words = (await journalOf(rep, { contactId: contact.id })).map(({ body }) => body);
    expect(words).toContain(`${contact.name} archived`);
    await undo(changeId);
    expect(await wholeState(installation.services.database)).toEqual(before);
  });

  test('with an open deal, a running agreement or a live lead it is refused, and the reason names it', async () => {
    const contact = await aContact(rep);
    const lead = await leadOf(contact.id);
    const refused = async () => {
      const { code, words } = await archive('contact', await read(contact.id));
      expect(code).toBe('not-finished');
      return words;
    };
    expect(await refused()).toContain('the lead “a softener” is neither qualified nor set aside');
    await rep.ok('setLeadAside', { params: { id: lead.id }, body: { reason: 'no' } });
    const agreement = await agree(contact.id);
    expect(await refused()).toContain('the agreement “Yearly service” runs until 2027-03-01');
    expect((await archive('agreement', agreement)).status).toBe(200);
    const deal = await aDeal(rep, contact.id, { name: 'Big softener' });
    expect(await refused()).toContain('the deal “Big softener” is open');
    const lost = { version: deal.version, as: 'lost', on: '2026-11-24', reason: 'price', words: '' };
    await rep.ok('closeDeal', { params: { id: deal.id }, body: lost });
    expect((await archive('contact', await read(contact.id))).status).toBe(200);
  });

  test.each([
    ['an entry', (id: string) => aLog(rep, id, { body: 'hello again', outcomeId: 'call-spoke' })],
    ['a deal', (id: string) => aDeal(rep, id)],
    ['a lead', (id: string) => leadOf(id)],
    ['an agreement', (id: string) => agree(id)],
    [
      'a task',
      (id: string) =>
        rep.ok('createTask', {
          body: { contactId: id, channel: 'call', purpose: 'ask', dueOn: '2026-11-30', minutes: 5 },
        }),
    ],
  ])('is back with %s, and the journal says why', async (_, act) => {
    const contact = await aContact(rep);
    await archive('contact', await read(contact.id));
    await act(contact.id);
    expect((await read(contact.id)).archivedAt).toBeNull();
    const words = (await journalOf(rep, { contactId: contact.id })).map(({ body }) => body);
    expect(words).toContain(`${contact.name} is out of the archive: something happens here again`);
  });

  test('stays archived when only its fields change, and its undo is refused once it is back', async () => {
    const contact = await aContact(rep);
    const { changeId } = await archive('contact', await read(contact.id));
    const { version } = await read(contact.id);
    const cell = { version, field: 'jobTitle', value: 'Owner' };
    await rep.ok('changeCell', { params: { id: contact.id }, body: cell });
    expect((await read(contact.id)).archivedAt).not.toBeNull();
    await aLog(rep, contact.id, { body: 'hello again', outcomeId: 'call-spoke' });
    const refused = await rep.call('undoChange', { params: { id: changeId } });
    expect(refused.body.code).toBe('cannot-undo');
  });

  test('is taken out by hand; a colleague’s and a stale one are refused', async () => {
    const contact = await aContact(rep);
    const other = await installation.as('rep');
    expect((await archive('contact', contact, other)).code).toBe('not-yours');
    expect((await archive('contact', { id: contact.id, version: 9 })).code).toBe('stale');
    await archive('contact', await read(contact.id));
    expect((await put('contact', await read(contact.id), false)).words).toBe(
      `${contact.name} is out of the archive.`,
    );
    expect((await read(contact.id)).archivedAt).toBeNull();
  });
});

test('a company is listed apart, keeps its people, and is back with a new person of its', async () => {
  const contact = await aContact(rep, { companyName: 'Ostler Dye Works' });
  const read = async () => (await rep.ok('getCompany', { params: { id: contact.companyId! } })).company;
  const list = async (query: object) =>
    (await rep.ok('listCompanies', { query: { q: 'ostler', ...query } })).rows.length;
  expect((await archive('company', await read())).status).toBe(200);
  expect([await list({}), await list({ archived: 'yes' })]).toEqual([0, 1]);
  expect((await rep.ok('getContact', { params: { id: contact.id } })).companyName).toBe('Ostler Dye Works');
  await aContact(rep, { companyName: 'Ostler Dye Works' });
  expect([await list({}), await list({ archived: 'yes' })]).toEqual([1, 0]);
});

test('a deal can be archived once it is decided: it is listed apart, and opening it again brings it back', async () => {
  const contact = await aContact(rep);
  const deal = await aDeal(rep, contact.id, { name: 'Ninth softener' });
  expect((await archive('deal', deal)).words).toContain('the deal “Ninth softener” is open');
  const lost = { version: deal.version, as: 'lost', on: '2026-11-24', reason: 'price', words: '' };
  await rep.ok('closeDeal', { params: { id: deal.id }, body: lost });
  const before = await wholeState(installation.services.database);
  const { changeId } = await archive('deal', await readDeal(deal.id));
  await undo(changeId);
  expect(await wholeState(installation.services.database)).toEqual(before);
  await archive('deal', await readDeal(deal.id));
  const listedAs = async (status: string) =>
    (await rep.ok('pageDeals', { query: { owner: 'mine', status, q: 'ninth' } })).rows.length;
  expect([await listedAs('lost'), await listedAs('any'), await listedAs('archived')]).toEqual([0, 1, 1]);
  const next = { kind: 'task', channel: 'call', dueOn: '2026-11-26', purpose: 'ask', minutes: 6 };
  await rep.ok('reopenDeal', { params: { id: deal.id }, body: { next } });
  expect((await readDeal(deal.id)).archivedAt).toBeNull();
});

test('a lead can be archived once it is decided; archived ones are listed apart', async () => {
  const lead = await aLead(rep);
  expect((await archive('lead', lead)).code).toBe('not-finished');
  const aside = await rep.ok('setLeadAside', {
    params: { id: lead.id },
    body: { version: lead.version, reason: 'no need' },
  });
  await archive('lead', aside);
  const ids = async (query: object) => (await rep.ok('listLeads', { query })).rows.map(({ id }) => id);
  expect(await ids({})).not.toContain(lead.id);
  expect(await ids({ archived: 'yes' })).toContain(lead.id);
});

test('an archived agreement asks for nothing in the Round and counts for nothing a year', async () => {
  const contact = await aContact(rep);
  const agreement = await rep.ok('createAgreement', {
    body: {
      name: 'Short one',
      contactId: contact.id,
      startsOn: '2026-11-01',
      termMonths: 2,
      valueMinor: 120_000,
      noticeDays: 10,
      leadDays: 30,
      renewsItself: true,
    },
  });
  expect(await inRound(contact.id)).toBe(true);
  const { changeId } = await archive('agreement', agreement);
  expect(await inRound(contact.id)).toBe(false);
  const ids = async (query: object) => (await rep.ok('listAgreements', { query })).rows.map(({ id }) => id);
  expect(await ids({})).not.toContain(agreement.id);
  expect(await ids({ archived: 'yes' })).toContain(agreement.id);
  await undo(changeId);
  expect(await ids({})).toContain(agreement.id);
});
