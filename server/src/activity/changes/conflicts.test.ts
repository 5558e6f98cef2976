import { randomUUID } from 'node:crypto';
import type { Deal, Task } from '@kettle/contract';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, aLead, changeOf } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
let manager: Caller;
let admin: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep', 'Imogen Thorne');
  manager = await installation.as('manager', 'Corin Vale');
  admin = await installation.as('admin');
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
  const now = await rep.ok('getContact', { params: { id: contact.id } });
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

test.each([
  ['emailLabel', 'work', 'home'],
  ['phoneLabel', 'desk', 'mobile'],
])('what an address or number is called meets too: %s', async (field, theirs, mine) => {
  const contact = await aContact(rep, { [field]: 'old' });
  const put = (by: Caller, part: object) =>
    by.call('changeContact', { params: { id: contact.id }, body: changeOf(contact, part) });
  expect((await put(rep, { [field]: theirs })).status).toBe(200);
  // Sent as it was seen, it is not put back.
  const { body } = await put(manager, { [field]: 'old', jobTitle: 'owner' });
  expect(body).toMatchObject({ [field]: theirs, jobTitle: 'owner' });
  expect((await put(manager, { [field]: mine })).body.fields).toMatchObject([{ path: field }]);
});

test('a company, a lead and a task as well', async () => {
  const contact = await aContact(rep);
  const read = async () => (await rep.ok('getCompany', { params: { id: contact.companyId! } })).company;
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
    await manager.ok('changeLead', { params: { id: lead.id }, body: leadBody({ campaign: 'spring' }) }),
  ).toMatchObject({ warmth: 'hot', campaign: 'spring' });

  const task = await rep.ok('createTask', {
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
    await manager.ok('changeTask', { params: { id: task.id }, body: taskBody({ minutes: 20 }) }),
  ).toMatchObject({ purpose: 'ask for the price', minutes: 20 });
  const again = await rep.call('changeTask', {
    params: { id: task.id },
    body: taskBody({ purpose: randomUUID() }),
  });
  expect(again.body.fields).toMatchObject([{ path: 'purpose' }]);

  // The time that it was promised for, in the minutes of its owner's day.
  const now = await rep.ok('deferTask', {
    params: { id: task.id },
    body: { version: again.body.current.version, dueOn: '2026-12-01' },
  });
  const over = (part: object) => ({
    params: { id: task.id },
    body: { version: now.version, promisedMinute: null, ...part },
  });
  const promised = await rep.ok('changeTask', over({ promisedMinute: 14 * 60 }));
  expect(await manager.ok('changeTask', over({ minutes: 25 }))).toMatchObject({
    promisedAt: promised.promisedAt,
    minutes: 25,
  });
  const other = await manager.call('changeTask', over({ promisedMinute: 15 * 60 }));
  expect(other.body.fields).toMatchObject([{ path: 'promisedMinute' }]);
});

describe('custom fields', () => {
  const types = ['text', 'number', 'yes-no'] as const;
  type Own = Readonly<Record<(typeof types)[number], string>>;
  const fieldsOf = async (subject: string): Promise<Own> => {
    const made = types.map(async (type) => {
      const body = { subject, name: `${subject} ${type}`, type, choices: [] };
      return [type, (await admin.ok('createCustomField', { body })).id];
    });
    return Object.fromEntries(await Promise.all(made));
  };

  /** How each kind of record is made, and changed over the version that was seen. */
  const kinds = {
    contact: async () => {
      const contact = await aContact(rep);
      return (by: Caller, part: object) =>
        by.call('changeContact', { params: { id: contact.id }, body: changeOf(contact, part) });
    },
    company: async () => {
      const { companyId } = await aContact(rep);
      const params = { id: companyId! };
      const { version } = (await rep.ok('getCompany', { params })).company;
      return (by: Caller, part: object) => by.call('changeCompany', { params, body: { version, ...part } });
    },
    deal: async () => {
      const deal = await aDeal(rep, (await aContact(rep)).id);
      return (by: Caller, part: object) => save(by, deal, part);
    },
    lead: async () => {
      const { id, version } = await aLead(rep);
      return (by: Caller, part: object) =>
        by.call('changeLead', { params: { id }, body: { version, ...part } });
    },
  };

  test.each(Object.keys(kinds) as (keyof typeof kinds)[])(
    'of a %s meet one by one: another field is saved, the same one is a conflict, put by nobody unseen',
    async (kind) => {
      const own = await fieldsOf(kind);
      const change = await kinds[kind]();
      const custom = (by: Caller, values: object, more: object = {}) =>
        change(by, { custom: values, ...more });
      expect((await custom(rep, { [own.text]: 'hard water', [own['yes-no']]: true })).status).toBe(200);
      const other = await custom(manager, { [own.number]: 12.5, [own['yes-no']]: true });
      expect(other.status).toBe(200);
      const met = await custom(manager, { [own.text]: 'soft water' });
      expect([met.status, met.body.fields]).toEqual([
        409,
        [{ path: `custom.${own.text}`, message: 'was changed by Imogen Thorne meanwhile' }],
      ]);
      const values = { [own.text]: 'hard water', [own.number]: 12.5, [own['yes-no']]: true };
      expect(met.body.current.custom).toEqual(values);
      const chosen = (whose: 'mine' | 'theirs') => ({
        resolved: {
          version: met.body.current.version,
          mine: [],
          theirs: [],
          [whose]: [`custom.${own.text}`],
        },
      });
      const theirs = await custom(manager, { [own.text]: 'soft water' }, chosen('theirs'));
      expect(theirs.status).toBe(200);
      // The record moved on with that: what was said before it is asked again.
      const late = await custom(manager, { [own.text]: 'soft water' }, chosen('mine'));
      expect(late.body.code).toBe('stale');
      const mine = await custom(
        manager,
        { [own.text]: 'soft water' },
        { resolved: { ...chosen('mine').resolved, version: late.body.current.version } },
      );
      expect(mine.status).toBe(200);
      expect((await custom(rep, { [own.text]: 'hard water' })).body.current.custom).toEqual({
        ...values,
        [own.text]: 'soft water',
      });
    },
  );
});

