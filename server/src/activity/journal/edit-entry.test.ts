import { randomUUID } from 'node:crypto';
import type { JournalEntry } from '@kettle/contract';
import fc from 'fast-check';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aLog, journalOf, standingNamed } from '../../../testing/people';
import { mentioned } from './tell-named';
import { cleanRichText } from './rich-text';

let installation: Installation;
let rep: Caller;
let other: Caller;
let admin: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep', 'Imogen Thorne');
  other = await installation.as('rep', 'Rufus Dale');
  admin = await installation.as('admin', 'Ada Quick');
});
afterAll(() => installation.close());

const get = (id: string) => rep.ok('getContact', { params: { id } });
const only = async (contactId: string, query: object = {}) =>
  (await journalOf(admin, { contactId, ...query })).filter((entry) => entry.kind !== 'system')[0]!;
const edit = (entry: JournalEntry, part: object) => ({
  params: { id: entry.id },
  body: { version: entry.version, body: entry.body, at: entry.at, minutes: entry.minutes, ...part },
});

describe('an entry', () => {
  test('that is edited keeps what it said, and the touch moves with its moment', async () => {
    const contact = await aContact(rep);
    await aLog(rep, contact.id, { body: 'wants a price' });
    const entry = await only(contact.id);
    await rep.ok(
      'editEntry',
      edit(entry, { body: 'wants a price for two', at: '2026-11-20T14:00:00.000Z', minutes: 12 }),
    );
    expect(await only(contact.id)).toMatchObject({
      body: 'wants a price for two',
      minutes: 12,
      editedAt: installation.clock.now(),
    });
    expect(await admin.ok('entryHistory', { params: { id: entry.id } })).toMatchObject({
      before: [{ body: 'wants a price', editedBy: 'Imogen Thorne' }],
    });
    expect((await get(contact.id)).tether.lastTouchAt).toBe('2026-11-20T14:00:00.000Z');
  });

  test('that is removed counts for nothing, is shown when asked for, and comes back', async () => {
    const contact = await aContact(rep);
    await aLog(rep, contact.id);
    const entry = await only(contact.id);
    await rep.ok('removeEntry', { params: { id: entry.id }, body: { version: entry.version } });
    expect(await get(contact.id)).toMatchObject({ attempts: [], tether: { lastTouchAt: null } });
    expect(await journalOf(rep, { contactId: contact.id })).toEqual([]);
    expect(await only(contact.id, { removed: 'yes' })).toMatchObject({ removedByName: 'Imogen Thorne' });
    await rep.ok('restoreEntry', { params: { id: entry.id } });
    expect(await get(contact.id)).toMatchObject({ attempts: [{ channel: 'call', tries: 1 }] });
  });

  test('edited by two at once keeps what each of them changed; the same field is a conflict of just that field', async () => {
    const contact = await aContact(rep);
    await aLog(rep, contact.id);
    const seen = await only(contact.id);
    await rep.ok('editEntry', edit(seen, { minutes: 12 }));
    await admin.ok('editEntry', edit(seen, { body: 'wants two' }));
    expect(await only(contact.id)).toMatchObject({ body: 'wants two', minutes: 12 });
    const { status, body } = await rep.call('editEntry', edit(seen, { body: 'wants three' }));
    expect([status, body.fields]).toEqual([
      409,
      [{ path: 'body', message: expect.stringMatching(/^was changed by .+ meanwhile$/) }],
    ]);
    const { version } = body.current as JournalEntry;
    const resolved = { version, mine: ['body'], theirs: [] };
    await rep.ok('editEntry', edit(seen, { body: 'wants three', resolved }));
    expect(await only(contact.id)).toMatchObject({ body: 'wants three', minutes: 12 });
  });

  test('is not set into the future, nor changed by a colleague or over another change; the system’s own by nobody', async () => {
    const contact = await aContact(rep, { warmth: 'cool' });
    await aLog(rep, contact.id);
    const entry = await only(contact.id);
    const refusal = async (caller: Caller, part: object, of = entry) =>
      (await caller.call('editEntry', edit(of, part))).body.code;
    expect(await refusal(rep, { at: '2026-11-24T10:00:00.000Z' })).toBe('in-the-future');
    expect(await refusal(other, { body: 'mine' })).toBe('not-yours');
    expect(await refusal(rep, { version: 7 })).toBe('stale');
    await rep.ok('changeCell', {
      params: { id: contact.id },
      body: { version: 1, field: 'warmth', value: 'hot' },
    });
    const system = (await journalOf(rep, { contactId: contact.id, kinds: 'system' }))[0]!;
    expect(await refusal(admin, { body: 'x' }, system)).toBe('not-allowed');
  });

  test('of several people is in the journal and touch facts of each', async () => {
    const [one, two] = [await aContact(rep), await aContact(rep)];
    await aLog(rep, one.id, { alsoContactIds: [two.id], outcomeId: 'meeting-held', done: ['named a price'] });
    const entry = await only(two.id);
    expect(entry).toMatchObject({ contactId: one.id, people: [{ id: two.id }], done: ['named a price'] });
    expect((await get(two.id)).lastConversationAt).toBe(entry.at);
    await rep.ok('undoLog', { params: { id: entry.id } });
    expect((await get(two.id)).lastConversationAt).toBeNull();
  });
});

