import { randomUUID } from 'node:crypto';
import type { GridCount, GridField, Task } from '@kettle/contract';
import {
  agreementGridFields,
  companyGridFields,
  dealGridFields,
  gridFields,
  leadGridFields,
  mailGridFields,
  taskGridFields,
} from '@kettle/contract';
import { parse } from 'csv-parse/sync';
import readXlsxFile from 'read-excel-file/node';
import { type Caller, install, type Installation } from '../../../testing/installation';
import { aContact, aDeal, aLead, journalOf } from '../../../testing/people';
import { storeArrival } from '../../processes/mail/index';

let installation: Installation;
let rep: Caller;
const today = '2026-11-24';

interface Listed {
  readonly fields: Readonly<Record<string, GridField>>;
  rows(query: object): Promise<readonly { id: string }[]>;
  count(query: object): Promise<GridCount>;
  file(query: object, how?: { isFile: true }): Promise<{ text: string; status: number; body: unknown }>;
}

/** Every list there is, asked for all that its maker may see. */
const lists: Readonly<Record<string, Listed>> = {
  people: {
    fields: gridFields,
    rows: async (query) => (await rep.ok('listContacts', { query })).rows,
    count: (query) => rep.ok('countContacts', { query }),
    file: (query, how) => rep.call('exportContacts', { query, ...how }),
  },
  companies: {
    fields: companyGridFields,
    rows: async (query) => (await rep.ok('listCompanies', { query })).rows,
    count: (query) => rep.ok('countCompanies', { query }),
    file: (query, how) => rep.call('exportCompanies', { query, ...how }),
  },
  deals: {
    fields: dealGridFields,
    rows: async (query) => (await rep.ok('pageDeals', { query })).rows,
    count: (query) => rep.ok('countDeals', { query }),
    file: (query, how) => rep.call('exportDeals', { query, ...how }),
  },
  leads: {
    fields: leadGridFields,
    rows: async (query) => (await rep.ok('listLeads', { query })).rows,
    count: (query) => rep.ok('countLeads', { query }),
    file: (query, how) => rep.call('exportLeads', { query, ...how }),
  },
  tasks: {
    fields: taskGridFields,
    rows: async (query) => (await rep.ok('taskTable', { query })).rows,
    count: (query) => rep.ok('countTasks', { query }),
    file: (query, how) => rep.call('exportTasks', { query, ...how }),
  },
  agreements: {
    fields: agreementGridFields,
    rows: async (query) => (await rep.ok('listAgreements', { query })).rows,
    count: (query) => rep.ok('countAgreements', { query }),
    file: (query, how) => rep.call('exportAgreements', { query, ...how }),
  },
  mail: {
    fields: mailGridFields,
    rows: async (query) => (await rep.ok('listMail', { query })).rows,
    count: (query) => rep.ok('countMail', { query }),
    file: (query, how) => rep.call('exportMail', { query, ...how }),
  },
};
const names = Object.keys(lists);
const fieldsThat = (can: 'canSort' | 'canGroup') =>
  names.flatMap((name) =>
    Object.entries(lists[name]!.fields)
      .filter(([, field]) => field[can] === true)
      .map(([key]) => [name, key] as const),
  );

beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep', 'Ada Bright');
  const made = [
    { companyName: 'Alder Baths', warmth: 'hot', amountMinor: 300_000, dueOn: today, noticeDays: 10 },
    {
      companyName: 'Birch Bakery',
      warmth: 'cool',
      amountMinor: 100_000,
      dueOn: '2026-12-04',
      noticeDays: 40,
    },
    { companyName: 'Cedar Clinic', warmth: null, amountMinor: 200_000, dueOn: '2026-11-30', noticeDays: 20 },
  ];
  for (const { companyName, warmth, amountMinor, dueOn, noticeDays } of made) {
    const contact = await aContact(rep, { companyName });
    await aDeal(rep, contact.id, { amountMinor, name: `Softener for ${companyName}` });
    await aLead(rep, { warmth, subject: `Plant of ${companyName}` });
    await rep.ok('createTask', {
      body: { channel: 'call', purpose: `ask ${companyName}`, dueOn, contactId: contact.id, minutes: 5 },
    });
    const [from, subject] = [`${companyName.split(' ')[0]}@plant.example`, `From ${companyName}`];
    const head = [`From: ${from}`, `Subject: ${subject}`, `Message-ID: <${randomUUID()}@plant.example>`];
    await storeArrival(installation.services, {
      content: Buffer.from([...head, '', 'A price, please.'].join('\r\n')),
      envelopeFrom: from,
    });
    await rep.ok('createAgreement', {
      body: {
        ...{
          contactId: contact.id,
          name: `Service of ${companyName}`,
          startsOn: '2026-03-01',
          termMonths: 12,
        },
        ...{ valueMinor: amountMinor, noticeDays, leadDays: 30, renewsItself: noticeDays > 15 },
      },
    });
  }
  await installation.work();
}, 60_000);
afterAll(() => installation.close());

