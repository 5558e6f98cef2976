import { randomUUID } from 'node:crypto';
import type { Contact, JournalEntry } from '@kettle/contract';
import { foldTouches, touchRuleOf } from '@kettle/core/touch';
import fc from 'fast-check';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, aLog, changeOf, journalOf } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
let admin: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep');
  admin = await installation.as('admin');
});
afterAll(() => installation.close());
afterEach(() => installation.clock.set('2026-11-24T09:10:00.000Z'));

const get = (id: string) => rep.ok('getContact', { params: { id } });
const merge = async (keep: Contact, gone: Contact, take: string[] = []) =>
  rep.ok('mergeContacts', {
    body: {
      keepId: keep.id,
      keepVersion: (await get(keep.id)).version,
      goneId: gone.id,
      goneVersion: (await get(gone.id)).version,
      take,
    },
  });
const tasksOf = async (contactId: string) => (await rep.ok('listTasks', { query: { contactId } })).tasks;

/** Everything a person can see of a contact, without the counting of versions. */
async function everything(id: string) {
  const { version: _, ...contact } = await get(id);
  // That something was undone is said in the journal, and is all that is left of it.
  const entries = (await journalOf(rep, { contactId: id, limit: 200 }))
    .filter(({ body }) => !body.startsWith('Undone: '))
    .map(({ version: __, ...entry }) => entry);
  const tasks = (await tasksOf(id)).map(({ version: ___, ...task }) => task);
  const { runs } = await rep.ok('listRuns', {
    query: { contactId: id },
  });
  return { contact, entries, tasks, runs: runs.map(({ id: runId, status }) => ({ runId, status })) };
}

describe('finding them', () => {
  test('is warned of while somebody is typed in, with the evidence', async () => {
    const known = await aContact(rep, {
      familyName: 'Ellery',
      companyName: 'Penrow Works',
      email: 'm@penrow-works.example',
    });
    const like = async (body: object) => (await rep.ok('similarContacts', { body })).like;
    expect(
      await like({ givenName: 'Maude', familyName: 'Elery', companyName: 'PENROW WORKS ltd' }),
    ).toMatchObject([
      { contact: { id: known.id }, likeness: 'likely', evidence: [{ about: 'name' }, { about: 'company' }] },
    ]);
    expect(await like({ email: 'M@penrow-works.example' })).toMatchObject([{ likeness: 'likely' }]);
    const named = {
      givenName: known.givenName,
      familyName: known.familyName,
      email: 'M@penrow-works.example',
    };
    expect(await like(named)).toMatchObject([{ likeness: 'certain' }]);
    expect(await like({ email: 'M@penrow-works.example', except: known.id })).toEqual([]);
    expect(await like({ givenName: 'Theo', familyName: 'Quill', companyName: 'Penrow Works' })).toEqual([]);
  });

  test('likely pairs are listed with evidence, until a person says they are two', async () => {
    const [one, two] = [
      await aContact(rep, { familyName: 'Pairling', email: 'pair@two.example' }),
      await aContact(rep, { givenName: 'Mawd', familyName: 'Pairling', email: 'pair@two.example' }),
    ];
    const pair = async () =>
      (await rep.ok('listPairs')).pairs.find((each) =>
        [one.id, two.id].every((id) => id === each.one.id || id === each.other.id),
      );
    expect((await pair())?.evidence[0]).toEqual({ about: 'mail', words: 'both have pair@two.example' });
    await rep.ok('dismissPair', { body: { oneId: two.id, otherId: one.id } });
    expect(await pair()).toBeUndefined();
  });
});

