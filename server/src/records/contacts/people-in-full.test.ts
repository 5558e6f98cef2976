import type { Company, Contact, StandingCount } from '@kettle/contract';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, changeOf, journalOf, standingNamed } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
let other: Caller;
let admin: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep', 'Imogen Thorne');
  other = await installation.as('rep', 'Rufus Dale');
  admin = await installation.as('admin');
});
afterAll(() => installation.close());

const change = (contact: Contact, part: object) =>
  rep.call('changeContact', { params: { id: contact.id }, body: changeOf(contact, part) });
const get = (id: string) => rep.ok('getContact', { params: { id } });
const field = (type: string, part: object = {}) =>
  admin.ok('createCustomField', {
    body: { subject: 'contact', name: `${type} ${Math.random()}`, type, ...part },
  });

describe('addresses, numbers, links and firms', () => {
  test('several of each, labelled, are kept in their order and found by search', async () => {
    const contact = await aContact(rep, {
      otherPoints: [
        { kind: 'email', label: 'private', value: 'Maud.Home@ribble.example' },
        { kind: 'phone', label: 'mobile', value: '07700 900555' },
        { kind: 'link', label: null, value: 'https://penrow.example/maud' },
      ],
      emailLabel: 'work',
    });
    expect(contact.otherPoints.map((point) => point.value)).toEqual([
      'maud.home@ribble.example',
      '+447700900555',
      'https://penrow.example/maud',
    ]);
    for (const q of ['maud.home@ribble', '+447700900555'])
      expect((await rep.ok('listContacts', { query: { q } })).rows.map((row) => row.id)).toEqual([
        contact.id,
      ]);
  });

  test.each([
    ['otherPoints.0.value', { otherPoints: [{ kind: 'phone', label: null, value: '12' }] }],
    ['otherPoints.0.value', { otherPoints: [{ kind: 'email', label: null, value: 'nobody' }] }],
    ['otherPoints.0.value', { otherPoints: [{ kind: 'link', label: null, value: 'javascript:alert(1)' }] }],
  ])('a wrong one is told at %s and nothing is written', async (path, part) => {
    const contact = await aContact(rep);
    expect((await change(contact, part)).body).toMatchObject({ fields: [{ path }] });
    expect(await get(contact.id)).toMatchObject({ version: 1, otherPoints: [] });
  });

  test('a person belongs to several firms, each dossier shows them', async () => {
    const contact = await aContact(rep, { otherCompanies: [{ name: 'Marrow Estates', role: 'adviser' }] });
    const [link] = contact.otherCompanies;
    expect(link).toMatchObject({ name: 'Marrow Estates', role: 'adviser' });
    const { people } = await rep.ok('getCompany', {
      params: { id: link!.companyId },
    });
    expect(people.map((row) => row.id)).toEqual([contact.id]);
  });

  test('what a change leaves out stays', async () => {
    const contact = await aContact(rep, { tags: ['steam'], warmth: 'hot', about: 'Two boilers.' });
    await change(contact, { jobTitle: 'owner' });
    expect(await get(contact.id)).toMatchObject({
      tags: ['steam'],
      warmth: 'hot',
      about: 'Two boilers.',
      jobTitle: 'owner',
    });
  });

  test('an organisation needs no person’s name and goes by its company’s', async () => {
    const made = await aContact(rep, {
      category: 'organisation',
      givenName: '',
      familyName: '',
      companyName: 'Hale Clinic',
    });
    expect(made).toMatchObject({ name: 'Hale Clinic', category: 'organisation' });
    const step = { channel: 'email', purpose: 'ask', dueOn: '2026-11-26', contactId: made.id };
    expect(await rep.ok('createTask', { body: step })).toMatchObject({ contactName: 'Hale Clinic' });
    const refused = await rep.call('createContact', {
      body: { givenName: '', familyName: '', companyName: 'Hale Clinic' },
    });
    expect(refused.status).toBe(400);
  });
});

