import { randomUUID } from 'node:crypto';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, journalOf } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
let other: Caller;
beforeEach(async () => {
  installation = await install();
  rep = await installation.as('rep', 'Imogen Thorne');
  other = await installation.as('rep', 'Rufus Dale');
});
afterEach(() => installation.close());

const get = (id: string) => rep.ok('getContact', { params: { id } });
const body = (selection: object, act: object) => ({ id: randomUUID(), selection, act });
const run = async (sent: ReturnType<typeof body>) => {
  await rep.ok('startBulk', { body: sent });
  await installation.work();
  return rep.ok('getBulk', { params: { id: sent.id } });
};
const undo = async (id: string) => {
  await rep.ok('undoBulk', { params: { id } });
  await installation.work();
  return rep.ok('getBulk', { params: { id } });
};

test('what will change is shown first: how many, who cannot be, some with before and after', async () => {
  const one = await aContact(rep, { warmth: 'cool', familyName: 'Aske' });
  await aContact(rep, { warmth: 'hot' });
  await aContact(other);
  const plan = await rep.ok('planBulk', {
    body: body({ query: {} }, { kind: 'set', field: 'warmth', value: 'hot' }),
  });
  expect(plan).toMatchObject({
    words: 'warmth of 3 contacts: hot',
    changes: 1,
    same: 1,
    refused: [{ reason: 'belongs to Rufus Dale', count: 1 }],
    samples: [{ contactId: one.id, before: 'cool', after: 'hot' }],
  });
  expect((await get(one.id)).warmth).toBe('cool');
});

test('it runs in parts, tells who failed and why, is in each journal, and can be undone', async () => {
  const ids: string[] = [];
  for (let n = 0; n < 5; n += 1) ids.push((await aContact(rep, { source: n === 0 ? 'fair' : 'web' })).id);
  const theirs = await aContact(other);
  const done = await run(body({ ids: [...ids, theirs.id] }, { kind: 'set', field: 'source', value: 'fair' }));
  expect(done).toMatchObject({ state: 'done', total: 6, waiting: 0, changed: 4, same: 1, failedCount: 1 });
  expect(done.failed).toEqual([{ contactId: theirs.id, name: theirs.name, reason: 'belongs to Rufus Dale' }]);
  expect((await journalOf(rep, { contactId: ids[1] }))[0]?.body).toBe('Source: web → fair');
  // One of them is changed by hand before it is undone.
  const { version } = await get(ids[2]!);
  await rep.ok('changeCell', { params: { id: ids[2]! }, body: { version, field: 'source', value: 'shop' } });
  expect(await undo(done.id)).toMatchObject({ state: 'undone', changed: 3, kept: 1 });
  expect(await Promise.all(ids.map(async (id) => (await get(id)).source))).toEqual([
    'fair',
    'web',
    'shop',
    'web',
    'web',
  ]);
  expect((await rep.call('undoBulk', { params: { id: done.id } })).body.code).toBe('already-done');
});

test('a value that fits nobody fails for everybody, with the reason, and writes nothing', async () => {
  const contact = await aContact(rep);
  const done = await run(body({ ids: [contact.id] }, { kind: 'set', field: 'email', value: 'nonsense' }));
  expect(done.failed[0]?.reason).toBe('must be an e-mail address such as ada@firm.example');
  expect((await get(contact.id)).version).toBe(1);
});

test('tags are added and taken; those who had it keep it when undone', async () => {
  const [had, had2] = [await aContact(rep, { tags: ['steam'] }), await aContact(rep, { tags: ['audit'] })];
  const done = await run(body({ ids: [had.id, had2.id] }, { kind: 'add-tag', tag: 'Steam' }));
  expect((await get(had2.id)).tags).toEqual(['audit', 'steam']);
  await undo(done.id);
  expect([(await get(had.id)).tags, (await get(had2.id)).tags]).toEqual([['steam'], ['audit']]);
});

test('tasks are made for each owner; undo removes those that nobody touched', async () => {
  const [one, two] = [await aContact(rep), await aContact(rep)];
  const done = await run(
    body(
      { ids: [one.id, two.id] },
      { kind: 'task', channel: 'call', purpose: 'renewal', dueOn: '2026-12-01' },
    ),
  );
  const tasks = async (id: string) => (await rep.ok('listTasks', { query: { contactId: id } })).tasks;
  expect((await get(one.id)).tether.nextStepOn).toBe('2026-12-01');
  const [task] = await tasks(one.id);
  await rep.ok('deferTask', {
    params: { id: task!.id },
    body: { version: task!.version, dueOn: '2026-12-05' },
  });
  expect(await undo(done.id)).toMatchObject({ changed: 1, kept: 1 });
  expect([await tasks(one.id), await tasks(two.id)].map((each) => each.length)).toEqual([1, 0]);
});

