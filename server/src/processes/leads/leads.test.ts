import { randomUUID } from 'node:crypto';
import type { Lead, OwnerRule } from '@kettle/contract';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aLead, aLog, journalOf } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
let admin: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep', 'Ada Bright');
  admin = await installation.as('admin');
});
beforeEach(() => installation.clock.set('2026-11-24T09:10:00.000Z'));
afterAll(() => installation.close());

const read = (lead: Lead) => rep.ok('getLead', { params: { id: lead.id } });
const bodyOf = (
  { version, subject, about, warmth, source, campaign, followUpOn, link, ownerId }: Lead,
  part: object = {},
) => ({
  ...{ version, subject, about, warmth, source, campaign, followUpOn, link, ownerId },
  ...part,
});
const change = (lead: Lead, part: object, by = rep) =>
  by.call('changeLead', { params: { id: lead.id }, body: bodyOf(lead, part) });
const act = (name: 'setLeadAside' | 'reviveLead', lead: Lead, body: object = {}) =>
  rep.call(name, { params: { id: lead.id }, body });
const inRound = async (lead: Lead) => {
  const { above, below } = await rep.ok('round');
  return [...above, ...below].find(({ contactId }) => contactId === lead.contactId);
};

describe('a lead', () => {
  test('by hand is on somebody new, whose company is only what they said', async () => {
    const lead = await aLead(rep, {
      warmth: 'hot',
      campaign: 'autumn fair',
      link: 'https://forum.example/17',
    });
    expect(lead).toMatchObject({
      status: 'untried',
      warmth: 'hot',
      companyId: null,
      ownerName: 'Ada Bright',
    });
    expect(lead.companyName).toMatch(/^Pell Spa/);
    expect((await journalOf(rep, { contactId: lead.contactId }))[0]!.body).toBe(
      'Lead: a softener for the bakery (fair, autumn fair)',
    );
  });

  test('on a firm without a person is on the firm itself', async () => {
    const lead = await aLead(rep, {
      person: { category: 'organisation', givenName: '', familyName: '', companyName: 'Osterly Works' },
    });
    expect(lead).toMatchObject({ contactName: 'Osterly Works', companyName: 'Osterly Works' });
    expect(lead.companyId).not.toBeNull();
  });

  test('can be one of several on one person, over time', async () => {
    const contact = await aContact(rep);
    for (const subject of ['filters', 'a boiler'])
      await rep.ok('createLead', { body: { subject, contactId: contact.id } });
    const { rows } = await rep.ok('listLeads', { query: { contactId: contact.id } });
    expect(rows.map(({ subject }) => subject).sort()).toEqual(['a boiler', 'filters']);
    expect(
      rows.every(({ companyName, ownerId }) => companyName === contact.companyName && ownerId === rep.id),
    ).toBe(true);
  });

  test.each([
    [{ subject: ' ' }, 'subject'],
    [{ link: 'not an address' }, 'link'],
    [{ link: 'javascript:alert(1)' }, 'link'],
    [{ person: { givenName: 'x', familyName: 'y', email: 'no' } }, 'person.email'],
    [{ person: undefined }, 'contactId'],
  ])('with something wrong is told at its field: %j', async (part, path) => {
    const body = { subject: 'x', person: { givenName: 'Nora', familyName: 'Pell' }, ...part };
    const refused = await rep.call('createLead', { body });
    expect([refused.status, refused.body.fields[0].path]).toEqual([400, path]);
  });

  test('has the fields an admin defined: written, said in the journal, filtered and sorted by, exported, undone', async () => {
    const field = (name: string, type: string) =>
      admin.ok('createCustomField', { body: { subject: 'lead', name, type, choices: [] } });
    const volume = await field('Water a day', 'number');
    const visited = await field('Site seen', 'yes-no');
    const lead = await aLead(rep, { custom: { [volume.id]: 12 } });
    expect(lead.custom).toEqual({ [volume.id]: 12 });
    const changeId = randomUUID();
    const { body: changed } = await rep.call('changeLead', {
      params: { id: lead.id },
      body: { version: lead.version, custom: { [volume.id]: 30, [visited.id]: true } },
      changeId,
    });
    expect(changed.custom).toEqual({ [volume.id]: 30, [visited.id]: true });
    expect((await journalOf(rep, { contactId: lead.contactId }))[0]!.body).toBe(
      'Lead: Water a day: 12 → 30; Site seen: empty → yes',
    );
    const seen = JSON.stringify({ join: 'all', rules: [{ field: `custom:${visited.id}`, ask: 'yes' }] });
    const { rows } = await rep.ok('listLeads', { query: { filter: seen, sort: `-custom:${volume.id}` } });
    expect(rows.map(({ id, custom }) => [id, custom[volume.id]])).toEqual([[lead.id, 30]]);
    const file = await rep.call('exportLeads', {
      query: { filter: seen, columns: `name,custom:${volume.id},custom:${visited.id}` },
    });
    expect(file.text).toContain(`${lead.contactName},30,yes`);
    const wrong = await change(lead, { custom: { [volume.id]: 'much' } });
    expect(wrong.body.fields).toMatchObject([{ path: `custom.${volume.id}` }]);
    await rep.ok('undoChange', { params: { id: changeId } });
    expect((await read(lead)).custom).toEqual({ [volume.id]: 12 });
  });

  test('two who change it at once: the second is shown the first one’s change', async () => {
    const lead = await aLead(rep);
    await change(lead, { subject: 'first' });
    expect((await change(lead, { subject: 'second' })).body).toMatchObject({
      code: 'stale',
      current: { subject: 'first' },
    });
  });

  test('has tags: found by them, changed in the journal, undone, proposed to whoever may read it', async () => {
    const lead = await aLead(rep, { tags: ['Fair', 'bakery', 'fair'] });
    expect(lead.tags).toEqual(['bakery', 'fair']);
    await change(lead, { subject: 'stays tagged' });
    const tagged = await read(lead);
    expect(tagged.tags).toEqual(['bakery', 'fair']);
    const changeId = randomUUID();
    const body = bodyOf(tagged, { tags: ['spring'] });
    const changed = await rep.ok('changeLead', { params: { id: lead.id }, body, changeId });
    expect(changed.tags).toEqual(['spring']);
    expect((await journalOf(rep, { contactId: lead.contactId }))[0]!.body).toBe(
      'Lead: Tags: bakery, fair → spring',
    );
    const filter = JSON.stringify({
      join: 'all',
      rules: [{ field: 'tags', ask: 'is', value: 'spring' }],
    });
    const found = await rep.ok('listLeads', { query: { filter } });
    expect(found.rows.map(({ id }) => id)).toEqual([lead.id]);
    const { tags } = await rep.ok('listTags');
    expect(tags.filter(({ tag }) => tag === 'spring')).toEqual([{ tag: 'spring', count: 1 }]);
    await rep.ok('undoChange', { params: { id: changeId } });
    expect((await read(lead)).tags).toEqual(['bakery', 'fair']);
  });

  test('of a colleague is not changed', async () => {
    const lead = await aLead(await installation.as('rep'));
    expect((await change(lead, { subject: 'x' })).body.code).toBe('not-yours');
  });
});