describe('country and zone', () => {
  test('come from an international number when nothing else says them', async () => {
    expect(await aContact(rep, { country: null, phone: '+351 21 123 4567' })).toMatchObject({
      country: 'PT',
      zone: 'Europe/Lisbon',
      zoneByHand: false,
    });
  });

  test('follow the site, and stay when a person put them right by hand', async () => {
    const contact = await aContact(rep, { companyName: 'Two Sites' });
    const { company } = await rep.ok('getCompany', {
      params: { id: contact.companyId! },
    });
    const save = (before: Company, country: string) =>
      rep.ok('changeCompany', {
        params: { id: before.id },
        body: {
          version: before.version,
          name: before.name,
          trade: null,
          website: null,
          about: '',
          sites: [
            before.sites[0],
            {
              id: before.sites[1]?.id ?? null,
              name: 'Works',
              street: null,
              postcode: null,
              city: 'Cork',
              country,
              zone: null,
            },
          ],
        },
      });
    const changed = await save(company, 'IE');
    expect(changed.sites[1]).toMatchObject({ name: 'Works', zone: 'Europe/Dublin' });
    await change(contact, { siteId: changed.sites[1]!.id, country: null, zone: null });
    const moved = await get(contact.id);
    expect(moved).toMatchObject({ country: 'IE', zone: 'Europe/Dublin', siteName: 'Works' });
    await save(changed, 'PT');
    expect(await get(contact.id)).toMatchObject({ country: 'PT', zone: 'Europe/Lisbon' });
    await change(await get(contact.id), { zone: 'Atlantic/Azores' });
    expect(await get(contact.id)).toMatchObject({ zone: 'Atlantic/Azores', zoneByHand: true });
  });

  test('of two companies of one name the chosen one is meant, whatever country the person is in', async () => {
    const name = `Penrow Laundry ${Math.random()}`;
    const british = await aContact(rep, { companyName: name, country: 'GB' });
    const german = await aContact(rep, { companyName: name, country: 'DE' });
    expect(german.companyId).not.toBe(british.companyId);
    const chosen = await aContact(rep, { companyName: name, country: 'DE', companyId: british.companyId });
    expect([chosen.companyId, chosen.country]).toEqual([british.companyId, 'DE']);
    // Changed to the other of the name, and kept by a form that changes something else.
    await change(chosen, { companyName: name, companyId: german.companyId });
    expect((await get(chosen.id)).companyId).toBe(german.companyId);
    await change(await get(chosen.id), { companyName: name, about: 'moved' });
    expect((await get(chosen.id)).companyId).toBe(german.companyId);
    // A name typed over the one that was chosen is what counts.
    await change(await get(chosen.id), { companyName: `${name} & Sons`, companyId: german.companyId });
    expect((await get(chosen.id)).companyName).toBe(`${name} & Sons`);
  });

  test('a company that changes its name is renamed with its people; another’s name is refused', async () => {
    const [one, two] = [
      await aContact(rep, { companyName: 'Old Name' }),
      await aContact(rep, { companyName: 'Taken' }),
    ];
    const read = async (id: string) => (await rep.ok('getCompany', { params: { id } })).company;
    const body = (company: Company, name: string) => ({
      version: company.version,
      name,
      trade: null,
      website: null,
      about: '',
      sites: company.sites,
    });
    await rep.ok('changeCompany', {
      params: { id: one.companyId! },
      body: body(await read(one.companyId!), 'New Name'),
    });
    expect((await get(one.id)).companyName).toBe('New Name');
    expect((await rep.ok('listContacts', { query: { q: 'new name' } })).rows.map((row) => row.id)).toContain(
      one.id,
    );
    const refused = await rep.call('changeCompany', {
      params: { id: two.companyId! },
      body: body(await read(two.companyId!), 'NEW NAME Ltd'),
    });
    expect(refused.body).toMatchObject({ code: 'already-exists' });
    expect((await journalOf(rep, { companyId: one.companyId! }))[0]?.body).toBe('Name: Old Name → New Name');
  });
});