describe('merging', () => {
  test('keeps everything of both: rows, addresses, firms, tags, marks; what was not chosen is in the journal', async () => {
    const keep = await aContact(rep, { phone: null, jobTitle: 'buyer', tags: ['a'], doNotContact: ['text'] });
    const gone = await aContact(rep, {
      givenName: 'Maudie',
      jobTitle: 'owner',
      tags: ['b'],
      doNotContact: ['call'],
      about: 'Two boilers.',
    });
    const deal = await aDeal(rep, gone.id);
    await aLog(rep, gone.id, { body: 'theirs' });
    const { contact } = await merge(keep, gone, ['jobTitle']);
    expect(contact).toMatchObject({
      givenName: 'Maud',
      jobTitle: 'owner',
      phone: '+441632960123',
      tags: ['a', 'b'],
      about: 'Two boilers.',
      otherPoints: [{ kind: 'email', value: gone.email }],
      otherCompanies: [{ name: gone.companyName }],
    });
    expect(contact.doNotContact.map((mark) => mark.channel)).toEqual(['call', 'text']);
    const bodies = (await journalOf(rep, { contactId: keep.id })).map((entry) => entry.body);
    expect(bodies).toContain('theirs');
    expect(bodies.find((body) => body.startsWith('Merged with Maudie'))).toMatch(
      /given name was Maudie; family name was Ellery\d+; job title was buyer$/,
    );
    expect(await rep.ok('getDeal', { params: { id: deal.id } })).toMatchObject({ contactId: keep.id });
    // Whoever comes by an old link finds the one that stayed.
    expect((await get(gone.id)).id).toBe(keep.id);
  });

  test('of two on one cadence ends one run, and undo brings it back', async () => {
    const [keep, gone] = [await aContact(rep), await aContact(rep)];
    const { cadences } = await rep.ok('listCadences');
    const { id, versionId } = cadences[0]!;
    const contactIds = [keep.id, gone.id];
    await rep.ok('startRuns', { params: { id }, body: { requestId: randomUUID(), versionId, contactIds } });
    const before = [await everything(keep.id), await everything(gone.id)];
    const { mergeId } = await merge(keep, gone);
    expect((await everything(keep.id)).runs.map((run) => run.status).sort()).toEqual(['running', 'stopped']);
    expect(await tasksOf(keep.id)).toHaveLength(1);
    await rep.ok('undoMerge', { params: { id: mergeId } });
    expect([await everything(keep.id), await everything(gone.id)]).toEqual(before);
  });

  test('is refused over another’s change and for a colleague’s contact; nothing is written', async () => {
    const [keep, gone] = [await aContact(rep), await aContact(rep)];
    const body = { keepId: keep.id, keepVersion: 1, goneId: gone.id, goneVersion: 9 };
    expect((await rep.call('mergeContacts', { body })).body.code).toBe('stale');
    const other = await installation.as('rep');
    expect((await other.call('mergeContacts', { body: { ...body, goneVersion: 1 } })).body.code).toBe(
      'not-yours',
    );
    expect((await get(gone.id)).id).toBe(gone.id);
  });

  test('is not undone once a value it took was changed: it says by whom; what happened since is no hindrance', async () => {
    const keep = await aContact(rep, { jobTitle: 'buyer' });
    const gone = await aContact(rep, { jobTitle: 'owner', warmth: 'hot' });
    const { mergeId, contact } = await merge(keep, gone, ['jobTitle']);
    await rep.ok('changeContact', {
      params: { id: keep.id },
      body: changeOf(contact, { jobTitle: 'director' }),
    });
    await aLog(rep, keep.id, { body: 'since' });
    const refused = await rep.call('undoMerge', { params: { id: mergeId } });
    expect(refused.body).toMatchObject({
      code: 'cannot-undo',
      detail: expect.stringMatching(/the contact was changed by .* on 2026-11-24/) as string,
    });
    await rep.ok('changeContact', {
      params: { id: keep.id },
      body: changeOf(await rep.ok('getContact', { params: { id: keep.id } }), { jobTitle: 'owner' }),
    });
    await rep.ok('undoMerge', { params: { id: mergeId } });
    expect(await get(keep.id)).toMatchObject({ jobTitle: 'buyer', warmth: null });
    expect(await get(gone.id)).toMatchObject({ jobTitle: 'owner', warmth: 'hot' });
    expect((await journalOf(rep, { contactId: keep.id })).map((entry) => entry.body)).toContain('since');
  });

  test('can be undone once, and for thirty days', async () => {
    const merged = await merge(await aContact(rep), await aContact(rep));
    const undo = () => rep.call('undoMerge', { params: { id: merged.mergeId } });
    const age = (sql: string) =>
      installation.services.database.change(`UPDATE change_set SET at = at ${sql}`);
    await age('- INTERVAL 30 DAY - INTERVAL 1 SECOND');
    expect((await undo()).body.code).toBe('undo-expired');
    await age('+ INTERVAL 1 SECOND');
    expect((await undo()).status).toBe(200);
    expect((await undo()).body.code).toBe('already-done');
  });
});

