import { readVCards } from '@kettle/core/imports';
import { type Caller, install, type Installation } from '../../../testing/installation';
import { aContact } from '../../../testing/people';
import { exportList } from '../grid/export-list';
import { newId } from '../../platform/ids';

let installation: Installation;
let rep: Caller;
beforeEach(async () => {
  installation = await install();
  rep = await installation.as('rep', 'Ada Bright');
});
afterEach(() => installation.close());

const cards = async (query: object) => (await rep.call('exportContacts', { query })).text;

test.each(['vcard-3', 'vcard-4'] as const)('people as %s are read again as they were', async (as) => {
  const contact = await aContact(rep, {
    ...{
      givenName: 'Åse',
      familyName: 'de la Cruz',
      companyName: 'Alder; Baths, Ltd',
      email: 'ase@alder.example',
    },
    ...{ phone: '+441632960123', jobTitle: 'buyer', tags: ['steam', 'north'] },
    about: 'First line\nsecond; with, marks \\ and more',
  });
  const { company } = await rep.ok('getCompany', { params: { id: contact.companyId! } });
  await rep.ok('changeCompany', {
    params: { id: company.id },
    body: {
      version: company.version,
      sites: [{ ...company.sites[0]!, street: '1, Mill Lane', postcode: 'MD1 4AA', city: 'Marrowdale' }],
    },
  });
  const text = await cards({ as });
  expect(text).toMatch(/^BEGIN:VCARD\r\n/);
  const { cards: read, unreadable } = readVCards(text);
  expect(unreadable).toEqual([]);
  expect(read.map(({ raw }) => raw)).toEqual([
    expect.objectContaining({
      ...{ givenName: 'Åse', familyName: 'de la Cruz', company: 'Alder; Baths, Ltd', jobTitle: 'buyer' },
      ...{ email: 'ase@alder.example', phone: '+441632960123', street: '1, Mill Lane', city: 'Marrowdale' },
      ...{
        postcode: 'MD1 4AA',
        country: 'United Kingdom',
        note: 'First line\nsecond; with, marks \\ and more',
      },
    }),
  ]);
});

test('cards are of what was picked; a list without people has none, and a list of nobody is empty', async () => {
  const [one] = [
    await aContact(rep, { givenName: 'One', familyName: 'Holm' }),
    await aContact(rep, { givenName: 'Two' }),
  ];
  const text = await cards({ as: 'vcard-4', ids: one.id });
  expect(text.match(/BEGIN:VCARD/g)).toHaveLength(1);
  expect(text).toContain('FN:One Holm');
  expect(await cards({ as: 'vcard-4', q: 'nobodycalledthis' })).toBe('');
  expect((await rep.call('exportDeals', { query: { as: 'vcard-4' } as never })).status).toBe(400);
});

test('a workbook of more rows than it may have is refused with what to do, before any is read', async () => {
  const { services } = installation;
  const ids = Array.from({ length: 20_001 }, () => newId());
  const asked = {
    what: 'people',
    as: 'xlsx' as const,
    fields: {},
    columns: [],
    rows: () => Promise.reject(new Error('read')),
  };
  const who = { role: 'admin' } as never;
  await expect(
    exportList(services, { who, response: {} as never }, { ...asked, ids: ids as never }),
  ).rejects.toMatchObject({
    code: 'sheet-too-long',
    parameters: { most: 20_000, found: 20_001 },
  });
});