describe('an act meets a change of something else', () => {
  const aTask = async (contactId: string) =>
    rep.ok('createTask', {
      body: { channel: 'call', purpose: 'ask about the boiler', dueOn: '2026-11-26', minutes: 6, contactId },
    });
  const reword = (task: Task, part: object) =>
    manager.ok('changeTask', {
      params: { id: task.id },
      body: {
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
      },
    });

  test('a task is done although its words were changed; a day is a conflict only with another day', async () => {
    const { id: contactId } = await aContact(rep);
    const [one, two] = [await aTask(contactId), await aTask(contactId)];
    await reword(one, { purpose: 'ask about both boilers' });
    expect(await rep.ok('finishTask', { params: { id: one.id } })).toMatchObject({
      state: 'done',
      purpose: 'ask about both boilers',
    });
    await reword(two, { purpose: 'ask about both boilers' });
    const defer = (version: number, dueOn: string) =>
      rep.call('deferTask', { params: { id: two.id }, body: { version, dueOn } });
    expect((await defer(two.version, '2026-11-30')).status).toBe(200);
    const late = await defer(two.version, '2026-12-02');
    expect(late.body).toMatchObject({ code: 'stale', fields: [{ path: 'dueOn' }] });
  });

  test('a deal is won although its priority was changed; the value it came to meets a value that was raised', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    const win = (version: number, part: object) =>
      rep.call('closeDeal', {
        params: { id: deal.id },
        body: { as: 'won', version, on: '2026-11-24', ...part },
      });
    await save(manager, deal, { priority: 'high', amountMinor: 2_000_000 });
    const met = await win(deal.version, { amountMinor: 1_500_000 });
    expect(met.body).toMatchObject({ code: 'stale', fields: [{ path: 'amountMinor' }] });
    expect((await win(deal.version, { amountMinor: deal.amountMinor })).body).toMatchObject({
      status: 'won',
      priority: 'high',
      amountMinor: 2_000_000,
    });
  });

  test('a lead is set aside although its campaign was changed', async () => {
    const lead = await aLead(rep);
    await manager.ok('changeLead', {
      params: { id: lead.id },
      body: { version: lead.version, campaign: 'spring fair', ownerId: rep.id },
    });
    const body = { reason: 'too small', wakeOn: null };
    expect(await rep.ok('setLeadAside', { params: { id: lead.id }, body })).toMatchObject({
      status: 'set-aside',
      campaign: 'spring fair',
    });
  });
});