describe('its status', () => {
  test('follows what happens: the first touch, a held conversation', async () => {
    const lead = await aLead(rep);
    await aLog(rep, lead.contactId);
    expect((await read(lead)).status).toBe('trying');
    installation.clock.set('2026-11-24T11:00:00.000Z');
    await aLog(rep, lead.contactId, { outcomeId: 'call-spoke' });
    expect((await read(lead)).status).toBe('in-talks');
  });

  test('goes back when the log is undone', async () => {
    const lead = await aLead(rep);
    const { entryId } = await aLog(rep, lead.contactId);
    await rep.ok('undoLog', { params: { id: entryId } });
    expect((await read(lead)).status).toBe('untried');
  });

  test('does not follow what happened before it came', async () => {
    const contact = await aContact(rep);
    await aLog(rep, contact.id);
    installation.clock.set('2026-11-25T09:10:00.000Z');
    const lead = await rep.ok('createLead', { body: { subject: 'filters', contactId: contact.id } });
    expect(lead.status).toBe('untried');
    await aLog(rep, contact.id);
    expect((await read(lead)).status).toBe('trying');
  });

  test('by hand stands until something takes it further', async () => {
    const lead = (await change(await aLead(rep), { status: 'in-talks' })).body as Lead;
    await aLog(rep, lead.contactId);
    expect((await read(lead)).status).toBe('in-talks');
  });
});

