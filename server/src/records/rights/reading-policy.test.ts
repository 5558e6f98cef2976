import type { ContactId, EndpointName, ImportPreview } from '@kettle/contract';
import { bytesOf, newId } from '../../platform/ids';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, aLead, aLog } from '../../../testing/people';

let installation: Installation;
let me: Caller;
let colleague: Caller;
let admin: Caller;
let cadenceId: string;
let secret: { contact: string; deal: string };

/** A word that stands in every record of the colleague's, and nowhere else. */
const word = 'Quillfeather';

beforeAll(async () => {
  installation = await install();
  admin = await installation.as('admin');
  me = await installation.as('rep');
  colleague = await installation.as('rep', 'Dara Finch');
  const step = {
    channel: 'call',
    offsetDays: 2,
    purpose: word,
    minutes: 5,
    windowStart: 540,
    windowEnd: 1020,
  };
  const cadence = await colleague.ok('createCadence', {
    body: { name: 'Tour', definition: { steps: [step] } },
  });
  cadenceId = cadence.id;
  const person = { familyName: word, companyName: `${word} Spa` };
  const contact = await aContact(colleague, { ...person, givenName: 'Edda' });
  await aContact(colleague, { ...person, givenName: 'Edda', email: 'edda@quill.example' });
  await colleague.ok('changeCell', {
    params: { id: contact.id },
    body: { version: contact.version, field: 'tags', value: [word] },
  });
  const deal = await aDeal(colleague, contact.id, { name: `${word} softener` });
  await aLead(colleague, {
    ...{ subject: word, source: word, campaign: word },
    person: { familyName: word, companyName: `${word} Baths` },
  });
  await aLog(colleague, contact.id, { body: `${word} was in` });
  await colleague.ok('createAgreement', {
    body: {
      ...{ contactId: contact.id, name: word, startsOn: '2026-11-24', termMonths: 12, valueMinor: 100 },
      ...{ noticeDays: 10, leadDays: 10, renewsItself: true },
    },
  });
  await colleague.ok('startRuns', {
    params: { id: cadenceId },
    body: { requestId: newId(), versionId: cadence.versionId, contactIds: [contact.id] },
  });
  const [kept, gone] = [await aContact(colleague, person), await aContact(colleague, person)];
  await colleague.ok('mergeContacts', {
    body: {
      ...{ keepId: kept.id, goneId: gone.id, keepVersion: kept.version, goneVersion: gone.version },
      choices: {},
    },
  });
  await installation.services.database.change(
    `INSERT INTO stirring (id, dedupe_key, at, kind, words, user_id, contact_id)
     VALUES (:id, HEX(:id), :at, 'replied', :word, :user, :contact)`,
    {
      ...{ id: bytesOf(newId<string>()), at: installation.clock.now().slice(0, 23), word },
      ...{ user: bytesOf(colleague.id), contact: bytesOf(contact.id) },
    },
  );
  await installation.work();
  secret = { contact: contact.id, deal: deal.id };
}, 60_000);
afterAll(() => installation.close());

async function setReading(reading: 'all' | 'team' | 'own'): Promise<void> {
  const now = await admin.ok('rightsSettings');
  await admin.ok('changeRightsSettings', { body: { ...now, reading } });
}

