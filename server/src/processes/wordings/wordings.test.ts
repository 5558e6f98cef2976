import { v4 } from 'uuid';
import { bytesOf } from '../../platform/ids';
import { install, type Caller, type Installation } from '../../../testing/installation';

let installation: Installation;
let rep: Caller;
let other: Caller;
let manager: Caller;
let admin: Caller;
beforeEach(async () => {
  installation = await install();
  rep = await installation.as('rep', 'Imogen Thorne');
  other = await installation.as('rep', 'Dara Finch');
  manager = await installation.as('manager', 'Corin Vale');
  admin = await installation.as('admin', 'Petra Lund');
});
afterEach(() => installation.close());

const letter = { name: 'Hello', channel: 'email', subject: 'Water', body: 'Dear {{ contact.given_name }}' };
const step = {
  channel: 'email',
  offsetDays: 0,
  windowStart: 540,
  windowEnd: 1020,
  minutes: 4,
  purpose: 'say hello',
};
const templates = async () => (await rep.ok('listTemplates')).templates;
const waiting = async () => (await rep.ok('listWordings', { query: { state: 'waiting' } })).wordings;
const draft = (asked: object, caller = rep, id = v4()) => caller.ok('draftWording', { body: { id, asked } });
const wordsTo = async (caller: Caller) =>
  (await caller.ok('listNotifications')).notifications.map(({ words }) => words);