describe.each(names)('the list of %s', (name) => {
  const list = lists[name]!;

  test('is the same in pages as at once, each row once, and counted right', async () => {
    const whole = await list.rows({});
    const pages = await Promise.all([0, 2, 4, 6].map((after) => list.rows({ after, limit: 2 })));
    const ids = pages.flat().map(({ id }) => id);
    expect(ids).toEqual(whole.slice(0, 8).map(({ id }) => id));
    expect(new Set(ids).size).toBe(ids.length);
    const count = await list.count({});
    expect(count.found).toBe(whole.length);
    expect(count.total).toBeGreaterThanOrEqual(count.found);
  });

  test('comes as a file with the columns that were asked for, of the view or of what was picked', async () => {
    const keys = Object.keys(list.fields);
    const whole = await list.rows({});
    const table = async (query: object) => {
      const { status, text } = await list.file({ columns: keys.join(','), ...query });
      expect(status).toBe(200);
      return parse(text, { bom: true }) as string[][];
    };
    const [head, ...rows] = await table({});
    const money = Object.values(list.fields).filter(({ type }) => type === 'money').length;
    const parts = Object.values(list.fields).flatMap((field) =>
      'parts' in field ? (field.parts ?? []) : [],
    );
    expect(head).toHaveLength(keys.length + money + (parts as readonly unknown[]).length);
    expect(rows).toHaveLength(whole.length);
    expect(await table({ ids: whole[0]!.id })).toHaveLength(2);
  });

  test('comes as a workbook of the same rows, numbers as numbers and days as days', async () => {
    const keys = Object.keys(list.fields);
    const { status, body } = await list.file({ columns: keys.join(','), as: 'xlsx' }, { isFile: true });
    expect(status).toBe(200);
    const [sheet] = await readXlsxFile(body as Buffer);
    const [head, ...rows] = sheet!.data;
    const plain = parse((await list.file({ columns: keys.join(',') })).text, { bom: true }) as string[][];
    expect([head, rows.length]).toEqual([plain[0], plain.length - 1]);
    for (const [at, key] of keys.entries()) {
      const { type, parts } = { parts: undefined, ...list.fields[key]! };
      if (at > 0 && parts !== undefined) break;
      const cells = rows.map((row) => row[head!.indexOf(list.fields[key]!.name)]);
      const kinds = new Set(
        cells.filter((cell) => cell !== null).map((cell) => (cell instanceof Date ? 'date' : typeof cell)),
      );
      const expected = {
        money: 'number',
        number: 'number',
        percent: 'number',
        date: 'date',
        instant: 'date',
      }[type as string];
      if (expected !== undefined)
        expect([key, ...kinds]).toEqual([key, ...(kinds.size === 0 ? [] : [expected])]);
    }
  });

  test('refuses a field it does not have, in sort, grouping and filter, by name', async () => {
    const filter = JSON.stringify({ join: 'all', rules: [{ field: 'constructor', ask: 'filled' }] });
    for (const query of [
      { sort: 'constructor' },
      { sort: 'name,to-string' },
      { group: 'constructor' },
      { filter },
    ])
      await expect(list.rows(query)).rejects.toThrow(/answered 400/);
    await expect(list.count({ filter })).rejects.toThrow(/answered 400/);
  });
});