describe('set aside', () => {
  test('it needs a reason, and comes back into the Round on its day', async () => {
    const lead = await aLead(rep);
    expect((await act('setLeadAside', lead, { reason: '' })).body.fields[0].path).toBe('reason');
    expect((await act('setLeadAside', lead, { reason: 'x', wakeOn: '2026-11-24' })).body.code).toBe(
      'in-the-past',
    );
    const aside = (await act('setLeadAside', lead, { reason: 'after the move', wakeOn: '2026-12-03' }))
      .body as Lead;
    expect(aside).toMatchObject({ status: 'set-aside', asideReason: 'after the move', wakeOn: '2026-12-03' });
    expect(await inRound(lead)).toBeUndefined();
    installation.clock.set('2026-12-03T09:10:00.000Z');
    expect(await inRound(lead)).toMatchObject({ kind: 'waking' });
    const again = (await act('reviveLead', aside, { status: 'trying' })).body as Lead;
    expect(again).toMatchObject({ status: 'trying', asideReason: null, wakeOn: null });
    expect((await act('reviveLead', again, { status: 'trying' })).body.code).toBe('lead-decided');
  });

  test('a touch from its day on takes it up again, one before does not', async () => {
    const lead = await aLead(rep);
    await act('setLeadAside', lead, { reason: 'after the move', wakeOn: '2026-12-03' });
    installation.clock.set('2026-12-01T09:10:00.000Z');
    await aLog(rep, lead.contactId);
    expect((await read(lead)).status).toBe('set-aside');
    installation.clock.set('2026-12-03T09:10:00.000Z');
    await aLog(rep, lead.contactId);
    expect(await read(lead)).toMatchObject({ status: 'trying', wakeOn: null, asideReason: null });
  });
});

describe('in the Round', () => {
  test('an untried lead asks for a first contact', async () => {
    const lead = await aLead(rep, { warmth: 'hot' });
    installation.clock.set('2026-11-24T11:10:00.000Z');
    expect(await inRound(lead)).toMatchObject({
      kind: 'lead',
      purpose: 'first contact',
      reasons: [{ words: 'new lead 2 h ago: “a softener for the bakery”, fair', pressing: true }],
    });
  });

  test('one with a follow-up waits for its day, one with a planned step for that', async () => {
    const lead = await aLead(rep, { followUpOn: '2026-11-27' });
    expect(await inRound(lead)).toBeUndefined();
    installation.clock.set('2026-11-27T09:10:00.000Z');
    expect(await inRound(lead)).toMatchObject({
      reasons: [{ words: expect.stringContaining('follow-up due today') }],
    });
  });

  test('one that is tried and has nothing planned is loose, and says so', async () => {
    const lead = await aLead(rep);
    await aLog(rep, lead.contactId);
    expect(await inRound(lead)).toMatchObject({
      purpose: 'take it further',
      reasons: [{ words: expect.stringContaining('lead without a next step') }],
    });
  });
});