describe('what goes out in others’ names', () => {
  test('a rep’s template waits, its manager hears of it, and it is there once it is released', async () => {
    expect((await rep.call('createTemplate', { body: letter })).body.code).toBe('needs-release');
    const made = await draft({ act: 'createTemplate', body: letter });
    expect(made).toMatchObject({ state: 'waiting', authorName: 'Imogen Thorne', name: 'Hello' });
    expect(await templates()).toEqual([]);
    expect(await wordsTo(manager)).toEqual(['Imogen Thorne asks you to release a change of “Hello”']);
    await manager.ok('releaseWording', { params: { id: made.id }, body: { version: made.version } });
    expect(await templates()).toMatchObject([{ name: 'Hello', subject: 'Water' }]);
    expect(await waiting()).toEqual([]);
    expect(await wordsTo(rep)).toEqual(['Corin Vale released. Your change of “Hello”.']);
  });

  test('only the direct manager is asked, where there is one', async () => {
    await installation.services.database.change('UPDATE app_user SET manager_id = :manager WHERE id = :id', {
      id: bytesOf(rep.id),
      manager: bytesOf(manager.id),
    });
    await draft({ act: 'createTemplate', body: letter });
    expect([await wordsTo(manager), await wordsTo(admin)]).toEqual([[expect.any(String)], []]);
  });

  test('drafting can be undone', async () => {
    const changeId = v4();
    const asked = { act: 'createTemplate', body: letter };
    await rep.ok('draftWording', { body: { id: v4(), asked }, changeId });
    await rep.ok('undoChange', { params: { id: changeId } });
    expect(await waiting()).toEqual([]);
  });

  test('the same draft sent twice at once waits once', async () => {
    const id = v4();
    await Promise.all([1, 2, 3].map(() => draft({ act: 'createTemplate', body: letter }, rep, id)));
    expect(await waiting()).toHaveLength(1);
  });

  test.each([
    ['a text that cannot be read', { ...letter, body: '{{ contact.shoe_size }}' }, 'invalid-request'],
    ['a name in use', { ...letter, name: 'Taken' }, 'already-exists'],
  ])('%s is told to its author, and nothing waits', async (_, body, code) => {
    await manager.ok('createTemplate', { body: { ...letter, name: 'Taken' } });
    const refused = await rep.call('draftWording', {
      body: { id: v4(), asked: { act: 'createTemplate', body } },
    });
    expect(refused.body.code).toBe(code);
    expect(await waiting()).toEqual([]);
    expect(await templates()).toHaveLength(1);
  });

  test('a rep releases and declines nothing, also not their own; only its author withdraws it', async () => {
    const { id, version } = await draft({ act: 'createTemplate', body: letter });
    for (const caller of [rep, other]) {
      const asked = { params: { id }, body: { version, said: 'no' } };
      expect((await caller.call('releaseWording', asked)).body.code).toBe('needs-release');
      expect((await caller.call('declineWording', asked)).body.code).toBe('needs-release');
    }
    const withdrawing = { params: { id }, body: { version } };
    expect((await other.call('withdrawWording', withdrawing)).body.code).toBe('not-yours');
    await rep.ok('withdrawWording', withdrawing);
    expect(await waiting()).toEqual([]);
  });

  test('a declined one says why, to its author', async () => {
    const { id, version } = await draft({ act: 'createTemplate', body: letter });
    await manager.ok('declineWording', { params: { id }, body: { version, said: 'too long' } });
    expect(await wordsTo(rep)).toEqual(['Corin Vale declined: too long. Your change of “Hello”.']);
    const { wordings } = await rep.ok('listWordings', { query: { state: 'declined' } });
    expect(wordings).toMatchObject([{ said: 'too long', decidedByName: 'Corin Vale' }]);
    const again = await manager.call('releaseWording', { params: { id }, body: { version: version + 1 } });
    expect(again.body.code).toBe('stale');
  });

  test('a change keeps what others changed meanwhile; what both changed is asked about', async () => {
    const made = await manager.ok('createTemplate', { body: letter });
    const change = { ...letter, body: 'Good day', version: made.version };
    const { id, version } = await draft({ act: 'changeTemplate', templateId: made.id, body: change });
    await admin.ok('changeTemplate', {
      params: { id: made.id },
      body: { ...letter, subject: 'Soft water', body: 'Hi', version: made.version },
    });
    const refused = await manager.call('releaseWording', { params: { id }, body: { version } });
    expect(refused.body).toMatchObject({ code: 'stale', fields: [{ path: 'body' }] });
    const resolved = { version: refused.body.current.version, mine: ['body'], theirs: [] };
    await manager.ok('releaseWording', { params: { id }, body: { version, resolved } });
    expect(await templates()).toMatchObject([{ subject: 'Soft water', body: 'Good day' }]);
  });

  test('releasing can be undone: the text is as before, and the draft waits again', async () => {
    const made = await manager.ok('createTemplate', { body: letter });
    const asked = {
      act: 'changeTemplate',
      templateId: made.id,
      body: { ...letter, body: 'Bye', version: made.version },
    };
    const { id, version } = await draft(asked);
    const changeId = v4();
    await manager.ok('releaseWording', { params: { id }, body: { version }, changeId });
    expect(await templates()).toMatchObject([{ body: 'Bye' }]);
    await manager.ok('undoChange', { params: { id: changeId } });
    expect(await templates()).toMatchObject([{ body: letter.body }]);
    expect(await waiting()).toMatchObject([{ id, asked: { body: 'Bye' } }]);
  });

  test('every wording of a text is kept, with who wrote and who released it', async () => {
    const made = await manager.ok('createTemplate', { body: letter });
    const { id, version } = await draft({
      act: 'changeTemplate',
      templateId: made.id,
      body: { ...letter, body: 'Good day', version: made.version },
    });
    await admin.ok('releaseWording', { params: { id }, body: { version } });
    const { wordings } = await rep.ok('listWordings', { query: { templateId: made.id } });
    expect(
      wordings.map(({ authorName, decidedByName, asked }) => [authorName, decidedByName, asked.body]),
    ).toEqual([
      ['Imogen Thorne', 'Petra Lund', 'Good day'],
      ['Corin Vale', 'Corin Vale', letter.body],
    ]);
  });

  test('snippets and what goes along with a template are as guarded', async () => {
    const snippet = { name: 'hours', body: 'We open at eight.' };
    expect((await rep.call('createSnippet', { body: snippet })).body.code).toBe('needs-release');
    const made = await draft({ act: 'createSnippet', body: snippet });
    await manager.ok('releaseWording', { params: { id: made.id }, body: { version: made.version } });
    const [kept] = (await rep.ok('listTemplates')).snippets;
    const change = { ...snippet, body: 'We open at nine.', version: kept!.version };
    expect((await rep.call('changeSnippet', { params: { id: kept!.id }, body: change })).body.code).toBe(
      'needs-release',
    );
    expect((await rep.call('removeSnippet', { params: { id: kept!.id } })).body.code).toBe('needs-release');
    const template = await manager.ok('createTemplate', { body: letter });
    const refused = await rep.upload({ templateId: template.id, name: 'offer.txt' }, Buffer.from('x'));
    expect(refused.body.code).toBe('needs-release');
    const file = await manager.upload({ templateId: template.id, name: 'offer.txt' }, Buffer.from('x'));
    expect((await rep.call('removeFile', { params: { id: file.body.id } })).body.code).toBe('needs-release');
  });

  test('a cadence that sends by itself waits, one by hand does not; making it send by itself does', async () => {
    const template = await manager.ok('createTemplate', { body: letter });
    const byItself = { steps: [{ ...step, mode: 'by-itself', templateIds: [template.id] }] };
    const byHand = { steps: [step] };
    const refused = await rep.call('createCadence', { body: { name: 'One', definition: byItself } });
    expect(refused.body.code).toBe('needs-release');
    const made = await rep.ok('createCadence', { body: { name: 'One', definition: byHand } });
    const change = { name: 'One', definition: byItself, version: made.version, isRetired: false };
    expect((await rep.call('saveCadence', { params: { id: made.id }, body: change })).body.code).toBe(
      'needs-release',
    );
    const { id, version } = await draft({ act: 'saveCadence', cadenceId: made.id, body: change });
    await manager.ok('releaseWording', { params: { id }, body: { version } });
    const now = (await rep.ok('listCadences')).cadences.find(({ name }) => name === 'One');
    expect(now).toMatchObject({ number: 2, definition: { steps: [{ mode: 'by-itself' }] } });
    const back = { name: 'One', definition: byHand, version: now!.version, isRetired: false };
    expect((await rep.call('saveCadence', { params: { id: made.id }, body: back })).body.code).toBe(
      'needs-release',
    );
  });

  test('where the organisation lets reps, their changes hold at once', async () => {
    const rights = await admin.ok('rightsSettings');
    await admin.ok('changeRightsSettings', { body: { ...rights, releases: 'rep' } });
    await rep.ok('createTemplate', { body: letter });
    expect((await rep.ok('session')).rights.releases).toBe(true);
    expect(await templates()).toHaveLength(1);
  });
});
