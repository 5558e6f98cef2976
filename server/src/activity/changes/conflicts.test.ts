import { randomUUID } from 'node:crypto';
import type { Company, Contact, Deal, Lead, Task } from '@kettle/contract';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, aLead, changeOf } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
let manager: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep', 'Imogen Thorne');
  manager = await installation.as('manager', 'Corin Vale');
});
afterAll(() => installation.close());

/** The body of a form that was opened on a deal and sent with a part of it changed. */
const formOf = (deal: Deal, part: object) => ({
  version: deal.version,
  name: deal.name,
  stageId: deal.stageId,
  amountMinor: deal.amountMinor,
  expectedCloseOn: deal.expectedCloseOn,
  winProbability: deal.ownProbability,
  decisionOn: deal.decisionOn,
  type: deal.type,
  priority: deal.priority,
  source: deal.source,
  competitors: deal.competitors,
  teamIds: deal.team.map(({ id }) => id),
  ...part,
});
const save = (by: Caller, deal: Deal, part: object) =>
  by.call('changeDeal', { params: { id: deal.id }, body: formOf(deal, part) });

describe('two people change a deal they both have open', () => {
  test('a manager who changes only the priority leaves the value a rep has just raised', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    expect((await save(rep, deal, { amountMinor: 2_000_000 })).status).toBe(200);
    const { status, body } = await save(manager, deal, { priority: 'high' });
    expect([status, body.amountMinor, body.priority]).toEqual([200, 2_000_000, 'high']);
  });

  test('the same field is a conflict, of just that field, with who changed it and the deal as it is', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    await save(rep, deal, { amountMinor: 2_000_000, decisionOn: '2026-12-01' });
    const { status, body } = await save(manager, deal, { amountMinor: 3_000_000, priority: 'low' });
    expect([status, body.code]).toEqual([409, 'stale']);
    expect(body.fields).toEqual([{ path: 'amountMinor', message: 'was changed by Imogen Thorne meanwhile' }]);
    expect(body.current).toMatchObject({ amountMinor: 2_000_000, priority: 'usual' });
    // Said again over what is known now, it counts.
    const known = body.current as Deal;
    expect((await save(manager, known, { amountMinor: 3_000_000 })).body).toMatchObject({
      amountMinor: 3_000_000,
      decisionOn: '2026-12-01',
    });
  });

  describe('the same field, and whose value holds is chosen', () => {
    const metAgain = async (choice: (version: number) => object) => {
      const deal = await aDeal(rep, (await aContact(rep)).id);
      await save(rep, deal, { amountMinor: 2_000_000, decisionOn: '2026-12-01' });
      const mine = { amountMinor: 3_000_000, priority: 'low' };
      const refused = await save(manager, deal, mine);
      const { version } = refused.body.current as Deal;
      return { deal, mine, reply: await save(manager, deal, { ...mine, resolved: choice(version) }) };
    };

    test('mine: it replaces theirs, and nothing else of theirs', async () => {
      const { reply } = await metAgain((version) => ({ version, mine: ['amountMinor'], theirs: [] }));
      expect(reply.body).toMatchObject({
        amountMinor: 3_000_000,
        priority: 'low',
        decisionOn: '2026-12-01',
      });
    });

    test('theirs: the rest of mine is saved beside it', async () => {
      const { reply } = await metAgain((version) => ({ version, mine: [], theirs: ['amountMinor'] }));
      expect(reply.body).toMatchObject({
        amountMinor: 2_000_000,
        priority: 'low',
        decisionOn: '2026-12-01',
      });
    });

    test('over a value that was shown: one that changed after it is asked again', async () => {
      const { deal, mine, reply } = await metAgain((version) => ({ version, mine: [], theirs: [] }));
      expect(reply.body.code).toBe('stale');
      const shown = reply.body.current as Deal;
      await save(rep, shown, { amountMinor: 2_500_000 });
      const late = await save(manager, deal, {
        ...mine,
        resolved: { version: shown.version, mine: ['amountMinor'], theirs: [] },
      });
      expect([late.status, late.body.fields]).toEqual([
        409,
        [expect.objectContaining({ path: 'amountMinor' })],
      ]);
      expect(late.body.current).toMatchObject({ amountMinor: 2_500_000 });
    });
  });

  test('who both meant the same meet without a word', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    await save(rep, deal, { priority: 'high' });
    expect((await save(manager, deal, { priority: 'high' })).status).toBe(200);
  });

  test('lists too: a competitor added by one, a colleague by the other', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    await save(rep, deal, { competitors: ['Kolk Filters'] });
    const { body } = await save(manager, deal, { teamIds: [manager.id] });
    expect([body.competitors, body.team.map(({ id }: { id: string }) => id)]).toEqual([
      ['Kolk Filters'],
      [manager.id],
    ]);
    const refused = await save(rep, deal, { competitors: ['Brook & Sons'] });
    expect(refused.body.fields).toMatchObject([{ path: 'competitors' }]);
  });

  test('a version nobody knows is refused whole', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    expect((await save(rep, { ...deal, version: 99 }, { priority: 'high' })).body.code).toBe('stale');
  });
});