describe('whose a new lead is', () => {
  const rule = async (ownerRule: OwnerRule) => {
    const { version } = await admin.ok('leadSettings');
    return admin.ok('changeLeadSettings', { body: { version, ownerRule } });
  };
  const given = async (person: object = {}) => (await aLead(rep, { ownerId: undefined, person })).ownerId;

  test('in turn, who waited longest is next', async () => {
    const others = [await installation.as('rep'), await installation.as('rep')];
    await rule({ kind: 'in-turn', userIds: others.map(({ id }) => id) });
    const owners = [];
    for (let n = 0; n < 4; n += 1) {
      installation.clock.set(`2026-11-24T10:0${n}:00.000Z`);
      owners.push(await given());
    }
    expect(owners).toEqual([others[0]!.id, others[1]!.id, others[0]!.id, others[1]!.id]);
  });

  test('by load, who has the fewest', async () => {
    const [busy, idle] = [await installation.as('rep'), await installation.as('rep')];
    await aLead(busy);
    await rule({ kind: 'load', userIds: [busy.id, idle.id] });
    expect(await given()).toBe(idle.id);
  });

  test('by region, and for the rest as it says', async () => {
    const north = await installation.as('rep');
    const regions = [{ country: 'IE', places: [], userId: north.id }];
    await rule({ kind: 'region', regions, otherwise: { kind: 'pool' } });
    expect(await given({ country: 'IE', phone: null })).toBe(north.id);
    expect(await given()).toBeNull();
    // Nobody said where this one is: the number does.
    expect(await given({ country: null, phone: '+353209100123' })).toBe(north.id);
  });

  test('is the owner of the contact it is on, who is told when a colleague adds it', async () => {
    await rule({ kind: 'pool' });
    const owner = await installation.as('rep');
    const manager = await installation.as('manager');
    const contact = await aContact(owner);
    const lead = await manager.ok('createLead', {
      body: { subject: 'filters', contactId: contact.id },
    });
    expect(lead.ownerId).toBe(owner.id);
    const { notifications } = await owner.ok('listNotifications');
    expect(notifications.map(({ words }) => words)).toContain('A new lead: filters');
  });

  test('from the pool it is the first one’s who takes it, and its person with it', async () => {
    await rule({ kind: 'pool' });
    const lead = await aLead(rep, { ownerId: null });
    const [first, second] = [await installation.as('rep', 'Quick Quinn'), await installation.as('rep')];
    const claimed = await first.ok('claimLead', { params: { id: lead.id } });
    expect(claimed.ownerId).toBe(first.id);
    const late = await second.call('claimLead', { params: { id: lead.id } });
    expect(late.body).toMatchObject({
      code: 'already-claimed',
      detail: expect.stringContaining('Quick Quinn'),
    });
    expect((await rep.ok('getContact', { params: { id: lead.contactId } })).ownerId).toBe(first.id);
  });

  test('handed over, its person goes with it', async () => {
    const lead = await aLead(rep);
    const other = await installation.as('rep');
    expect((await change(lead, { ownerId: other.id })).body).toMatchObject({ ownerId: other.id });
    expect((await rep.ok('getContact', { params: { id: lead.contactId } })).ownerId).toBe(other.id);
  });
});

test('the list says what its filter hides, and counts by status with what is due', async () => {
  const caller = await installation.as('rep');
  await aLead(caller, { warmth: 'cool', campaign: 'letters' });
  await aLead(caller, { followUpOn: '2026-12-24' });
  const mine = await caller.ok('countLeads', { query: {} });
  expect(mine.counts).toEqual([{ status: 'untried', count: 2, due: 1 }]);
  const cool = await caller.ok('countLeads', { query: { warmth: 'cool' } });
  expect([cool.found, mine.found, cool.total - mine.total]).toEqual([1, 2, 0]);
  expect(cool.campaigns).toContain('letters');
  expect((await caller.ok('listLeads', { query: { q: 'pell sp' } })).rows).toHaveLength(2);
});

test('a long list comes in parts, each lead once', async () => {
  const caller = await installation.as('rep');
  for (let n = 0; n < 3; n += 1) await aLead(caller, { campaign: 'long list' });
  const query = { campaign: 'long list' };
  const whole = await caller.ok('listLeads', { query });
  const parts = [
    await caller.ok('listLeads', { query: { ...query, limit: 2 } }),
    await caller.ok('listLeads', { query: { ...query, limit: 2, after: 2 } }),
  ];
  expect((await caller.ok('countLeads', { query })).found).toBe(3);
  expect(parts.flatMap(({ rows }) => rows.map(({ id }) => id))).toEqual(whole.rows.map(({ id }) => id));
  expect((await caller.call('listLeads', { query: { limit: 0 } })).body.fields[0].path).toBe('query.limit');
});