test('a view stands for whoever it finds; sent twice it runs once; nobody is refused', async () => {
  for (let n = 0; n < 3; n += 1) await aContact(rep, { companyName: `Birk ${n}` });
  const sent = body(
    { query: { q: 'birk', owner: 'mine' } },
    { kind: 'set', field: 'ownerId', value: other.id },
  );
  await rep.ok('startBulk', { body: sent });
  expect(await run(sent)).toMatchObject({ total: 3, changed: 3 });
  expect((await other.ok('listContacts', { query: { owner: 'mine' } })).rows).toHaveLength(3);
  const none = await rep.call('startBulk', {
    body: body({ query: { q: 'nobody' } }, { kind: 'add-tag', tag: 'x' }),
  });
  expect(none.body.code).toBe('nobody-to-reach');
  expect((await other.call('getBulk', { params: { id: sent.id } })).body.code).toBe('not-found');
});

test('who gave contacts away by mistake can take them back', async () => {
  const contact = await aContact(rep);
  const done = await run(body({ ids: [contact.id] }, { kind: 'set', field: 'ownerId', value: other.id }));
  expect((await get(contact.id)).ownerId).toBe(other.id);
  expect(await undo(done.id)).toMatchObject({ state: 'undone', changed: 1, kept: 0 });
  expect((await get(contact.id)).ownerId).toBe(rep.id);
});

describe('a part that fails for good', () => {
  const ofBulk = (kind: string, state: 'failed' | 'due') =>
    installation.services.database.change(
      'UPDATE job SET state = :state, attempts = :tries, failed_at = IF(:tries = 0, NULL, NOW(3)) WHERE kind = :kind',
      { state, tries: state === 'failed' ? 5 : 0, kind },
    );
  const begun = async () => {
    const contact = await aContact(rep, { warmth: 'cool' });
    const sent = body({ ids: [contact.id] }, { kind: 'set', field: 'warmth', value: 'hot' });
    await rep.ok('startBulk', { body: sent });
    return { contact, id: sent.id };
  };
  const shown = (id: string) => rep.ok('getBulk', { params: { id } });

  test('is said with how many it leaves, and can be tried again by whoever asked', async () => {
    const { contact, id } = await begun();
    await ofBulk('bulk-part', 'failed');
    expect(await shown(id)).toMatchObject({ state: 'done', waiting: 0, changed: 0, unfinished: 1 });
    expect((await other.call('retryBulk', { params: { id } })).body.code).toBe('not-found');
    expect(await rep.ok('retryBulk', { params: { id } })).toMatchObject({ state: 'running', unfinished: 0 });
    await installation.work();
    expect(await shown(id)).toMatchObject({ state: 'done', changed: 1, unfinished: 0 });
    expect((await get(contact.id)).warmth).toBe('hot');
    expect((await rep.call('retryBulk', { params: { id } })).body.code).toBe('not-found');
  });

  test('does not stop the rest from being undone, nor is it carried out afterwards', async () => {
    const { contact, id } = await begun();
    await ofBulk('bulk-part', 'failed');
    expect(await undo(id)).toMatchObject({ state: 'undone', changed: 0, unfinished: 0 });
    await ofBulk('bulk-part', 'due');
    await installation.work();
    expect((await get(contact.id)).warmth).toBe('cool');
  });

  test('is not undone while it is being carried out; a failed part of the undo can be tried again', async () => {
    const { contact, id } = await begun();
    expect((await rep.call('undoBulk', { params: { id } })).body.code).toBe('cannot-undo');
    await installation.work();
    await rep.ok('undoBulk', { params: { id } });
    await ofBulk('bulk-undo-part', 'failed');
    expect(await shown(id)).toMatchObject({ state: 'undone', changed: 0, unfinished: 1 });
    await rep.ok('retryBulk', { params: { id } });
    await installation.work();
    expect(await shown(id)).toMatchObject({ state: 'undone', changed: 1, unfinished: 0 });
    expect((await get(contact.id)).warmth).toBe('cool');
  });
});