test.each(fieldsThat('canSort'))('%s sorted by %s up and down hold the same rows', async (name, key) => {
  const [up, down] = await Promise.all([
    lists[name]!.rows({ sort: key }),
    lists[name]!.rows({ sort: `-${key}` }),
  ]);
  const ids = (rows: readonly { id: string }[]) => rows.map(({ id }) => id).sort();
  expect(up.length).toBeGreaterThan(1);
  expect(ids(down)).toEqual(ids(up));
});

/** The whole list, each page read by the row before it. */
async function followed(list: Listed, query: object): Promise<string[]> {
  const ids: string[] = [];
  for (;;) {
    const follows = ids.at(-1);
    // A place that says nothing: what follows the row is asked for.
    const rows = await list.rows({ ...query, limit: 2, after: 0, ...(follows && { follows }) });
    ids.push(...rows.map(({ id }) => id));
    if (rows.length < 2) return ids;
  }
}

test.each(fieldsThat('canSort'))('%s sorted by %s are the same read row after row', async (name, key) => {
  const list = lists[name]!;
  for (const sort of [key, `-${key}`]) {
    const whole = await list.rows({ sort });
    expect(await followed(list, { sort })).toEqual(whole.map(({ id }) => id));
  }
});

test.each(fieldsThat('canGroup'))('%s grouped by %s too', async (name, group) => {
  const list = lists[name]!;
  const whole = await list.rows({ group });
  expect(await followed(list, { group })).toEqual(whole.map(({ id }) => id));
});

test('a page after a row that is not in the list is found by its place', async () => {
  const whole = await lists['people']!.rows({});
  const page = await lists['people']!.rows({ after: 1, limit: 2, follows: randomUUID() });
  expect(page).toEqual(whole.slice(1, 3));
});

test('nobody learns where a record that they may not read stands', async () => {
  const [mine, mate] = [await installation.as('rep'), await installation.as('rep')];
  const admin = await installation.as('admin');
  const rights = await admin.ok('rightsSettings');
  await admin.ok('changeRightsSettings', { body: { ...rights, reading: 'own' } });
  const [own] = await Promise.all([
    aContact(mine, { familyName: 'Aa' }),
    aContact(mine, { familyName: 'Zz' }),
  ]);
  const theirs = await aContact(mate, { familyName: 'Mm' });
  const { rows } = await mine.ok('listContacts', { query: { after: 0, limit: 5, follows: theirs.id } });
  expect(rows.map(({ id }) => id)).toContain(own.id);
  await admin.ok('changeRightsSettings', { body: { ...(await admin.ok('rightsSettings')), reading: 'all' } });
});

test.each(fieldsThat('canGroup'))(
  '%s grouped by %s add up to the whole, counts and sums',
  async (name, group) => {
    const count = await lists[name]!.count({ group });
    expect(count.groups.reduce((sum, each) => sum + each.count, 0)).toBe(count.found);
    for (const [field, whole] of Object.entries(count.sums))
      expect(count.groups.reduce((sum, each) => sum + each.sums[field]!, 0)).toBe(whole);
    expect(count.groups.every(({ name: said }) => said !== '' && !/^[0-9a-f-]{36}$/.test(said))).toBe(true);
  },
);

test.each([
  ['companies', 'open-value', [100_000, 200_000, 300_000]],
  ['agreements', 'notice', ['Birch Bakery', 'Cedar Clinic', 'Alder Baths']],
  ['leads', 'warmth', ['hot', 'cool', null]],
] as const)('%s are sorted by %s', async (name, sort, expected) => {
  const rows = (await lists[name]!.rows({ sort })) as unknown as Record<string, unknown>[];
  const seen = rows.map((row) =>
    name === 'companies' ? row.openValueMinor : name === 'agreements' ? row.companyName : row.warmth,
  );
  const known = seen.filter((value) => (expected as readonly unknown[]).includes(value));
  // MariaDB puts what is empty first; a warmth nobody gave is last to a reader.
  expect(name === 'leads' ? known.filter((value) => value !== null) : known).toEqual(
    expected.filter((value) => name !== 'leads' || value !== null),
  );
});

