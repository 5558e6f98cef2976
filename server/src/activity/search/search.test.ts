import { randomUUID } from 'node:crypto';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, aLog, journalOf } from '../../../testing/people';
import { around } from './search.routes';

let installation: Installation;
let rep: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep');
});
afterAll(() => installation.close());

const hits = async (q: string, among = 'names') => (await rep.ok('search', { query: { q, among } })).hits;

describe('search across everything', () => {
  test('finds people, firms and deals by the beginning of any word, without case or accents', async () => {
    const contact = await aContact(rep, {
      givenName: 'Zoë',
      familyName: 'Quarmby',
      companyName: 'Quarmby Dairy',
      email: 'zq@dairy.example',
    });
    await aDeal(rep, contact.id, { name: 'Quarmby softener' });
    expect((await hits('QUARM')).map((hit) => [hit.kind, hit.title])).toEqual([
      ['contact', 'Zoë Quarmby'],
      ['company', 'Quarmby Dairy'],
      ['deal', 'Quarmby softener'],
    ]);
    for (const q of ['zoe', 'zq@dairy', '01632 960123', '+44 1632-960-123'])
      expect((await hits(q)).map((hit) => hit.title)).toContain('Zoë Quarmby');
  });

  test('finds what was written, newest first, and shows the words around it', async () => {
    const contact = await aContact(rep, { familyName: 'Noted' });
    await aLog(rep, contact.id, {
      body: 'Their descaler is thirty years old and leaks at the valve.',
      at: '2026-11-01T10:00:00.000Z',
    });
    await rep.ok('writeNote', {
      body: {
        id: randomUUID(),
        contactId: contact.id,
        isRich: true,
        body: '<p>New <strong>descaler</strong> quoted</p>',
      },
    });
    const found = await hits('descal', 'notes');
    expect(found.map((hit) => [hit.kind, hit.title, hit.words])).toEqual([
      ['note', 'Maud Noted', 'New descaler quoted'],
      ['note', 'Maud Noted', 'Their descaler is thirty years old and leaks at the valve.'],
    ]);
    const [newest] = await journalOf(rep, { contactId: contact.id });
    await rep.ok('removeEntry', { params: { id: newest!.id }, body: { version: newest!.version } });
    expect(await hits('descal', 'notes')).toHaveLength(1);
  });

  test.each(['', '+', '"', '-*~()<>@', '%', '\\'])('whatever is typed does no harm: %j', async (q) => {
    for (const among of ['names', 'notes'])
      expect((await rep.call('search', { query: { q, among } })).status).toBe(200);
  });

  test('a long text is cut around what was found', () => {
    const text = `${'a '.repeat(60)}boiler ${'b '.repeat(90)}`;
    expect(around(text, ['boil'])).toMatch(/^….*boiler.*…$/);
    expect(around('no such word', ['boil'])).toBe('no such word');
  });
});

describe('Jot', () => {
  const read = (line: string, part: object = {}) => rep.ok('readJot', { body: { line, ...part } });

  test('finds whom a line means among everybody, and saves nothing', async () => {
    const contact = await aContact(rep, {
      givenName: 'Greta',
      familyName: 'Osmotherley',
      companyName: 'Osmo Clinic',
    });
    expect(await read('spoke to Greta Osmotherly, wants price, call thursday 10')).toMatchObject({
      act: 'log',
      person: { id: contact.id },
      outcomeId: 'call-spoke',
      body: 'wants price',
      task: { channel: 'call', on: '2026-11-26', minute: 600 },
    });
    expect(await journalOf(rep, { contactId: contact.id })).toEqual([]);
  });

  test('offers what it does not know, asks what it cannot tell, and takes the open person', async () => {
    const contact = await aContact(rep, { givenName: 'Hester', familyName: 'Vane' });
    await aContact(rep, { givenName: 'Hester', familyName: 'Wray' });
    expect(await read('spoke to Casimir Vogel')).toMatchObject({
      person: null,
      unknownName: 'Casimir Vogel',
    });
    const asked = await read('left a message for Hester');
    expect(asked.questions[0]).toMatchObject({ about: 'person' });
    expect(asked.questions[0]?.choices).toHaveLength(2);
    expect(await read('left a message for Hester', { answers: { person: contact.id } })).toMatchObject({
      person: { id: contact.id },
      questions: [],
    });
    expect(await read('left a message', { aboutId: contact.id })).toMatchObject({
      person: { id: contact.id },
    });
  });
});
