import type { Dossier } from '@kettle/contract';
import { randomUUID } from 'node:crypto';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { bytesOf } from '../../platform/ids';
import { aContact, aDeal, aLead, aLog, aTask } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
beforeEach(async () => {
  installation = await install();
  rep = await installation.as('rep');
});
afterEach(() => installation.close());

const read = (about: object, by = rep) => by.ok('getDossier', { query: about });
const agreement = (contactId: string) => ({
  ...{ name: 'Yearly service', contactId, dealId: null, startsOn: '2026-12-01', termMonths: 12 },
  ...{ valueMinor: 48_000, noticeDays: 60, leadDays: 45, renewsItself: true },
});

test('of a person is what their parts say, read alone, and counts what is behind each tab', async () => {
  const contact = await aContact(rep);
  const deal = await aDeal(rep, contact.id);
  await rep.ok('createAgreement', { body: agreement(contact.id) });
  await aLog(rep, contact.id, { body: 'Two boilers.' });
  const dossier = await read({ contactId: contact.id });
  expect(dossier).toEqual({
    record: {
      ...{ lead: null, deal: null, company: null },
      contact: await rep.ok('getContact', { params: { id: contact.id } }),
      counts: { people: 0, deals: 1, agreements: 1, runs: 0 },
    },
    steps: (await rep.ok('listTasks', { query: { contactId: contact.id } })).tasks,
    journal: await rep.ok('listJournal', { query: { contactId: contact.id } }),
  });
  expect(dossier.steps!.length).toBeGreaterThan(0);
  expect(dossier.journal!.entries.map(({ body }) => body)).toContain('Two boilers.');
  expect(deal.contactId).toBe(contact.id);
});

test('counts the deals of their company, theirs, and those in which they have a role, each once', async () => {
  const [one, other] = [
    await aContact(rep, { companyName: 'Hotel Linde' }),
    await aContact(rep, { companyName: 'Hotel Linde' }),
  ];
  const elsewhere = await aContact(rep);
  await aDeal(rep, one.id);
  await aDeal(rep, other.id);
  const { id, version, name, stageId, amountMinor, expectedCloseOn } = await aDeal(rep, elsewhere.id);
  const people = [{ contactId: one.id, role: 'signs' }];
  await rep.ok('changeDeal', {
    params: { id },
    body: { version, name, stageId, amountMinor, expectedCloseOn, people },
  });
  expect((await read({ contactId: one.id })).record!.counts.deals).toBe(3);
  expect((await read({ companyId: one.companyId! })).record!.counts).toMatchObject({ people: 2, deals: 2 });
});

test('of a deal has its person and its own steps and journal; of a lead its person’s; of a company no steps', async () => {
  const contact = await aContact(rep);
  const deal = await aDeal(rep, contact.id);
  const ofDeal = await read({ dealId: deal.id });
  expect(ofDeal.record).toMatchObject({ deal: { id: deal.id }, contact: { id: contact.id }, lead: null });
  expect(ofDeal.steps).toEqual((await rep.ok('listTasks', { query: { dealId: deal.id } })).tasks);
  expect(ofDeal.journal).toEqual(await rep.ok('listJournal', { query: { dealId: deal.id } }));
  const lead = await aLead(rep);
  const ofLead = await read({ leadId: lead.id });
  expect(ofLead.record).toMatchObject({ lead: { id: lead.id }, contact: { id: lead.contactId }, deal: null });
  const ofCompany = await read({ companyId: contact.companyId! });
  expect([ofCompany.record!.company!.id, ofCompany.steps]).toEqual([contact.companyId, []]);
});

test('only the parts that are asked for are read', async () => {
  const contact = await aContact(rep);
  const keys = async (parts: string) => Object.keys(await read({ contactId: contact.id, parts }));
  expect(await keys('steps')).toEqual(['steps']);
  expect(await keys('record,journal')).toEqual(['record', 'journal']);
});

test('of somebody who was merged away is that of whom they became', async () => {
  const [keep, gone] = [await aContact(rep), await aContact(rep)];
  const body = {
    keepId: keep.id,
    keepVersion: keep.version,
    goneId: gone.id,
    goneVersion: gone.version,
    take: [],
  };
  await rep.ok('mergeContacts', { body });
  const { record, journal } = await read({ contactId: gone.id });
  expect(record!.contact!.id).toBe(keep.id);
  expect(journal).toEqual(await rep.ok('listJournal', { query: { contactId: keep.id } }));
});

test.each([
  ['nothing', {}],
  ['two records', { contactId: randomUUID(), dealId: randomUUID() }],
  ['a part that is none', { contactId: randomUUID(), parts: 'weather' }],
])('%s is refused', async (_, query) => {
  expect((await rep.call('getDossier', { query })).status).toBe(400);
});

test.each(['contactId', 'companyId', 'dealId', 'leadId'])(
  'of a %s that is nothing is not found',
  async (name) => {
    expect((await rep.call('getDossier', { query: { [name]: randomUUID() } })).status).toBe(404);
  },
);

describe('where reading is narrow', () => {
  beforeEach(async () => {
    const admin = await installation.as('admin');
    const now = await admin.ok('rightsSettings');
    await admin.ok('changeRightsSettings', { body: { ...now, reading: 'own' } });
  });

  test('what is a colleague’s is not found, and not counted', async () => {
    const other = await installation.as('rep');
    const theirs = await aContact(other, { companyName: 'Hotel Linde' });
    const mine = await aContact(rep, { companyName: 'Hotel Linde' });
    await aDeal(other, theirs.id);
    expect((await rep.call('getDossier', { query: { contactId: theirs.id } })).status).toBe(404);
    expect((await read({ contactId: mine.id })).record!.counts.deals).toBe(0);
  });

  test('a deal about which one is asked for something is shown without the person whom one may not see', async () => {
    const other = await installation.as('rep');
    const deal = await aDeal(other, (await aContact(other)).id);
    const read = async () => (await rep.call('getDossier', { query: { dealId: deal.id } })).body as Dossier;
    expect(await read()).toMatchObject({ code: 'not-found' });
    const { id } = await aTask(other, deal.contactId!, { dealId: deal.id, ownerId: rep.id });
    // Planned before the deal had its person.
    await installation.services.database.change('UPDATE task SET contact_id = NULL WHERE id = :id', {
      id: bytesOf(id),
    });
    const { record } = await read();
    expect([record!.deal!.id, record!.contact]).toEqual([deal.id, null]);
  });
});