/** Every way to come upon a record without its id. */
const ways: readonly (readonly [EndpointName, () => Parameters<Caller['call']>[1]])[] = [
  ['listContacts', () => ({ query: { owner: 'all' } })],
  ['countContacts', () => ({ query: { owner: 'all', group: 'company' } })],
  ['exportContacts', () => ({ query: { owner: 'all' } })],
  ['exportContacts', () => ({ query: { ids: secret.contact } })],
  ['listTags', () => ({})],
  ['wordsInUse', () => ({ query: { field: 'source' } })],
  ['listCompanies', () => ({})],
  ['exportCompanies', () => ({})],
  ['listDeals', () => ({ query: { owner: 'all' } })],
  ['pageDeals', () => ({ query: { owner: 'all' } })],
  ['countDeals', () => ({ query: { owner: 'all', group: 'company' } })],
  ['exportDeals', () => ({ query: { owner: 'all' } })],
  ['exportDeals', () => ({ query: { ids: secret.deal } })],
  ['listLeads', () => ({ query: { owner: 'all' } })],
  ['countLeads', () => ({ query: { owner: 'all', group: 'company' } })],
  ['exportLeads', () => ({ query: { owner: 'all' } })],
  ['listAgreements', () => ({ query: { owner: 'all', archived: 'any' } })],
  ['countAgreements', () => ({ query: { owner: 'all', archived: 'any', group: 'company' } })],
  ['exportAgreements', () => ({ query: { owner: 'all', archived: 'any' } })],
  ['runTable', () => ({ params: { id: cadenceId }, query: { owner: 'all' } })],
  ['listStirrings', () => ({ query: { whose: 'all' } })],
  ['listPairs', () => ({})],
  ['listMerges', () => ({})],
  ['search', () => ({ query: { q: word, among: 'names' } })],
  ['search', () => ({ query: { q: word, among: 'notes' } })],
  ['readJot', () => ({ body: { line: `call Edda ${word} tomorrow` } })],
  [
    'similarContacts',
    () => ({
      body: {
        givenName: 'Edda',
        familyName: word,
        companyName: `${word} Spa`,
        email: '',
        phone: '',
        country: 'GB',
      },
    }),
  ],
];

describe.each(ways.map((way, number) => [`${number} ${way[0]}`, way] as const))('%s', (_, way) => {
  const told = async (caller: Caller) => {
    const { status, text } = await caller.call(way[0], way[1]());
    expect(status).toBe(200);
    // A line that is read is said back; what it found is a person's id.
    return way[0] === 'readJot'
      ? text.includes(secret.contact)
      : text.toLowerCase().includes(word.toLowerCase());
  };
  test('tells of a colleague’s records where everybody reads all', async () => {
    await setReading('all');
    expect(await told(me)).toBe(true);
  });
  test('does not where everybody reads their own, but for the admin', async () => {
    await setReading('own');
    expect([await told(me), await told(admin)]).toEqual([false, true]);
  });
});

test('counts keep to the policy', async () => {
  await aContact(me);
  await setReading('own');
  expect(await me.ok('countContacts', { query: { owner: 'all' } })).toEqual({
    found: 1,
    total: 1,
    sums: {},
    groups: [],
  });
  expect(await me.ok('countDeals', { query: { owner: 'all' } })).toMatchObject({ total: 0 });
  expect(await me.ok('countLeads', { query: { owner: 'all' } })).toMatchObject({ found: 0, total: 0 });
});

test('a file tells of a colleague’s person that they are here, and names them only where they may be read', async () => {
  const lines = [
    'name,company,email',
    'Edda Q,,edda@quill.example',
    `Edda ${word},${word} Spa,other@quill.example`,
  ];
  const reasons = async () => {
    const { body } = await me.call('uploadImport', {
      body: { fileName: 'known.csv', contentBase64: Buffer.from(lines.join('\n')).toString('base64') },
    });
    const preview = body as unknown as ImportPreview;
    return preview.rows.flatMap(({ problems }) => problems.map(({ reason }) => reason));
  };
  await setReading('own');
  expect(await reasons()).toEqual(['is with a colleague already', 'is with a colleague already']);
  await setReading('all');
  expect((await reasons()).every((reason) => reason.includes('Edda'))).toBe(true);
});

test('a manager’s table of tasks holds those of the people they lead', async () => {
  await setReading('own');
  const lead = async (managerId: string) =>
    installation.services.database.change('UPDATE app_user SET manager_id = :manager WHERE id = :id', {
      manager: bytesOf(managerId),
      id: bytesOf(colleague.id),
    });
  const [theirs, other] = [await installation.as('manager'), await installation.as('manager')];
  await lead(theirs.id);
  const seen = async (by: Caller) => (await by.ok('countTasks', { query: { owner: 'team' } })).found;
  expect(await seen(theirs)).toBeGreaterThan(0);
  expect(await seen(other)).toBe(0);
});

