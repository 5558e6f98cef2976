import type { JournalEntry, Lead } from '@kettle/contract';
import fc from 'fast-check';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aLead, changeOf, aLog, journalOf, stagesOf, standingNamed } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep');
});
beforeEach(() => installation.clock.set('2026-11-24T09:10:00.000Z'));
afterAll(() => installation.close());

const plan = (lead: Lead) => rep.ok('planQualify', { params: { id: lead.id } });
const read = (lead: Lead) => rep.ok('getLead', { params: { id: lead.id } });
async function qualify(lead: Lead, part: object = {}) {
  const [stage] = await stagesOf(rep);
  const next = { kind: 'task', channel: 'visit', dueOn: '2026-11-26', purpose: 'look at it', minutes: 45 };
  const deal = {
    name: 'Softener',
    stageId: stage!.id,
    amountMinor: 400_000,
    expectedCloseOn: '2027-01-15',
    next,
  };
  const { version } = await read(lead);
  return rep.call('qualifyLead', {
    params: { id: lead.id },
    body: { version, person: { kind: 'same' }, company: { kind: 'none' }, deal, ...part },
  });
}
const qualified = async (lead: Lead, part: object = {}) => {
  const { status, body } = await qualify(lead, part);
  expect([status, body.code]).toEqual([200, undefined]);
  return body as Lead;
};
const undo = (lead: Lead) => rep.call('unqualifyLead', { params: { id: lead.id } });
const contactOf = (id: string) => rep.ok('getContact', { params: { id } });
const tasksOf = async (query: object) => (await rep.ok('listTasks', { query })).tasks;

describe('the fields that an admin defined for leads', () => {
  const of = async (subject: string, name: string) => {
    const admin = await installation.as('admin');
    return admin.ok('createCustomField', { body: { subject, name, type: 'number', choices: [] } });
  };

  test('go on to the deal by name, else to the person where theirs is empty; the undo takes them back', async () => {
    const [boilers, staff, fleet, rest] = [
      await of('lead', 'Boilers'),
      await of('lead', 'Staff'),
      await of('lead', 'Fleet'),
      await of('lead', 'Nowhere else'),
    ];
    const onDeal = await of('deal', 'boilers');
    const [boilersOfPerson, staffOfPerson, fleetOfPerson] = [
      await of('contact', 'Boilers'),
      await of('contact', 'Staff'),
      await of('contact', 'Fleet'),
    ];
    const lead = await aLead(rep, {
      custom: { [boilers.id]: 3, [staff.id]: 40, [fleet.id]: 7, [rest.id]: 1 },
    });
    const { version } = await contactOf(lead.contactId);
    await rep.ok('changeContact', {
      params: { id: lead.contactId },
      body: { ...changeOf(await contactOf(lead.contactId)), version, custom: { [fleetOfPerson.id]: 5 } },
    });
    expect((await plan(lead)).brings.fields).toEqual(['boilers', 'Staff']);
    const done = await qualified(lead);
    expect((await rep.ok('getDeal', { params: { id: done.dealId! } })).custom).toEqual({ [onDeal.id]: 3 });
    expect((await contactOf(lead.contactId)).custom).toEqual({
      [staffOfPerson.id]: 40,
      [fleetOfPerson.id]: 5,
    });
    expect((await undo(lead)).status).toBe(200);
    expect((await contactOf(lead.contactId)).custom).toEqual({ [fleetOfPerson.id]: 5 });
    expect((await read(lead)).custom).toEqual(lead.custom);
    expect(boilersOfPerson.id).not.toBe(onDeal.id);
  });
});