describe('custom fields', () => {
  test.each([
    ['text', 'two boilers'],
    ['number', 12.5],
    ['money', 440_000],
    ['date', '2026-12-01'],
    ['yes-no', true],
    ['link', 'https://firm.example'],
  ])('a %s is written in a cell, read, filtered for and emptied', async (type, value) => {
    const made = await field(type);
    const contact = await aContact(rep);
    const cell = (version: number, written: unknown) =>
      rep.ok('changeCell', {
        params: { id: contact.id },
        body: { version, field: `custom:${made.id}`, value: written },
      });
    expect((await cell(1, value)).custom[made.id]).toBe(value);
    const ask = type === 'yes-no' ? 'yes' : 'filled';
    const filter = JSON.stringify({ join: 'all', rules: [{ field: `custom:${made.id}`, ask }] });
    const found = await rep.ok('listContacts', {
      query: { filter, sort: `-custom:${made.id}` },
    });
    expect(found.rows.map((row) => row.id)).toEqual([contact.id]);
    expect((await cell(2, null)).custom[made.id]).toBeUndefined();
  });

  test('a choice is one of its choices; a person is a contact', async () => {
    const choice = await field('choice', { choices: ['Gas', 'Oil'] });
    const contact = await aContact(rep);
    const write = (value: unknown) =>
      rep.call('changeCell', {
        params: { id: contact.id },
        body: { version: 1, field: `custom:${choice.id}`, value },
      });
    expect((await write('Coal')).body).toMatchObject({ fields: [{ path: `custom.${choice.id}` }] });
    expect((await write('Oil')).status).toBe(200);
    expect(
      (await admin.call('createCustomField', { body: { subject: 'contact', name: 'Empty', type: 'choice' } }))
        .status,
    ).toBe(400);
  });

  test('a retired field is shown nowhere, keeps its values, and comes back', async () => {
    const made = await field('text');
    const contact = await aContact(rep, { custom: { [made.id]: 'kept' } });
    const retire = (version: number, isRetired: boolean) =>
      admin.ok('changeCustomField', {
        params: { id: made.id },
        body: { version, name: made.name, choices: [], isRetired },
      });
    await retire(1, true);
    expect((await get(contact.id)).custom).toEqual({});
    await retire(2, false);
    expect((await get(contact.id)).custom).toEqual({ [made.id]: 'kept' });
    expect(
      (await rep.call('createCustomField', { body: { subject: 'contact', name: 'x', type: 'text' } })).status,
    ).toBe(403);
  });

  test('what is exported is what the view shows, custom fields too, and can come in again', async () => {
    const made = await field('money');
    await aContact(rep, {
      familyName: 'Export',
      tags: ['b', 'a'],
      custom: { [made.id]: 123_456 },
      jobTitle: '=cmd()',
    });
    const sent = await rep.call('exportContacts', {
      query: { q: 'export', columns: `name,phone,job-title,tags,custom:${made.id}` },
    });
    expect(sent.headers['content-disposition']).toContain('people.csv');
    expect(sent.text).toBe(
      `\ufeffname,given name,family name,phone,job title,tags,${made.name}\r\nMaud Export,Maud,Export,+441632960123,'=cmd(),"a, b",1234.56\r\n`,
    );
  });
});

describe('one cell', () => {
  test('every change is in the journal from what to what, with who', async () => {
    const contact = await aContact(rep, { warmth: 'cool' });
    const row = await rep.ok('changeCell', {
      params: { id: contact.id },
      body: { version: 1, field: 'warmth', value: 'hot' },
    });
    await rep.ok('changeCell', {
      params: { id: contact.id },
      body: { version: row.version, field: 'tags', value: ['steam', 'audit'] },
    });
    expect(
      (await journalOf(rep, { contactId: contact.id })).map((entry) => [entry.body, entry.userName]),
    ).toEqual([
      ['Tags: empty → audit, steam', 'Imogen Thorne'],
      ['Warmth: cool → hot', 'Imogen Thorne'],
    ]);
  });

  test.each([
    ['email', 'nonsense', 'email'],
    ['warmth', 'boiling', 'warmth'],
    ['phone', '12', 'phone'],
    ['standingId', 'not an id', 'standingId'],
  ])('a wrong %s is told at its field', async (name, value, path) => {
    const contact = await aContact(rep);
    const refused = await rep.call('changeCell', {
      params: { id: contact.id },
      body: { version: 1, field: name, value },
    });
    expect(refused.body).toMatchObject({ fields: [{ path }] });
  });

  test('over another’s change nothing is written', async () => {
    const contact = await aContact(rep);
    await rep.ok('changeCell', {
      params: { id: contact.id },
      body: { version: 1, field: 'jobTitle', value: 'buyer' },
    });
    const late = await rep.call('changeCell', {
      params: { id: contact.id },
      body: { version: 1, field: 'jobTitle', value: 'owner' },
    });
    expect(late.body).toMatchObject({ code: 'stale', current: { jobTitle: 'buyer' } });
  });
});