describe('a team', () => {
  const lead = (ids: readonly string[], managerId: string | null) =>
    installation.services.database.change('UPDATE app_user SET manager_id = :manager WHERE id IN (:ids)', {
      manager: bytesOf(managerId),
      ids: ids.map((id) => bytesOf(id)),
    });
  afterEach(() => lead([me.id, colleague.id], null));

  test('reads each other’s records, and another team’s not', async () => {
    await setReading('team');
    const [one, other] = [await installation.as('manager'), await installation.as('manager')];
    await lead([me.id, colleague.id], one.id);
    await me.ok('getContact', { params: { id: secret.contact } });
    await lead([colleague.id], other.id);
    expect((await me.call('getContact', { params: { id: secret.contact } })).status).toBe(404);
    expect((await one.call('getContact', { params: { id: secret.contact } })).status).toBe(404);
    await other.ok('getContact', { params: { id: secret.contact } });
  });

  test('its manager changes what its people own, at any depth; another’s manager does not', async () => {
    await setReading('all');
    const [top, middle, other] = [
      await installation.as('manager'),
      await installation.as('manager'),
      await installation.as('manager', 'Orla Penn'),
    ];
    await lead([middle.id], top.id);
    await lead([colleague.id], middle.id);
    const rename = (by: Caller, version: number, name: string) =>
      by.call('changeCell', {
        params: { id: secret.contact },
        body: { version, field: 'jobTitle', value: name },
      });
    const { version } = await me.ok('getContact', { params: { id: secret.contact } });
    expect((await rename(other, version, 'x')).body).toMatchObject({ code: 'not-yours' });
    expect((await rename(top, version, 'Owner')).status).toBe(200);
    expect((await rename(middle, version + 1, 'Head')).status).toBe(200);
  });
});

test('whoever is in a deal’s team reads the deal and the people in it', async () => {
  await setReading('own');
  expect((await me.call('getDeal', { params: { id: secret.deal } })).status).toBe(404);
  await installation.services.database.change(
    'INSERT INTO deal_colleague (deal_id, user_id) VALUES (:deal, :me)',
    { deal: bytesOf(secret.deal), me: bytesOf(me.id) },
  );
  await me.ok('getDeal', { params: { id: secret.deal } });
  await me.ok('getContact', { params: { id: secret.contact } });
});

test('whoever has a task about somebody reads them until it is done; notices of what is out of reach say nothing of it', async () => {
  await setReading('own');
  const contact = await aContact(colleague, { familyName: `${word}son` });
  const notices = async () => (await me.ok('listNotifications')).notifications.map(({ words }) => words);
  expect((await me.call('getContact', { params: { id: contact.id } })).status).toBe(404);
  const task = await colleague.ok('createTask', {
    body: {
      ...{ channel: 'call', dueOn: '2026-11-25', purpose: 'ask for the salt', minutes: 5, repeats: null },
      ...{ promisedMinute: null, remindMinutes: null, ownerId: me.id, contactId: contact.id, dealId: null },
    },
  });
  await me.ok('getContact', { params: { id: contact.id } });
  expect((await notices())[0]).toContain(`${word}son`);

  await me.ok('dropTask', { params: { id: task.id }, body: { version: task.version, reason: 'she moved' } });
  expect((await me.call('getContact', { params: { id: contact.id } })).status).toBe(404);
  expect((await notices()).filter((words) => words.includes(`${word}son`))).toEqual([]);
  expect((await notices())[0]).toContain('you may no longer read');
  await setReading('all');
  expect((await notices())[0]).toContain(`${word}son`);
});