describe('notes', () => {
  const write = (contactId: string, part: object) =>
    rep.call('writeNote', { body: { id: randomUUID(), contactId, body: 'seen', ...part } });

  test('tell neither whom nor what to a colleague who may not read it', async () => {
    const allow = async (reading: 'own' | 'all') =>
      admin.ok('changeRightsSettings', { body: { ...(await admin.ok('rightsSettings')), reading } });
    await allow('own');
    const contact = await aContact(rep);
    await write(contact.id, { body: '@Rufus Dale a secret price' });
    const [told, ...more] = (await other.ok('listNotifications')).notifications;
    await allow('all');
    expect([more, told?.path]).toEqual([[], '/round']);
    expect(told!.words).toContain('named you where you may not read');
    expect(told!.words).not.toContain('secret');
    expect(told!.words).not.toContain(contact.name);
  });

  test('tell whoever is named with an @ in them, once, and not the writer', async () => {
    const contact = await aContact(rep);
    const note = { id: randomUUID(), isRich: true, body: '<p>@Rufus Dale <strong>look</strong> at that</p>' };
    await write(contact.id, note);
    await write(contact.id, note);
    const heard = async (caller: Caller) =>
      (await caller.ok('listNotifications')).notifications.filter(({ words }) => words.includes('look'));
    expect(await heard(other)).toMatchObject([{ path: `/people/${contact.id}` }]);
    expect((await heard(other))[0]!.words).toContain('@Rufus Dale look at that');
    expect(await heard(rep)).toEqual([]);
  });

  test('may be dated back, never ahead; about a company alone too', async () => {
    const contact = await aContact(rep);
    expect((await write(contact.id, { at: '2026-11-02T09:00:00.000Z' })).status).toBe(200);
    expect((await only(contact.id)).at).toBe('2026-11-02T09:00:00.000Z');
    expect((await write(contact.id, { at: '2027-01-01T09:00:00.000Z' })).body.code).toBe('in-the-future');
    await rep.ok('writeNote', { body: { id: randomUUID(), companyId: contact.companyId, body: 'new roof' } });
    expect((await journalOf(rep, { companyId: contact.companyId! }))[0]?.body).toBe('new roof');
  });

  test('rich text keeps its shape and loses whatever could run', async () => {
    const contact = await aContact(rep);
    const body =
      '<p onclick="x()">Two <b>boilers</b><script>alert(1)</script></p><ul><li><a href="javascript:x">a</a></li></ul><img src=x onerror=y>';
    await write(contact.id, { isRich: true, body });
    expect((await only(contact.id)).body).toBe(
      '<p>Two <strong>boilers</strong></p><ul><li><a>a</a></li></ul>',
    );
    expect((await write(contact.id, { isRich: true, body: '<p><br></p>' })).status).toBe(400);
    fc.assert(
      fc.property(fc.string({ maxLength: 60 }), (text) => {
        const clean = cleanRichText(`<p>${text}</p><svg/onload=${text}>`);
        expect(clean).not.toMatch(/<(script|svg|img|iframe|style)/i);
        const bare = clean.replace(
          /<\/?(p|br|strong|em|u|s|ul|ol|li|blockquote|a|h3|code)( \/| href="(?!\s*javascript:)[^"]*")?>/gi,
          '',
        );
        expect(bare).not.toMatch(/[<>]/);
      }),
    );
  });
});

describe('the list', () => {
  test('filters by kind, person and period', async () => {
    const contact = await aContact(rep);
    await aLog(rep, contact.id, { at: '2026-11-10T10:00:00.000Z' });
    await aLog(rep, contact.id, { at: '2026-11-12T10:00:00.000Z', outcomeId: 'email-sent' });
    await admin.ok('writeNote', { body: { id: randomUUID(), contactId: contact.id, body: 'seen' } });
    const kinds = async (query: object) =>
      (await journalOf(rep, { contactId: contact.id, ...query })).map((entry) => entry.kind);
    expect(await kinds({ kinds: 'call,note' })).toEqual(['note', 'call']);
    expect(await kinds({ userId: rep.id })).toEqual(['email', 'call']);
    expect(await kinds({ from: '2026-11-11', to: '2026-11-12' })).toEqual(['email']);
    expect(await kinds({ to: '2026-11-10' })).toEqual(['call']);
  });

  test('pages of a journal with shared entries are the whole, nothing twice', async () => {
    const [one, two] = [await aContact(rep), await aContact(rep)];
    for (let n = 10; n < 17; n += 1) {
      const at = `2026-11-${n}T10:00:00.000Z`;
      await (n % 2 ? aLog(rep, one.id, { at, alsoContactIds: [two.id] }) : aLog(rep, two.id, { at }));
    }
    const whole = (await journalOf(rep, { contactId: two.id })).map((entry) => entry.id);
    const seen: string[] = [];
    let before: string | null = null;
    do {
      const page: { entries: JournalEntry[]; before: string | null } = await rep.ok('listJournal', {
        query: { contactId: two.id, limit: 2, ...(before ? { before } : {}) },
      });
      seen.push(...page.entries.map((entry) => entry.id));
      before = page.before;
    } while (before);
    expect(whole).toHaveLength(7);
    expect(seen).toEqual(whole);
  });
});