test('a contact: fields meet, tags meet, the same field is a conflict', async () => {
  const contact = await aContact(rep, { jobTitle: 'buyer', tags: ['old'] });
  const put = (by: Caller, part: object) =>
    by.call('changeContact', {
      params: { id: contact.id },
      body: changeOf(contact, { tags: contact.tags, ...part }),
    });
  expect((await put(rep, { jobTitle: 'owner' })).status).toBe(200);
  expect((await put(manager, { tags: ['old', 'vip'] })).status).toBe(200);
  const now = await rep.ok<Contact>('getContact', { params: { id: contact.id } });
  expect([now.jobTitle, now.tags]).toEqual(['owner', ['old', 'vip']]);
  expect((await put(manager, { jobTitle: 'director' })).body.fields).toMatchObject([{ path: 'jobTitle' }]);
  const cell = (field: string, value: string) =>
    manager.call('changeCell', {
      params: { id: contact.id },
      body: { version: contact.version, field, value },
    });
  expect((await cell('source', 'fair')).status).toBe(200);
  expect((await cell('jobTitle', 'director')).body.code).toBe('stale');
});

test('a company, a lead and a task as well', async () => {
  const contact = await aContact(rep);
  const read = async () =>
    (await rep.ok<{ company: Company }>('getCompany', { params: { id: contact.companyId! } })).company;
  const company = await read();
  const companyBody = (part: object) => ({
    version: company.version,
    name: company.name,
    trade: company.trade,
    website: company.website,
    about: company.about,
    sites: company.sites,
    ...part,
  });
  const params = { id: company.id };
  await rep.ok('changeCompany', { params, body: companyBody({ trade: 'laundry' }) });
  await manager.ok('changeCompany', { params, body: companyBody({ website: 'https://penrow.example' }) });
  expect(await read()).toMatchObject({
    trade: 'laundry',
    website: 'https://penrow.example',
  });

  const lead = await aLead(rep);
  const leadBody = (part: object) => ({
    version: lead.version,
    subject: lead.subject,
    about: lead.about,
    warmth: lead.warmth,
    source: lead.source,
    campaign: lead.campaign,
    followUpOn: lead.followUpOn,
    link: lead.link,
    ownerId: lead.ownerId,
    ...part,
  });
  await rep.ok('changeLead', { params: { id: lead.id }, body: leadBody({ warmth: 'hot' }) });
  expect(
    await manager.ok<Lead>('changeLead', { params: { id: lead.id }, body: leadBody({ campaign: 'spring' }) }),
  ).toMatchObject({ warmth: 'hot', campaign: 'spring' });

  const task = await rep.ok<Task>('createTask', {
    body: { contactId: contact.id, channel: 'call', purpose: 'ask', dueOn: '2026-11-30', minutes: 5 },
  });
  const taskBody = (part: object) => ({
    version: task.version,
    channel: task.channel,
    purpose: task.purpose,
    dueOn: task.dueOn,
    promisedMinute: null,
    minutes: task.minutes,
    ownerId: task.ownerId,
    repeats: null,
    remindMinutes: null,
    ...part,
  });
  await rep.ok('changeTask', { params: { id: task.id }, body: taskBody({ purpose: 'ask for the price' }) });
  expect(
    await manager.ok<Task>('changeTask', { params: { id: task.id }, body: taskBody({ minutes: 20 }) }),
  ).toMatchObject({ purpose: 'ask for the price', minutes: 20 });
  const again = await rep.call('changeTask', {
    params: { id: task.id },
    body: taskBody({ purpose: randomUUID() }),
  });
  expect(again.body.fields).toMatchObject([{ path: 'purpose' }]);
});