describe('one field of a record', () => {
  const taskOf = async (purpose: string): Promise<Task> =>
    (await rep.ok('taskTable', { query: { q: purpose } })).rows[0]!;

  test('of a task is changed alone: its promised time goes with it to another day', async () => {
    const contact = await aContact(rep);
    const task = await rep.ok('createTask', {
      body: {
        channel: 'call',
        purpose: 'promised',
        dueOn: today,
        promisedMinute: 630,
        contactId: contact.id,
      },
    });
    const moved = await rep.ok('changeTask', {
      params: { id: task.id },
      body: { version: task.version, dueOn: '2026-11-26' },
    });
    expect(moved).toMatchObject({
      dueOn: '2026-11-26',
      promisedAt: '2026-11-26T10:30:00.000Z',
      timesMoved: 1,
    });
    const named = await rep.ok('changeTask', {
      params: { id: task.id },
      body: { version: moved.version, purpose: 'promised again' },
    });
    expect(named).toMatchObject({ purpose: 'promised again', promisedAt: moved.promisedAt, timesMoved: 1 });
  });

  test('of a company is changed alone, and its sites stay', async () => {
    const contact = await aContact(rep, { companyName: 'Ferry Fuels' });
    const params = { id: contact.companyId! };
    const { company } = await rep.ok('getCompany', { params });
    const changed = await rep.ok('changeCompany', {
      params,
      body: { version: company.version, trade: 'fuel' },
    });
    expect(changed).toMatchObject({ trade: 'fuel', name: 'Ferry Fuels', sites: company.sites });
  });

  test('of a lead is changed alone, and its owner stays', async () => {
    const lead = await aLead(rep, { campaign: 'spring' });
    const body = { version: lead.version, campaign: 'autumn' };
    expect(await rep.ok('changeLead', { params: { id: lead.id }, body })).toMatchObject({
      campaign: 'autumn',
      ownerId: lead.ownerId,
    });
  });

  test('is found by what is asked of it', async () => {
    const filter = JSON.stringify({ join: 'all', rules: [{ field: 'due', ask: 'within-next', value: 6 }] });
    const { rows } = await rep.ok('taskTable', { query: { filter, q: 'ask' } });
    const named = rows.map(({ purpose }) => purpose).filter((purpose) => purpose !== 'ask');
    expect(named).toEqual(['ask Alder Baths', 'ask Cedar Clinic']);
    expect((await taskOf('ask Birch')).dueOn).toBe('2026-12-04');
  });
});