describe('qualifying', () => {
  test('makes company and deal, and brings journal, tasks and standing along', async () => {
    const lead = await aLead(rep);
    const next = {
      kind: 'task',
      channel: 'call',
      dueOn: '2026-11-25',
      purpose: 'call back',
      minutes: 6,
      promisedMinute: null,
    };
    await aLog(rep, lead.contactId, { outcomeId: 'call-spoke', body: 'wants it soon', next });
    expect((await plan(lead)).brings).toMatchObject({ tasks: 1, runs: 0, files: 0 });
    const talks = await standingNamed(rep, 'In talks');
    const company = { kind: 'new', name: lead.companyName, city: 'Marrow' };
    const done = await qualified(lead, { company, standingId: talks.id });
    expect(done).toMatchObject({
      status: 'qualified',
      canUnqualify: true,
      deal: { name: 'Softener', companyName: lead.companyName },
    });
    const deal = await rep.ok('getDeal', { params: { id: done.dealId! } });
    expect(deal).toMatchObject({ leadId: lead.id, source: 'fair', tetherState: 'held' });
    expect((await tasksOf({ dealId: deal.id })).map(({ purpose }) => purpose)).toEqual([
      'call back',
      'look at it',
    ]);
    const words = (await journalOf(rep, { dealId: deal.id })).map(({ body }) => body);
    expect(words).toEqual(
      expect.arrayContaining(['wants it soon', 'Lead: a softener for the bakery (fair)']),
    );
    expect((await journalOf(rep, { companyId: deal.companyId })).map(({ body }) => body)).toContain(
      'wants it soon',
    );
    expect((await contactOf(lead.contactId)).standingId).toBe(talks.id);
  });

  test('somebody who buys for themselves needs no company', async () => {
    const done = await qualified(await aLead(rep));
    expect(done.deal).toMatchObject({ companyId: null, companyName: null });
  });

  test('shows who it may already be first, and makes the two one', async () => {
    const known = await aContact(rep, {
      givenName: 'Nora',
      familyName: 'Quayle',
      email: 'nora@quayle.example',
      phone: null,
    });
    const lead = await aLead(rep, {
      person: {
        familyName: 'Quayle',
        companyName: known.companyName,
        email: 'n.quayle@home.example',
        phone: null,
      },
    });
    const found = await plan(lead);
    expect(found.companies).toMatchObject([{ id: known.companyId, why: 'the same name' }]);
    const twin = await aLead(rep, {
      person: { givenName: 'Nora', familyName: 'Quayle', email: 'nora@quayle.example', phone: null },
    });
    const [match] = (await plan(twin)).people;
    expect(match).toMatchObject({ likeness: 'certain', contact: { id: known.id } });
    const person = { kind: 'merge', contactId: known.id, version: (await contactOf(known.id)).version };
    const done = await qualified(twin, { person, company: { kind: 'known', companyId: known.companyId } });
    expect(done).toMatchObject({
      contactId: known.id,
      deal: { contactId: known.id, companyId: known.companyId },
    });
    expect((await rep.call('getContact', { params: { id: twin.contactId } })).body.id).toBe(known.id);
    const back = (await undo(done)).body as Lead;
    expect(back).toMatchObject({ contactId: twin.contactId, status: 'untried', dealId: null });
    expect((await contactOf(twin.contactId)).email).toBe('nora@quayle.example');
  });

  test('a decided lead, a stale one and a colleague’s are refused', async () => {
    const lead = await aLead(rep);
    await qualified(lead);
    expect((await qualify(lead)).body.code).toBe('lead-decided');
    expect((await qualify(await aLead(rep), { version: 99 })).body.code).toBe('stale');
    expect((await qualify(await aLead(await installation.as('rep')))).body.code).toBe('not-yours');
  });

  test('a deal that cannot be made leaves the lead as it was', async () => {
    const lead = await aLead(rep);
    const refused = await qualify(lead, {
      deal: {
        name: '',
        stageId: lead.id,
        amountMinor: -1,
        expectedCloseOn: null,
        next: { kind: 'none', reason: 'x' },
      },
    });
    expect(refused.status).toBe(400);
    expect(await read(lead)).toEqual(lead);
  });
});