describe('comments', () => {
  test('tell whoever is named and who wrote the entry, once', async () => {
    const contact = await aContact(rep);
    await aLog(rep, contact.id);
    const entry = await only(contact.id);
    const body = { id: randomUUID(), body: '@Ada can we do that price?' };
    await other.ok('writeComment', { params: { id: entry.id }, body });
    await other.ok('writeComment', { params: { id: entry.id }, body });
    expect((await only(contact.id)).comments).toMatchObject([{ userName: 'Rufus Dale', body: body.body }]);
    for (const caller of [admin, rep]) {
      const { notifications } = await caller.ok('listNotifications');
      expect(notifications.filter((each) => each.words.includes('that price'))).toMatchObject([
        { path: `/people/${contact.id}` },
      ]);
    }
  });

  test.each([
    ['@Ada Quick please', ['a']],
    ['@ada please', ['a']],
    ['@Adam', []],
    ['@Sam', []],
    ['@Sam Reed and @Ada', ['a', 's1']],
    ['mail ada@quick.example', []],
  ])('%s', (text, ids) => {
    const people = [
      { id: 'a', name: 'Ada Quick' },
      { id: 's1', name: 'Sam Reed' },
      { id: 's2', name: 'Sam Holt' },
    ];
    expect(mentioned(text, people)).toEqual(ids);
  });
});

describe('settings of the journal', () => {
  const read = () => admin.ok('journalSettings');

  test('an outcome moves the standing, and undo moves it back', async () => {
    const settings = await read();
    const customer = await standingNamed(rep, 'Customer');
    const outcomes = settings.outcomes.map((each) =>
      each.id === 'meeting-held' ? { ...each, standingId: customer.id } : each,
    );
    await admin.ok('changeJournalSettings', { body: { ...settings, outcomes } });
    const contact = await aContact(rep);
    const { entryId } = await aLog(rep, contact.id, { outcomeId: 'meeting-held' });
    expect((await get(contact.id)).standingId).toBe(customer.id);
    expect((await journalOf(rep, { contactId: contact.id, kinds: 'system' }))[0]?.body).toBe(
      'Standing: New → Customer',
    );
    await rep.ok('undoLog', { params: { id: entryId } });
    expect((await get(contact.id)).standingId).toBe(contact.standingId);
    expect(
      (await journalOf(rep, { contactId: contact.id, kinds: 'system' })).map(({ body }) => body),
    ).toEqual(['Undone: Standing: New → Customer']);
  });

  test('what counts as a touch may differ by standing, and everybody’s facts follow', async () => {
    const contact = await aContact(rep);
    await aLog(rep, contact.id, { outcomeId: 'call-voicemail' });
    expect((await get(contact.id)).tether.lastTouchAt).not.toBeNull();
    const settings = await read();
    const standings = { [contact.standingId]: ['call-no-answer'] };
    await admin.ok('changeJournalSettings', {
      body: { ...settings, touchPolicy: { ...settings.touchPolicy, standings } },
    });
    await installation.work();
    expect((await get(contact.id)).tether.lastTouchAt).toBeNull();
    await admin.ok('changeJournalSettings', {
      body: { ...(await read()), touchPolicy: settings.touchPolicy },
    });
    await installation.work();
    expect((await get(contact.id)).tether.lastTouchAt).not.toBeNull();
  });

  test('over another’s change, with a kind left empty, or by a rep nothing is written', async () => {
    const settings = await read();
    const put = async (caller: Caller, part: object) =>
      (await caller.call('changeJournalSettings', { body: { ...settings, ...part } })).body.code;
    expect(await put(admin, { version: settings.version + 1 })).toBe('stale');
    expect(await put(admin, { outcomes: settings.outcomes.filter((each) => each.kind !== 'visit') })).toBe(
      'invalid-request',
    );
    expect(await put(rep, {})).toBe('not-allowed');
  });

  test('a source has its own first standing', async () => {
    const [settings, talks] = [await read(), await standingNamed(rep, 'In talks')];
    await admin.ok('changeJournalSettings', {
      body: { ...settings, standingBySource: [{ source: 'Fair', standingId: talks.id }] },
    });
    expect((await aContact(rep, { source: 'fair' })).standingId).toBe(talks.id);
    expect((await aContact(rep)).standingId).not.toBe(talks.id);
  });
});