describe('filters, groups', () => {
  let mine: Caller;
  beforeAll(async () => {
    mine = await installation.as('rep');
    const customer = await standingNamed(mine, 'Customer');
    await aContact(mine, {
      familyName: 'Aske',
      companyName: 'North',
      warmth: 'hot',
      tags: ['x'],
      standingId: customer.id,
    });
    await aContact(mine, { familyName: 'Birk', companyName: 'South', warmth: 'cool', jobTitle: 'buyer' });
    await aContact(mine, { familyName: 'Cray', companyName: null, country: 'IE', phone: null });
    const { rows } = await mine.ok('listContacts', { query: { owner: 'mine' } });
    await mine.ok('log', {
      body: {
        id: crypto.randomUUID(),
        contactId: rows[0]!.id,
        outcomeId: 'call-spoke',
        at: '2026-11-20T10:00:00.000Z',
        next: { kind: 'task', channel: 'call', dueOn: '2026-11-27', purpose: 'ask' },
      },
    });
  });
  const rule = (field: string, ask: string, value?: string | number) => ({
    field,
    ask,
    ...(value === undefined ? {} : { value }),
  });
  const found = async (filter: object) => {
    const query = { owner: 'mine', filter: JSON.stringify(filter) };
    const { rows } = await mine.ok('listContacts', { query });
    const count = await mine.ok('countContacts', { query });
    expect(count.found).toBe(rows.length);
    return rows.map((row) => row.familyName);
  };

  test.each<[string, object, string[]]>([
    ['a part of a name', { join: 'all', rules: [rule('name', 'has', 'ASK')] }, ['Aske']],
    ['and', { join: 'all', rules: [rule('warmth', 'is', 'hot'), rule('company', 'is', 'north')] }, ['Aske']],
    [
      'or',
      { join: 'any', rules: [rule('warmth', 'is', 'hot'), rule('job-title', 'is', 'buyer')] },
      ['Aske', 'Birk'],
    ],
    [
      'and within or',
      {
        join: 'any',
        rules: [
          { join: 'all', rules: [rule('warmth', 'is', 'cool'), rule('job-title', 'filled')] },
          rule('country', 'is', 'IE'),
        ],
      },
      ['Birk', 'Cray'],
    ],
    ['is not counts the empty', { join: 'all', rules: [rule('warmth', 'is-not', 'hot')] }, ['Birk', 'Cray']],
    ['empty', { join: 'all', rules: [rule('company', 'empty')] }, ['Cray']],
    ['a tag', { join: 'all', rules: [rule('tags', 'is', 'X')] }, ['Aske']],
    ['no tag', { join: 'all', rules: [rule('tags', 'empty')] }, ['Birk', 'Cray']],
    [
      'spoken to within seven days',
      { join: 'all', rules: [rule('last-conversation', 'within-past', 7)] },
      ['Aske'],
    ],
    [
      'not spoken to for three days',
      { join: 'all', rules: [rule('last-conversation', 'not-within-past', 3)] },
      ['Aske', 'Birk', 'Cray'],
    ],
    [
      'not spoken to for thirty days',
      { join: 'all', rules: [rule('last-conversation', 'not-within-past', 30)] },
      ['Birk', 'Cray'],
    ],
    ['next step within three days', { join: 'all', rules: [rule('next-step', 'within-next', 3)] }, ['Aske']],
    ['added after a day', { join: 'all', rules: [rule('created', 'after', '2026-11-24')] }, []],
    ['owned by me', { join: 'all', rules: [rule('owner', 'is', 'me')] }, ['Aske', 'Birk', 'Cray']],
    ['wild cards are letters', { join: 'all', rules: [rule('name', 'has', '%')] }, []],
    ['nothing asked', { join: 'all', rules: [] }, ['Aske', 'Birk', 'Cray']],
  ])('%s', async (_, filter, names) => {
    expect(await found(filter)).toEqual(names);
  });

  test('groups come with their counts in the order of the list', async () => {
    const groups = await mine.ok('countContacts', {
      query: { owner: 'mine', group: 'standing' },
    });
    expect(groups.groups.map((each) => [each.name, each.count])).toEqual([
      ['New', 2],
      ['Customer', 1],
    ]);
    const { rows } = await mine.ok('listContacts', {
      query: { owner: 'mine', group: 'standing' },
    });
    expect(rows.map((row) => row.familyName)).toEqual(['Birk', 'Cray', 'Aske']);
    const byWarmth = await mine.ok('countContacts', {
      query: { owner: 'mine', group: 'warmth' },
    });
    expect(byWarmth.groups.at(-1)).toMatchObject({ key: null, name: 'empty' });
  });
});