describe('several go to a colleague at once', () => {
  test('leads with their people, of whom their new owner is told, and back by one undo', async () => {
    const other = await installation.as('rep');
    const leads = [await aLead(rep), await aLead(rep)];
    const ids = leads.map(({ id }) => id);
    const changeId = randomUUID();
    const body = { kind: 'lead', ids, ownerId: other.id };
    const given = await rep.call('giveRecords', { body, changeId });
    expect(given.body).toEqual({ given: 2, left: 0 });
    const owners = async () =>
      Promise.all(
        leads.map(async ({ id, contactId }) => [
          (await rep.ok('getLead', { params: { id } })).ownerId,
          (await rep.ok('getContact', { params: { id: contactId } })).ownerId,
        ]),
      );
    expect(await owners()).toEqual([
      [other.id, other.id],
      [other.id, other.id],
    ]);
    const { notifications } = await other.ok('listNotifications');
    expect(notifications).toHaveLength(2);
    await rep.ok('undoChange', { params: { id: changeId } });
    expect(await owners()).toEqual([
      [rep.id, rep.id],
      [rep.id, rep.id],
    ]);
  });

  test('leads are shared out among several in turn, evenly, and undone as one', async () => {
    const [one, two, three] = [
      await installation.as('rep'),
      await installation.as('rep'),
      await installation.as('rep'),
    ];
    const leads = [];
    for (let n = 0; n < 7; n++) leads.push(await aLead(rep));
    const ids = leads.map(({ id }) => id);
    const changeId = randomUUID();
    const body = { kind: 'lead', ids, ownerId: one.id, alsoTo: [two.id, three.id, two.id] };
    const given = await rep.call('giveRecords', { body, changeId });
    expect(given.body).toEqual({ given: 7, left: 0 });
    const ownersNow = async () => {
      const owners = [];
      for (const id of ids) owners.push((await rep.ok('getLead', { params: { id } })).ownerId);
      return owners;
    };
    const turn = [one.id, two.id, three.id];
    expect(await ownersNow()).toEqual(ids.map((_, at) => turn[at % 3]));
    await rep.ok('undoChange', { params: { id: changeId } });
    expect(new Set(await ownersNow())).toEqual(new Set([rep.id]));
    const nobody = await rep.call('giveRecords', { body: { ...body, ownerId: null } });
    expect([nobody.status, (nobody.body as { fields: { path: string }[] }).fields[0]!.path]).toEqual([
      ...[400, 'ownerId'],
    ]);
  });

  test('deals with their planned steps; a closed one stays whose it was', async () => {
    const other = await installation.as('rep');
    const contact = await aContact(rep);
    const [open, closed] = [await aDeal(rep, contact.id), await aDeal(rep, contact.id)];
    await rep.ok('closeDeal', {
      params: { id: closed.id },
      body: { as: 'lost', version: closed.version, on: today, reason: 'price' },
    });
    const body = { kind: 'deal', ids: [open.id, closed.id], ownerId: other.id };
    expect(await rep.ok('giveRecords', { body })).toEqual({ given: 1, left: 1 });
    const { notifications } = await other.ok('listNotifications');
    expect(notifications.map(({ words }) => words)).toEqual(['Ada Bright gave you 1 deal']);
    expect((await rep.ok('getDeal', { params: { id: open.id } })).ownerId).toBe(other.id);
    expect((await rep.ok('getDeal', { params: { id: closed.id } })).ownerId).toBe(rep.id);
    const { tasks } = await rep.ok('listTasks', { query: { dealId: open.id } });
    expect(tasks.map(({ ownerId }) => ownerId)).toEqual([other.id]);
    expect((await journalOf(rep, { dealId: open.id })).some(({ body: said }) => /[Oo]wner/.test(said))).toBe(
      true,
    );
  });

  test('tasks; what is theirs already is left, and a colleague’s cannot be given away', async () => {
    const other = await installation.as('rep');
    const contact = await aContact(rep);
    const make = (ownerId: string) =>
      rep.ok('createTask', {
        body: { channel: 'call', purpose: 'give', dueOn: today, contactId: contact.id, ownerId },
      });
    const [mine, theirs] = [await make(rep.id), await make(other.id)];
    const give = (by: Caller, ids: string[]) =>
      by.call('giveRecords', { body: { kind: 'task', ids, ownerId: other.id } });
    expect((await give(rep, [mine.id])).body).toEqual({ given: 1, left: 0 });
    expect((await give(other, [mine.id, theirs.id])).body).toEqual({ given: 0, left: 2 });
    const third = await installation.as('rep');
    const refused = await give(third, [theirs.id]);
    expect([refused.status, refused.body.code]).toEqual([403, 'not-yours']);
  });

  test('companies and agreements, of which their journals tell; one that has ended stays', async () => {
    const other = await installation.as('rep');
    const nameOf = async (by: Caller) => (await by.ok('session')).person.name;
    const [theirs, mine] = [await nameOf(other), await nameOf(rep)];
    const contact = await aContact(rep, { companyName: 'Given Baths' });
    const companyId = contact.companyId!;
    await rep.ok('giveRecords', { body: { kind: 'company', ids: [companyId], ownerId: rep.id } });
    const make = (name: string, startsOn: string) =>
      rep.ok('createAgreement', {
        body: {
          ...{ contactId: contact.id, name, startsOn, termMonths: 12, valueMinor: 90_000 },
          ...{ noticeDays: 30, leadDays: 30, renewsItself: false },
        },
      });
    const [runs, hasEnded] = [await make('Servicing', '2026-06-01'), await make('Rental', '2024-01-01')];
    await rep.ok('endAgreement', {
      params: { id: hasEnded.id },
      body: { version: 1, by: 'customer', noticeOn: null, leavesOn: '2025-01-01', reason: 'price' },
    });
    const changeId = randomUUID();
    const given = await rep.call('giveRecords', {
      changeId,
      body: { kind: 'agreement', ids: [runs.id, hasEnded.id], ownerId: other.id },
    });
    expect(given.body).toEqual({ given: 1, left: 1 });
    const body = { kind: 'company', ids: [companyId], ownerId: other.id };
    expect(await rep.ok('giveRecords', { body })).toEqual({ given: 1, left: 0 });
    const company = async () => (await other.ok('getCompany', { params: { id: companyId } })).company;
    expect((await company()).ownerName).toBe(theirs);
    const said = (await journalOf(other, { companyId })).map(({ body: words }) => words);
    expect(said).toEqual(
      expect.arrayContaining([
        `Owner: ${mine} → ${theirs}`,
        `Agreement “Servicing”: Owner: ${mine} → ${theirs}`,
      ]),
    );
    const running = async () => (await rep.ok('listAgreements', { query: {} })).rows.map(({ name }) => name);
    expect(await running()).not.toContain('Servicing');
    await rep.ok('undoChange', { params: { id: changeId } });
    expect(await running()).toContain('Servicing');
    const third = await installation.as('rep');
    const refused = await third.call('giveRecords', { body: { ...body, ownerId: third.id } });
    expect([refused.status, refused.body.code]).toEqual([403, 'not-yours']);
  });

  test.each([
    ['nobody picked', { kind: 'lead', ids: [] }, 'ids'],
    [
      'a deal for nobody',
      { kind: 'deal', ids: ['01900000-0000-7000-8000-000000000001'], ownerId: null },
      'ownerId',
    ],
  ])('%s is refused at its field', async (_, part, path) => {
    const refused = await rep.call('giveRecords', { body: { ownerId: rep.id, ...part } });
    expect(refused.status).toBe(400);
    expect(refused.body.fields[0].path).toBe(path);
  });
});