const logged = fc.record({
  of: fc.integer({ min: 0, max: 1 }),
  outcomeId: fc.constantFrom(
    'call-no-answer',
    'call-spoke',
    'email-sent',
    'email-came-in',
    'meeting-held',
    'call-wrong-number',
  ),
  day: fc.integer({ min: 1, max: 23 }),
  isShared: fc.boolean(),
});

test('merge, then undo, is the identity, whatever both had', async () => {
  const drawn = fc.record({
    logs: fc.array(logged, { maxLength: 4 }),
    take: fc.subarray([
      'givenName',
      'familyName',
      'jobTitle',
      'company',
      'email',
      'phone',
      'country',
      'standing',
      'source',
      'warmth',
    ]),
    one: fc.record({
      warmth: fc.constantFrom('hot', null),
      phone: fc.constantFrom('+441632960123', null),
      tags: fc.subarray(['x', 'y']),
    }),
    two: fc.record({
      warmth: fc.constantFrom('cool', null),
      jobTitle: fc.constantFrom('owner', null),
      tags: fc.subarray(['y', 'z']),
    }),
    hasDeal: fc.boolean(),
  });
  await fc.assert(
    fc.asyncProperty(drawn, async ({ logs, take, one, two, hasDeal }) => {
      const pair = [await aContact(rep, one), await aContact(rep, two)] as const;
      if (hasDeal) await aDeal(rep, pair[1].id);
      for (const { of, outcomeId, day, isShared } of logs)
        await aLog(rep, pair[of]!.id, {
          outcomeId,
          at: `2026-11-${String(day).padStart(2, '0')}T10:00:00.000Z`,
          alsoContactIds: isShared ? [pair[1 - of]!.id] : [],
        });
      const before = [await everything(pair[0].id), await everything(pair[1].id)];
      const { mergeId } = await merge(pair[0], pair[1], take);
      await rep.ok('undoMerge', { params: { id: mergeId } });
      expect([await everything(pair[0].id), await everything(pair[1].id)]).toEqual(before);
    }),
    { numRuns: 12 },
  );
}, 60_000);

