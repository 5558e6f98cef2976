import type { Contact, ContactPage } from '@kettle/contract';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, changeOf } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep');
});
afterAll(() => installation.close());
afterEach(() => installation.clock.set('2026-11-24T09:10:00.000Z'));

const names = (page: ContactPage) => page.rows.map((row) => row.name);
const list = (query: object) => rep.ok('listContacts', { query });

describe('finding people', () => {
  beforeAll(async () => {
    await aContact(rep, {
      givenName: 'Zoë',
      familyName: "O'Keele",
      companyName: 'Müller & Söhne',
      email: 'zoe@muller.example',
      phone: '+44 7700 900 111',
    });
    await aContact(rep, {
      givenName: 'Sinéad',
      familyName: 'Brannigan',
      companyName: 'Kilmoran House',
      country: 'IE',
      phone: '+353209101234',
    });
  });

  test.each([
    ['the beginning of a name, without its accent', 'zoe', "Zoë O'Keele"],
    ['a name with its apostrophe', "o'kee", "Zoë O'Keele"],
    ['a firm', 'mull soh', "Zoë O'Keele"],
    ['an address', 'zoe@muller.example', "Zoë O'Keele"],
    ['digits as they are dialled at home', '07700 900111', "Zoë O'Keele"],
    ['digits from abroad', '+353 20 910 1234', 'Sinéad Brannigan'],
    ['capitals', 'SINEAD', 'Sinéad Brannigan'],
    ['one letter: family names that begin with it', 'b', 'Sinéad Brannigan'],
  ])('by %s', async (_, q, name) => {
    expect(names(await list({ q }))).toContain(name);
  });

  test.each(['+', '"', 'a@b', '*-~()<>', '\\', "'; DROP TABLE contact; --", '%', '   '])(
    'whatever is typed does no harm: %j',
    async (q) => {
      expect((await rep.call('listContacts', { query: { q } })).status).toBe(200);
    },
  );

  test('the list says how many match and how many there are', async () => {
    const count = await rep.ok('countContacts', { query: { q: 'sinead' } });
    expect(count.found).toBe(1);
    expect(count.total).toBeGreaterThan(1);
  });
});

describe('paging and sorting', () => {
  test.each([
    'name',
    '-name',
    'company',
    '-company,name',
    '-last-touch',
    'next-step,-name',
    '-check-in',
    'standing,-company',
    'owner,country,name',
  ])('by %s: pages together are the whole list, nobody twice', async (sort) => {
    for (let n = 0; n < 4; n += 1) await aContact(rep, n === 0 ? { companyName: null } : {});
    const whole = await list({ sort, limit: 200 });
    const seen: string[] = [];
    for (let after = 0; after < whole.rows.length; after += 3) {
      const page = await list({ sort, limit: 3, after });
      seen.push(...page.rows.map((row) => row.id));
    }
    expect(seen).toEqual(whole.rows.map((row) => row.id));
  });

  test.each([
    ['sort', { sort: 'salary' }],
    ['sort', { sort: 'Robert; DROP' }],
    ['after', { after: '-1' }],
    ['filter', { filter: 'not json' }],
    [
      'filter',
      { filter: JSON.stringify({ join: 'all', rules: [{ field: 'name', ask: 'within-past', value: 3 }] }) },
    ],
    [
      'filter',
      {
        filter: JSON.stringify({
          join: 'all',
          rules: [{ field: 'last-touch', ask: 'before', value: 'soon' }],
        }),
      },
    ],
  ])('a wrong %s is refused at its field', async (path, query) => {
    const refused = await rep.call('listContacts', { query });
    expect(refused.status).toBe(400);
    expect((refused.body.fields as { path: string }[])[0]?.path.split('.')).toContain(path);
  });
});

describe('standings', () => {
  test('count due and all; the quiet filter shows the due', async () => {
    const other = await installation.as('rep');
    const mine = await aContact(other);
    installation.clock.set('2026-12-05T09:00:00.000Z');
    const { standings } = await other.ok('listStandings', { query: { owner: 'mine' } });
    expect(standings.find((each) => each.standing.name === 'New')).toMatchObject({ due: 1, all: 1 });
    const quiet = await other.ok('listContacts', { query: { owner: 'mine', quiet: 'yes' } });
    expect(quiet.rows.map((row) => row.id)).toEqual([mine.id]);
  });
});

describe('changing a person', () => {
  const change = (contact: Contact, part: object = {}) =>
    rep.call('changeContact', { params: { id: contact.id }, body: changeOf(contact, part) });

  test('two who save at once: the second sees the first one’s change', async () => {
    const contact = await aContact(rep);
    expect((await change(contact, { jobTitle: 'buyer' })).body).toMatchObject({
      jobTitle: 'buyer',
      version: 2,
    });
    expect((await change(contact, { jobTitle: 'owner' })).body).toMatchObject({
      code: 'stale',
      current: { jobTitle: 'buyer', version: 2 },
    });
  });

  test('a standing set anew is in the journal with who, and the check-in follows', async () => {
    const contact = await aContact(rep);
    const { standings } = await rep.ok('listStandings');
    const customer = standings.find((each) => each.standing.name === 'Customer')!.standing;
    expect((await change(contact, { standingId: customer.id })).body).toMatchObject({
      checkInDueOn: '2027-01-25',
    });
    const { entries } = await rep.ok('listJournal', {
      query: { contactId: contact.id },
    });
    expect(entries[0]).toMatchObject({ kind: 'system', body: 'Standing: New → Customer' });
  });

  test('do-not-contact keeps its date and origin while other things change', async () => {
    const contact = await aContact(rep, { doNotContact: ['call'] });
    const since = contact.doNotContact[0]!.since;
    installation.clock.set('2026-11-24T11:00:00.000Z');
    const changed = await change(contact, { doNotContact: ['call', 'email'] });
    expect((changed.body as Contact).doNotContact.find((mark) => mark.channel === 'call')?.since).toBe(since);
  });

  test.each([
    ['phone', { phone: '12' }],
    ['email', { email: 'nonsense' }],
    ['zone', { zone: 'Nowhere/Land' }],
    ['familyName', { givenName: '', familyName: '' }],
    ['country', { country: 'Britain' }],
  ])('a wrong %s is told at its field, and nothing is written', async (field, part) => {
    const contact = await aContact(rep);
    const refused = await change(contact, part);
    expect((refused.body.fields as { path: string }[]).map((each) => each.path)).toContain(field);
    expect(await rep.ok('getContact', { params: { id: contact.id } })).toMatchObject({ version: 1 });
  });

  test('the zone follows the country unless it is given', async () => {
    expect(await aContact(rep, { country: 'PT', phone: null })).toMatchObject({ zone: 'Europe/Lisbon' });
    expect(await aContact(rep, { country: 'PT', phone: null, zone: 'Atlantic/Azores' })).toMatchObject({
      zone: 'Atlantic/Azores',
    });
  });

  test('one firm however it is written', async () => {
    const one = await aContact(rep, { companyName: 'Skell Bakery Ltd.' });
    const two = await aContact(rep, { companyName: 'SKELL  BAKERY' });
    expect(two.companyId).toBe(one.companyId);
    expect(await rep.ok('getCompany', { params: { id: one.companyId! } })).toMatchObject({
      company: { people: 2 },
    });
    expect(await rep.ok('countCompanies', { query: { q: 'skell' } })).toMatchObject({ found: 1 });
  });
});