describe('undone', () => {
  test('the deal is gone, the company that was made as well, what happened since stays with the person', async () => {
    const lead = await aLead(rep);
    const done = await qualified(lead, { company: { kind: 'new', name: 'Brand New Baths', city: null } });
    await aLog(rep, lead.contactId, { dealId: done.dealId, body: 'a word since', outcomeId: 'call-spoke' });
    const back = (await undo(await read(lead))).body as Lead;
    // The word since brought them into talks.
    expect(back).toMatchObject({ status: 'in-talks', dealId: null, deal: null, canUnqualify: false });
    expect((await rep.call('getDeal', { params: { id: done.dealId! } })).status).toBe(404);
    expect((await contactOf(lead.contactId)).companyId).toBeNull();
    const { rows } = await rep.ok('listCompanies', {
      query: { q: 'Brand New Baths' },
    });
    expect(rows).toEqual([]);
    expect((await journalOf(rep, { contactId: lead.contactId })).map(({ body }) => body)).toContain(
      'a word since',
    );
    expect(await tasksOf({ contactId: lead.contactId })).toEqual([]);
    expect((await undo(back)).body.code).toBe('cannot-undo');
  });

  test('not once the deal is closed', async () => {
    const done = await qualified(await aLead(rep));
    await rep.ok('closeDeal', {
      params: { id: done.dealId! },
      body: { as: 'lost', version: done.deal!.version, on: '2026-11-24', reason: 'price' },
    });
    expect((await undo(await read(done))).body.code).toBe('cannot-undo');
  });

  /** Everything there is about somebody, counted so that nothing lost or doubled goes unseen. */
  async function everything(lead: Lead) {
    const contact = await contactOf((await read(lead)).contactId);
    const entries = await journalOf(rep, { contactId: contact.id });
    const own = (entry: JournalEntry) => entry.kind !== 'system' || entry.body.startsWith('Lead:');
    return {
      companyId: contact.companyId,
      standingId: contact.standingId,
      entries: entries
        .filter(own)
        .map(({ id, dealId }) => [id, dealId])
        .sort(),
      tasks: (await tasksOf({ contactId: contact.id }))
        .map(({ id, dealId, dueOn }) => [id, dealId, dueOn])
        .sort(),
      deals: (await installation.services.database.rows('SELECT id FROM deal')).length,
    };
  }

  test('nothing is lost or doubled, whatever happened before', async () => {
    const happening = fc.record({
      outcomeId: fc.constantFrom('call-spoke', 'call-no-answer', 'call-voicemail'),
      plans: fc.boolean(),
    });
    const company = fc.constantFrom({ kind: 'none' }, { kind: 'new', name: 'House of Pell', city: null });
    await fc.assert(
      fc.asyncProperty(
        fc.array(happening, { maxLength: 4 }),
        company,
        fc.integer({ min: 1, max: 3 }),
        async (happenings, firm, times) => {
          const lead = await aLead(rep);
          for (const { outcomeId, plans } of happenings) {
            const task = {
              kind: 'task',
              channel: 'call',
              dueOn: '2026-11-30',
              purpose: 'again',
              minutes: 6,
              promisedMinute: null,
            };
            await aLog(rep, lead.contactId, {
              outcomeId,
              next: plans ? task : { kind: 'none', reason: 'x' },
            });
          }
          const before = await everything(lead);
          for (let n = 0; n < times; n += 1) {
            const done = await qualified(lead, { company: firm });
            const during = await everything(lead);
            expect(during.deals).toBe(before.deals + 1);
            expect(during.entries.map(([id]) => id)).toEqual(before.entries.map(([id]) => id));
            expect(during.entries.every(([, dealId]) => dealId === done.dealId)).toBe(true);
            expect((await undo(done)).status).toBe(200);
            expect(await everything(lead)).toEqual(before);
          }
        },
      ),
      { numRuns: 8 },
    );
  }, 120_000);
});