test.each([
  [{ owner: 'mine' }],
  [{ owner: 'unowned' }],
  [{ owner: 'all' }],
  [{ q: 'el' }],
  [{ quiet: 'yes' }],
  [{ archived: 'yes' }],
  [
    {
      owner: 'mine',
      filter: JSON.stringify({ join: 'all', rules: [{ field: 'source', ask: 'is', value: 'Fair' }] }),
    },
  ],
])('a standing says of the people of a view as many as a press on it shows: %j', async (view) => {
  const pooled = await aContact(rep, { familyName: 'Ellwood' });
  await rep.ok('handOver', { params: { id: pooled.id }, body: { version: pooled.version, ownerId: null } });
  await aContact(await installation.as('rep'));
  await aContact(rep, { source: 'Fair', familyName: 'Elder' });
  const gone = await aContact(rep);
  await rep.ok('archiveRecord', {
    body: { kind: 'contact', id: gone.id, version: gone.version, isArchived: true },
  });
  installation.clock.set('2026-12-05T09:00:00.000Z');
  const { standings } = await rep.ok('listStandings', { query: view });
  expect(standings.some(({ all }) => all > 0)).toBe(true);
  for (const { standing, all, due } of standings) {
    const query = { ...view, standing: standing.id };
    expect((await rep.ok('countContacts', { query })).found).toBe(all);
    expect((await rep.ok('countContacts', { query: { ...query, quiet: 'yes' } })).found).toBe(due);
  }
});

test('sources and campaigns in use are proposed, the most used first, however they are written', async () => {
  for (const source of ['Harbour Fair', 'harbour fair', 'Leaflet']) await aContact(rep, { source });
  await aLead(rep, { source: 'Harbour Fair', campaign: 'spring letters' });
  const { words } = await rep.ok('wordsInUse', { query: { field: 'source' } });
  const [fair, leaflet] = [words.findIndex((word) => /^harbour fair$/i.test(word)), words.indexOf('Leaflet')];
  expect(fair).toBeGreaterThanOrEqual(0);
  expect(fair).toBeLessThan(leaflet);
  expect(words.filter((word) => /^harbour fair$/i.test(word))).toHaveLength(1);
  expect((await rep.ok('wordsInUse', { query: { field: 'campaign' } })).words).toContain('spring letters');
  expect((await rep.call('wordsInUse', { query: { field: 'name' } })).body.fields[0].path).toBe(
    'query.field',
  );
});