describe('an entry that is shared', () => {
  const share =
    (also: string, part: object = {}) =>
    async (mine: ContactId) =>
      me.call('log', {
        body: {
          ...{ id: newId(), contactId: mine, outcomeId: 'call-spoke', alsoContactIds: [also] },
          ...{ next: { kind: 'none', reason: 'x' }, ...part },
        },
      });
  const set = async (sharing: 'own' | 'deal-team' | 'all') => {
    const now = await admin.ok('rightsSettings');
    await admin.ok('changeRightsSettings', { body: { ...now, reading: 'all', sharing } });
  };
  const touched = async (id: string) => (await admin.ok('getContact', { params: { id } })).tether.lastTouchAt;

  test('does not touch a colleague’s person, unless their owner is in the deal’s team or the rule lets everybody', async () => {
    const theirs = await aContact(colleague, { familyName: 'Shore' });
    const own = await aContact(me);
    const deal = await aDeal(me, own.id);
    await set('deal-team');
    const refused = await share(theirs.id)(own.id);
    expect(refused.body).toMatchObject({
      status: 403,
      code: 'not-shared',
      detail: expect.stringContaining('Maud Shore belongs to Dara Finch'),
      fields: [{ path: 'alsoContactIds' }],
    });
    expect(await touched(theirs.id)).toBeNull();
    expect((await share(theirs.id, { dealId: deal.id })(own.id)).status).toBe(403);
    await me.ok('changeDeal', {
      params: { id: deal.id },
      body: {
        ...{ version: deal.version, name: deal.name, stageId: deal.stageId, amountMinor: deal.amountMinor },
        ...{ expectedCloseOn: deal.expectedCloseOn, winProbability: null, teamIds: [colleague.id] },
      },
    });
    expect((await share(theirs.id, { dealId: deal.id })(own.id)).status).toBe(200);
    expect(await touched(theirs.id)).not.toBeNull();
    await set('own');
    expect((await share(theirs.id, { dealId: deal.id })(own.id)).status).toBe(403);
    await set('all');
    expect((await share(theirs.id)(own.id)).status).toBe(200);
  });

  test('is refused as a note too, and for nobody’s id', async () => {
    await set('deal-team');
    const own = await aContact(me);
    const body = { id: newId(), contactId: own.id, body: 'met both' };
    const also = (id: string) => me.call('writeNote', { body: { ...body, alsoContactIds: [id] } });
    expect((await also(secret.contact)).body).toMatchObject({ code: 'not-shared' });
    expect((await also(newId())).body).toMatchObject({ code: 'not-found' });
  });
});

describe('what is for managers', () => {
  test('removed entries and old wordings', async () => {
    const own = await aContact(me);
    const { entryId } = await aLog(me, own.id);
    const removed = { query: { contactId: own.id, removed: 'yes' } };
    const history = { params: { id: entryId } };
    expect((await me.call('listJournal', removed)).body).toMatchObject({ code: 'not-allowed' });
    expect((await me.call('entryHistory', history)).body).toMatchObject({ code: 'not-allowed' });
    await admin.ok('listJournal', removed);
    await admin.ok('entryHistory', history);
  });

  test('a removed file; its owner brings it back all the same', async () => {
    const own = await aContact(me);
    const { id } = (await me.upload({ contactId: own.id, name: 'x.txt' }, Buffer.from('x'))).body as {
      id: string;
    };
    await me.ok('removeFile', { params: { id } });
    expect((await me.call('getFile', { params: { id } })).status).toBe(404);
    expect((await admin.call('getFile', { params: { id } })).status).toBe(200);
    await me.ok('restoreFile', { params: { id } });
    expect((await me.call('getFile', { params: { id } })).status).toBe(200);
  });

  test('taking people out as a file, where the organisation says so', async () => {
    const now = await admin.ok('rightsSettings');
    await admin.ok('changeRightsSettings', { body: { ...now, exports: 'manager' } });
    expect((await me.call('exportContacts')).body).toMatchObject({ code: 'not-allowed' });
    expect((await me.ok('session')).rights).toMatchObject({ changes: [], exports: false });
    expect((await admin.call('exportContacts')).status).toBe(200);
  });
});

test('a company that both have people of shows each their own, and counts them', async () => {
  await setReading('own');
  const firm = { companyName: 'Shared Works' };
  const [mineHere, theirsHere] = [await aContact(me, firm), await aContact(colleague, firm)];
  const [deal, theirDeal] = [await aDeal(me, mineHere.id), await aDeal(colleague, theirsHere.id)];
  const seenBy = async (caller: Caller) => {
    const { company, people, deals } = await caller.ok('getCompany', { params: { id: mineHere.companyId! } });
    const { rows } = await caller.ok('listCompanies', { query: { q: 'Shared' } });
    return [
      people.map(({ id }) => id),
      deals.map(({ id }) => id),
      company.people,
      company.openDeals,
      rows[0]!.people,
    ];
  };
  expect(await seenBy(me)).toEqual([[mineHere.id], [deal.id], 1, 1, 1]);
  const all = await seenBy(admin);
  expect([new Set(all[0] as string[]), new Set(all[1] as string[])]).toEqual([
    new Set([mineHere.id, theirsHere.id]),
    new Set([deal.id, theirDeal.id]),
  ]);
  expect(all.slice(2)).toEqual([2, 2, 2]);
});