test('touch facts equal a recomputation from the journal after any writes, edits, removals and merges', async () => {
  const step = fc.oneof(
    logged.map((log) => ({ kind: 'log' as const, ...log })),
    fc.record({
      kind: fc.constant('edit' as const),
      at: fc.integer({ min: 0, max: 9 }),
      day: fc.integer({ min: 1, max: 23 }),
    }),
    fc.record({
      kind: fc.constantFrom('remove' as const, 'restore' as const),
      at: fc.integer({ min: 0, max: 9 }),
    }),
    fc.record({ kind: fc.constantFrom('merge' as const, 'undo-merge' as const) }),
  );
  await fc.assert(
    fc.asyncProperty(fc.array(step, { minLength: 3, maxLength: 9 }), async (steps) => {
      const pair = [await aContact(rep), await aContact(rep)] as const;
      let mergeId: string | null = null;
      const entriesOf = (id: string) => journalOf(admin, { contactId: id, removed: 'yes', limit: 200 });
      for (const each of steps) {
        const entries = (await entriesOf(pair[0].id)).filter((entry) => entry.kind !== 'system');
        const entry: JournalEntry | undefined =
          'at' in each ? entries[each.at % Math.max(1, entries.length)] : undefined;
        if (each.kind === 'log')
          await aLog(rep, (await get(pair[each.of]!.id)).id, {
            outcomeId: each.outcomeId,
            at: `2026-11-${String(each.day).padStart(2, '0')}T11:00:00.000Z`,
            alsoContactIds: each.isShared && mergeId === null ? [pair[1 - each.of]!.id] : [],
          });
        if (each.kind === 'edit' && entry)
          await rep.ok('editEntry', {
            params: { id: entry.id },
            body: {
              version: entry.version,
              body: 'moved',
              at: `2026-11-${String(each.day).padStart(2, '0')}T12:00:00.000Z`,
              minutes: null,
            },
          });
        if (each.kind === 'remove' && entry?.removedAt === null)
          await rep.ok('removeEntry', { params: { id: entry.id }, body: { version: entry.version } });
        if (each.kind === 'restore' && entry) await rep.ok('restoreEntry', { params: { id: entry.id } });
        if (each.kind === 'merge' && mergeId === null) mergeId = (await merge(pair[0], pair[1])).mergeId;
        if (each.kind === 'undo-merge' && mergeId !== null) {
          await rep.ok('undoMerge', { params: { id: mergeId } });
          mergeId = null;
        }
        for (const { id } of pair) await expectDerived(id);
      }
    }),
    { numRuns: 12 },
  );
}, 60_000);

/** The stored facts against what the core derives from the journal as it is read. */
async function expectDerived(id: string) {
  const contact = await get(id);
  const { standings } = await rep.ok('listStandings');
  const { standing } = standings.find((each) => each.standing.id === contact.standingId)!;
  const { database } = installation.services;
  const outcomes = await database.rows<{ id: Buffer; outcome_id: string | null }>(
    'SELECT id, outcome_id FROM journal_entry',
  );
  const byId = new Map(outcomes.map((row) => [row.id.toString('hex'), row.outcome_id]));
  const entries = (await journalOf(rep, { contactId: contact.id, limit: 200 }))
    .map((entry) => ({ ...entry, outcomeId: byId.get(entry.id.replaceAll('-', '')) ?? null }))
    .reverse();
  const facts = foldTouches(entries, touchRuleOf(standing));
  expect({
    lastTouchAt: contact.tether.lastTouchAt,
    lastConversationAt: contact.lastConversationAt,
    attempts: contact.attempts.map(({ channel, tries }) => [channel, tries]),
    answers: contact.answers.map(({ channel, tried, answered }) => [channel, tried, answered]),
  }).toEqual({
    lastTouchAt: facts.lastTouch?.at ?? null,
    lastConversationAt: facts.lastConversationAt,
    attempts: [...facts.attempts].sort(([a], [b]) => (a < b ? -1 : 1)),
    answers: [...facts.answers]
      .map(([channel, { tried, answered }]) => [channel, tried, answered])
      .sort(([a], [b]) => (a! < b! ? -1 : 1)),
  });
}

test('merges of the last days are listed, to be taken apart from there', async () => {
  const [keep, gone] = [
    await aContact(rep, { familyName: 'Stays' }),
    await aContact(rep, { familyName: 'Goes' }),
  ];
  await merge(keep, gone);
  const { merges } = await rep.ok('listMerges');
  expect(merges).toContainEqual(expect.objectContaining({ keptName: 'Maud Stays', goneName: 'Maud Goes' }));
  expect(await rep.ok('claimContact', { params: { id: keep.id } })).toMatchObject({
    id: keep.id,
  });
});