describe('the pool', () => {
  const unowned = async () => {
    const contact = await aContact(rep);
    return rep.ok('handOver', {
      params: { id: contact.id },
      body: { version: 1, ownerId: null },
    });
  };

  test('two claim at once: one has the contact, the other is told who', async () => {
    const { id } = await unowned();
    const [one, two] = await Promise.all([
      rep.call('claimContact', { params: { id } }),
      other.call('claimContact', { params: { id } }),
    ]);
    expect([one.status, two.status].sort()).toEqual([200, 409]);
    const refused = one.status === 409 ? one : two;
    expect(refused.body.code).toBe('already-claimed');
    const owner = (await get(id)).ownerName;
    expect(refused.body.detail).toContain(owner);
  });

  test('claiming what is mine already changes nothing', async () => {
    const { id } = await unowned();
    await rep.ok('claimContact', { params: { id } });
    const { version } = await get(id);
    await rep.ok('claimContact', { params: { id } });
    expect((await get(id)).version).toBe(version);
  });

  test('handing over tells the new owner and the journal; a colleague’s contact cannot be taken', async () => {
    const contact = await aContact(rep, { familyName: 'Given' });
    await rep.ok('handOver', { params: { id: contact.id }, body: { version: 1, ownerId: other.id } });
    const told = await other.ok('listNotifications');
    expect(told.notifications[0]?.words).toBe('Imogen Thorne gave you Maud Given');
    expect((await journalOf(rep, { contactId: contact.id }))[0]?.body).toBe(
      'Owner: Imogen Thorne → Rufus Dale',
    );
    const taken = await rep.call('handOver', {
      params: { id: contact.id },
      body: { version: 2, ownerId: rep.id },
    });
    expect(taken.body.code).toBe('not-yours');
    await other.ok('readNotifications');
    expect(await other.ok('listNotifications')).toMatchObject({ unread: 0 });
  });
});