describe('two admins change the same setting', () => {
  let one: Caller;
  let two: Caller;
  beforeAll(async () => {
    one = await installation.as('admin', 'Petra Lund');
    two = await installation.as('admin', 'Owen Gray');
  });

  /** Both read it, the first saves, then the second saves over what they had read. */
  async function meet<Setting extends object>(
    names:
      | readonly ['roundSettings', 'changeRoundSettings']
      | readonly ['journalSettings', 'changeJournalSettings']
      | readonly ['organisationSettings', 'changeOrganisationSettings'],
    first: (seen: Setting) => object,
    second: (seen: Setting) => object,
  ) {
    const seen = (await one.ok(names[0])) as unknown as Setting;
    await one.ok(names[1], { body: { ...seen, ...first(seen) } });
    return two.call(names[1], { body: { ...seen, ...second(seen) } });
  }
  type Round = { p0: Record<string, number>; renewalHalfDays: number };
  const round = ['roundSettings', 'changeRoundSettings'] as const;

  test('different parts both stay, also parts of one part', async () => {
    const { status, body } = await meet<Round>(
      round,
      ({ p0 }) => ({ p0: { ...p0, reply: 0.91 } }),
      ({ p0 }) => ({ p0: { ...p0, task: 0.37 }, renewalHalfDays: 4 }),
    );
    expect([status, body.renewalHalfDays]).toEqual([200, 4]);
    expect(body.p0).toMatchObject({ reply: 0.91, task: 0.37 });
  });

  test('the same part is a conflict of just that part, with who changed it, until one of both is chosen', async () => {
    const seen = await one.ok('roundSettings');
    const met = await meet<Round>(
      round,
      () => ({ renewalHalfDays: 5, p0: { ...seen.p0, lead: 0.22 } }),
      () => ({ renewalHalfDays: 6 }),
    );
    expect([met.status, met.body.fields]).toEqual([
      409,
      [{ path: 'renewalHalfDays', message: 'was changed by Petra Lund meanwhile' }],
    ]);
    const { version } = met.body.current as { version: number };
    const { body } = await two.call('changeRoundSettings', {
      body: { ...seen, renewalHalfDays: 6, resolved: { version, mine: ['renewalHalfDays'], theirs: [] } },
    });
    expect(body).toMatchObject({ renewalHalfDays: 6, p0: { lead: 0.22 } });
  });

  test('outcomes and checklists, which are several settings with one version', async () => {
    type Journal = { checklists: Record<string, string[]>; outcomes: { id: string; label: string }[] };
    const journal = ['journalSettings', 'changeJournalSettings'] as const;
    const { status, body } = await meet<Journal>(
      journal,
      ({ checklists }) => ({ checklists: { ...checklists, call: ['say who we are'] } }),
      ({ checklists, outcomes }) => ({
        checklists: { ...checklists, meeting: ['bring the sample'] },
        outcomes: outcomes.map((each, at) => (at === 0 ? { ...each, label: 'Spoke at length' } : each)),
      }),
    );
    expect([status, body.code]).toEqual([200, undefined]);
    const now = body as unknown as Journal;
    expect([now.checklists.call, now.checklists.meeting]).toEqual([['say who we are'], ['bring the sample']]);
    expect(now.outcomes[0]!.label).toBe('Spoke at length');
    const met = await meet<Journal>(
      journal,
      ({ checklists }) => ({ checklists: { ...checklists, call: ['one'] } }),
      ({ checklists }) => ({ checklists: { ...checklists, call: ['two'] } }),
    );
    expect(met.body.fields).toEqual([
      { path: 'checklists.call', message: 'was changed by Petra Lund meanwhile' },
    ]);
  });

  test('rates, which are in a table of their own', async () => {
    const organisation = ['organisationSettings', 'changeOrganisationSettings'] as const;
    type Organisation = { rates: object[]; companyDailyLimit: number };
    const rate = (value: number) => [{ currency: 'EUR', from: '2026-01-01', rate: value }];
    const kept = await meet<Organisation>(
      organisation,
      () => ({ rates: rate(0.86) }),
      () => ({ companyDailyLimit: 4 }),
    );
    expect(kept.body).toMatchObject({ rates: rate(0.86), companyDailyLimit: 4 });
    const met = await meet<Organisation>(
      organisation,
      () => ({ rates: rate(0.87) }),
      () => ({ rates: rate(0.88) }),
    );
    expect(met.body.fields).toEqual([{ path: 'rates', message: 'was changed by Petra Lund meanwhile' }]);
  });
});

test('products, fields and templates are met field by field too', async () => {
  const admin = await installation.as('admin', 'Rhea Moss');
  const product = await admin.ok('createProduct', {
    body: { name: 'Softener S', priceMinor: 100_000, billing: 'once' },
  });
  const change = (part: object) =>
    admin.call('changeProduct', {
      params: { id: product.id },
      body: {
        version: product.version,
        name: 'Softener S',
        priceMinor: 100_000,
        billing: 'once',
        isRetired: false,
        ...part,
      },
    });
  await change({ priceMinor: 110_000 });
  expect((await change({ name: 'Softener Small' })).body).toMatchObject({
    name: 'Softener Small',
    priceMinor: 110_000,
  });
  expect((await change({ priceMinor: 120_000 })).body.fields).toEqual([
    expect.objectContaining({ path: 'priceMinor' }),
  ]);
  const field = await admin.ok('createCustomField', {
    body: { subject: 'contact', name: 'Valve', type: 'choice', choices: ['a', 'b'] },
  });
  const alter = (part: object) =>
    admin.call('changeCustomField', {
      params: { id: field.id },
      body: { version: field.version, name: 'Valve', choices: ['a', 'b'], isRetired: false, ...part },
    });
  await alter({ choices: ['a', 'b', 'c'] });
  expect((await alter({ isRetired: true })).body).toMatchObject({
    choices: ['a', 'b', 'c'],
    isRetired: true,
  });
  expect((await alter({ isRetired: false, choices: ['z'] })).body.fields).toEqual([
    expect.objectContaining({ path: 'choices' }),
  ]);
});