describe('standings', () => {
  const read = async () => {
    const { standings } = await admin.ok('listStandings');
    return standings.map(({ standing }) => standing);
  };

  test('one that has contacts goes only with a home for them; each journal says so', async () => {
    const contact = await aContact(rep);
    const all = await read();
    const [first, second] = all;
    const rest = all.slice(1).map((each) => ({ ...each, isDefault: each.id === second!.id }));
    const refused = await admin.call('saveStandings', { body: { seen: all, standings: rest } });
    expect(refused.body).toMatchObject({ code: 'needs-a-home' });
    await admin.ok('saveStandings', {
      body: { seen: all, standings: rest, homes: [{ from: first!.id, to: second!.id }] },
    });
    expect((await get(contact.id)).standingId).toBe(second!.id);
    expect((await journalOf(rep, { contactId: contact.id }))[0]?.body).toBe('Standing: New → In talks');
  });

  test('a changed interval moves everybody’s check-in', async () => {
    const all = await read();
    const contact = await aContact(rep);
    const mine = all.find((each) => each.id === contact.standingId)!;
    await admin.ok('saveStandings', {
      body: {
        seen: all,
        standings: all.map((each) => (each.id === mine.id ? { ...each, checkInDays: 100 } : each)),
      },
    });
    await installation.work();
    // 24 November and a hundred days is 4 March, a Thursday.
    expect((await get(contact.id)).checkInDueOn).toBe('2027-03-04');
  });

  test('two of one name are refused, and names can be swapped', async () => {
    const all = await read();
    const twice = all.map((each, index) => (index === 1 ? { ...each, name: all[0]!.name } : each));
    expect((await admin.call('saveStandings', { body: { seen: all, standings: twice } })).body.code).toBe(
      'already-exists',
    );
    const swapped = all.map((each, index) => ({
      ...each,
      name: all[index === 0 ? 1 : index === 1 ? 0 : index]!.name,
    }));
    await admin.ok('saveStandings', { body: { seen: all, standings: swapped } });
    expect((await read()).map((each) => each.name)).toEqual(swapped.map((each) => each.name));
  });

  describe('two admins at once', () => {
    type Row = StandingCount['standing'];
    let colleague: Caller;
    let seen: Row[];
    beforeEach(async () => {
      colleague = await installation.as('admin', 'Petra Lund');
      seen = await read();
    });
    const save = (who: Caller, standings: object[], more: object = {}) =>
      who.call('saveStandings', { body: { seen, standings, ...more } });
    const withPart = (at: number, part: object) =>
      seen.map((each, index) => (index === at ? { ...each, ...part } : each));
    const aStanding = { id: null, name: 'Trial', group: 'prospect', checkInDays: 5, isDefault: false };

    test('what the other added, changed and put in another place stays', async () => {
      await save(colleague, [...withPart(0, { checkInDays: 3 }), aStanding]);
      expect((await save(admin, withPart(0, { name: 'Brand new' }))).status).toBe(200);
      const now = await read();
      expect(now[0]).toMatchObject({ name: 'Brand new', checkInDays: 3 });
      expect(now.at(-1)).toMatchObject({ name: 'Trial', isDefault: false });
      expect(now).toHaveLength(seen.length + 1);
    });

    test('of the same field it is asked whose holds', async () => {
      await save(colleague, withPart(1, { checkInDays: 3 }));
      const mine = withPart(1, { checkInDays: 9 });
      const refused = await save(admin, mine);
      const path = `standings.${seen[1]!.id}.checkInDays`;
      expect([refused.body.code, refused.body.fields]).toEqual([
        'stale',
        [{ path, message: 'was changed by Petra Lund meanwhile' }],
      ]);
      const { version } = refused.body.current as { version: number };
      expect((await save(admin, mine, { resolved: { version, mine: [path], theirs: [] } })).status).toBe(200);
      expect((await read())[1]).toMatchObject({ checkInDays: 9 });
    });

    test('which is given to new contacts stays one', async () => {
      const usual = (at: number) => seen.map((each, index) => ({ ...each, isDefault: index === at }));
      await save(colleague, usual(1));
      await save(admin, withPart(3, { name: 'Best customer' }));
      expect((await read()).map(({ isDefault }) => isDefault)).toEqual(seen.map((_, at) => at === 1));
      expect((await save(admin, usual(2))).body.fields).toMatchObject([{ path: 'usual' }]);
      const rest = seen.filter((_, at) => at !== 1);
      const homes = [{ from: seen[1]!.id, to: seen[0]!.id }];
      expect((await save(admin, rest, { homes })).status).toBe(200);
      expect((await read()).map(({ isDefault }) => isDefault)).toEqual(rest.map((_, at) => at === 0));
    });
  });
});
