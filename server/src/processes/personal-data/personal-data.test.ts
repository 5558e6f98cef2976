import { randomUUID } from 'node:crypto';
import type { Contact, ImportPreview } from '@kettle/contract';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aMailServer, type MailServer } from '../../../testing/mail-server';
import { aContact, aDeal, aLead, aLog } from '../../../testing/people';
import type { Queryable } from '../../platform/database/database';
import { readSchema } from '../../platform/database/schema';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, newId } from '../../platform/ids';
import { smtpOut, storeArrival } from '../mail/index';
import { places } from './places';

let server: MailServer;
let installation: Installation;
let rep: Caller;
let admin: Caller;
beforeEach(async () => {
  server = await aMailServer();
  installation = await install({ mailOut: smtpOut(server.url) });
  rep = await installation.as('rep', 'Imogen Thorne');
  admin = await installation.as('admin', 'Petra Lund');
});
afterEach(async () => {
  await installation.close();
  await server.close();
});

const given = 'Zebulon';
const family = 'Quarrywhistle';
const email = 'zebulon@quarrywhistle.example';
const phone = '+441632960777';
const traces = /zebulon|quarrywhistle|1632 ?960 ?777/i;

/** Somebody of whom everything is held that can be. */
async function somebody(): Promise<Contact> {
  const { database, clock } = installation.services;
  const field = await admin.ok('createCustomField', {
    body: { subject: 'contact', name: 'Dog', type: 'text', choices: [] },
  });
  const double = await aContact(rep, {
    givenName: given,
    familyName: family,
    email: 'z@quarrywhistle.example',
  });
  const contact = await aContact(rep, {
    ...{ givenName: given, familyName: family, email, phone, companyName: 'Penrow Laundry' },
    tags: ['quarrywhistle'],
    otherPoints: [{ kind: 'email', label: 'home', value: 'home@quarrywhistle.example' }],
    custom: { [field.id]: 'Zebulon’s dog' },
  });
  await rep.ok('mergeContacts', {
    body: {
      ...{ keepId: contact.id, keepVersion: contact.version },
      ...{ goneId: double.id, goneVersion: double.version, choices: {} },
    },
  });
  const want = await admin.ok('createCustomField', {
    body: { subject: 'lead', name: 'Wanted', type: 'text', choices: [] },
  });
  await rep.ok('createLead', {
    body: { subject: 'a softener', contactId: contact.id, custom: { [want.id]: 'Zebulon’s boiler' } },
  });
  await admin.ok('addRule', {
    body: {
      ...{ name: 'Look at it', subject: 'contact', if: null, isOn: true },
      when: { kind: 'event', event: 'touch.logged', to: [] },
      then: [
        { kind: 'notify', to: ['owner'], words: 'Look at it' },
        { kind: 'tag', tag: 'looked at' },
      ],
    },
  });
  const { entryId } = await aLog(rep, contact.id, {
    body: `${given} asks for a price`,
    outcomeId: 'call-spoke',
  });
  await rep.ok('editEntry', {
    params: { id: entryId },
    body: {
      ...{ version: await versionOf(entryId), at: installation.clock.now(), minutes: null },
      body: `${given} asks for two prices`,
    },
  });
  await rep.ok('writeComment', { params: { id: entryId }, body: { id: randomUUID(), body: `ask ${given}` } });
  await rep.ok('createTask', {
    body: {
      contactId: contact.id,
      channel: 'call',
      purpose: `ring ${given}`,
      dueOn: '2026-11-30',
      minutes: 5,
    },
  });
  await rep.ok('planAppointment', {
    body: {
      ...{ title: `Survey with ${given}`, place: family, startsAt: '2026-11-25T10:00:00.000Z' },
      ...{ minutes: 60, contactId: contact.id, note: `${given} opens the gate` },
    },
  });
  await rep.upload({ contactId: contact.id, name: `${family}.txt` }, Buffer.from('secret'));
  await rep.ok('sendMail', {
    body: {
      ...{ id: randomUUID(), contactId: contact.id, subject: `Hello ${given}`, body: 'Good day' },
      next: { kind: 'task', channel: 'call', dueOn: '2026-11-27', purpose: 'ask', minutes: 5 },
    },
  });
  installation.clock.set('2026-11-24T10:10:00.000Z');
  await installation.work();
  const arrive = async (from: string, subject: string) =>
    storeArrival(installation.services, {
      content: Buffer.from(
        [
          'Authentication-Results: mx.kettle.test; dmarc=pass',
          `From: ${given} ${family} <${from}>`,
          'To: rep1@hollinbeck.example',
          `Subject: ${subject}`,
          `Message-ID: <${randomUUID()}@quarrywhistle.example>`,
          '',
          `Regards, ${given}`,
        ].join('\r\n'),
      ),
      envelopeFrom: from,
    });
  await arrive(email, `Re: from ${given}`);
  await installation.work();
  const call = { at: sqlInstant(clock.now()), user: bytesOf(rep.id), number: phone };
  for (const id of [contact.id, null])
    await database.change(
      `INSERT INTO phone_call (id, state, number, user_id, contact_id, started_at) VALUES (:id, 'ended', :number, :user, :contact, :at)`,
      { ...call, id: bytesOf(newId()), contact: bytesOf(id) },
    );
  await database.change(
    `INSERT INTO text_message (id, direction, state, number, body, contact_id, at) VALUES (:id, 'in', 'filed', :number, :body, :contact, :at)`,
    { ...call, id: bytesOf(newId()), body: `${given} here`, contact: bytesOf(contact.id) },
  );
  const { cadences } = await rep.ok('listCadences');
  await rep.ok('startRuns', {
    params: { id: cadences[0]!.id },
    body: { requestId: randomUUID(), versionId: cadences[0]!.versionId, contactIds: [contact.id] },
  });
  await rep.ok('startBulk', {
    body: { id: randomUUID(), selection: { ids: [contact.id] }, act: { kind: 'add-tag', tag: 'spa' } },
  });
  await installation.work();
  return rep.ok('getContact', { params: { id: contact.id } });
}

const versionOf = async (entryId: string) => {
  const [entry] = await installation.services.database.rows<{ version: number }>(
    'SELECT version FROM journal_entry WHERE id = :id',
    { id: bytesOf(entryId) },
  );
  return entry!.version;
};

/** Every table in which something of them stands, in any column of any row. */
async function tracesLeft(db: Queryable): Promise<string[]> {
  const { columns } = await readSchema(db);
  const found: string[] = [];
  for (const [table, list] of columns) {
    const text = list.map(({ name }) => `COALESCE(CONVERT(\`${name}\` USING latin1), '')`).join(", ' ', ");
    const rows = await db.rows<{ line: string }>(`SELECT CONCAT(${text}) AS line FROM \`${table}\``);
    if (rows.some(({ line }) => traces.test(line))) found.push(table);
  }
  return found.sort();
}

const erase = async (
  contact: Pick<Contact, 'id' | 'version'>,
  name = `${given} ${family}`,
  caller = admin,
) => {
  const changeId = randomUUID();
  const reply = await caller.call('erasePerson', {
    params: { id: contact.id },
    body: { version: contact.version, name },
    changeId,
  });
  await installation.work();
  return { changeId, status: reply.status, body: reply.body };
};

test('every table says what it holds of people', async () => {
  const { columns } = await readSchema(installation.services.database);
  expect(Object.keys(places).sort()).toEqual([...columns.keys()].sort());
  const { places: shown } = await admin.ok('dataPlaces');
  expect(shown).toContainEqual(expect.objectContaining({ table: 'mail_arrival', keptFor: '180 days' }));
});

test('erased, nothing of them stands in any column of any table', async () => {
  const { database } = installation.services;
  const contact = await somebody();
  const before = await tracesLeft(database);
  for (const table of [
    'contact',
    'contact_point',
    'journal_entry',
    'entry_before',
    'mail',
    'mail_arrival',
    'change_row',
    'task',
  ])
    expect(before).toContain(table);
  const firings = () =>
    database.rows('SELECT 1 FROM rule_firing WHERE record_id = :id', { id: bytesOf(contact.id) });
  expect((await firings()).length).toBeGreaterThan(0);
  const { changeId, status } = await erase(contact);
  expect(status).toBe(200);
  expect(await tracesLeft(database)).toEqual([]);
  expect(await firings()).toEqual([]);
  expect((await rep.call('getContact', { params: { id: contact.id } })).status).toBe(404);
  const undone = await admin.call('undoChange', { params: { id: changeId } });
  expect(undone.status).not.toBe(200);
  expect(await tracesLeft(database)).toEqual([]);
});

test('a file that brings somebody back who was erased is stopped at their rows, by each of their addresses and numbers', async () => {
  const contact = await somebody();
  await erase(contact);
  const lines = [
    'name,email,phone',
    `Zeb Q,${email},`,
    'Zeb Q,HOME@quarrywhistle.example,',
    'Zeb Q,,01632 960777',
    'Wren Ash,wren@ash.example,01632960778',
  ];
  const { body } = await rep.call('uploadImport', {
    body: { fileName: 'again.csv', contentBase64: Buffer.from(lines.join('\n')).toString('base64') },
  });
  const preview = body as unknown as ImportPreview;
  expect(preview.counts).toMatchObject({ new: 1, wrong: 3 });
  const reasons = preview.rows.flatMap(({ problems }) =>
    problems.map(({ column, reason }) => [column, reason]),
  );
  expect(reasons.map(([column]) => column).sort()).toEqual(['email', 'email', 'phone']);
  expect(reasons[0]![1]).toContain('erased on request on Tue 24 Nov');
  await rep.ok('confirmImport', { params: { id: preview.id }, body: { version: preview.version } });
  await installation.work();
  const { rows } = await rep.ok('listContacts', { query: { limit: 200 } });
  expect(rows.filter(({ name }) => name === 'Zeb Q')).toEqual([]);
  expect(rows.some(({ name }) => name === 'Wren Ash')).toBe(true);
  // By hand they come back, if they ask for it.
  expect((await aContact(rep, { email })).email).toBe(email);
});

test('a deal and its money stay, with nobody’s name; what is kept is said before', async () => {
  const contact = await somebody();
  const deal = await aDeal(rep, contact.id, { name: 'Softener', amountMinor: 980_000 });
  const { kept } = await admin.ok('personalData', { params: { id: contact.id } });
  expect(kept.map(({ words }) => words)).toContain('1 deal without the name');
  await erase(await rep.ok('getContact', { params: { id: contact.id } }));
  expect(await rep.ok('getDeal', { params: { id: deal.id } })).toMatchObject({
    amountMinor: 980_000,
    contactName: 'Erased person',
  });
  expect(await tracesLeft(installation.services.database)).toEqual([]);
});

test('everything that stands somewhere is in what is exported, as JSON and to read', async () => {
  const { database } = installation.services;
  const contact = await somebody();
  const json = await admin.call('exportPersonalData', { params: { id: contact.id }, query: { as: 'json' } });
  const { tables, files } = JSON.parse(json.text) as {
    tables: Record<string, { rows: Record<string, string>[] }>;
    files: Record<string, string>;
  };
  const [file] = tables.stored_file!.rows;
  expect(Buffer.from(files[file!.id!]!, 'base64').toString()).toBe('secret');
  // Kept for undoing, or as it arrived beside the mail that was read from it.
  const besides = ['change_row', 'change_set', 'event', 'mail_arrival', 'import_row'];
  const expected = (await tracesLeft(database)).filter((table) => !besides.includes(table));
  expect(expected.filter((table) => !(table in tables))).toEqual([]);
  expect(tables.contact!.rows[0]).toMatchObject({ id: contact.id, email });
  const page = await admin.call('exportPersonalData', {
    params: { id: contact.id },
    query: { as: 'readable' },
  });
  expect(page.text).toContain(`asks for two prices`);
  expect(page.text).not.toContain('<script');
  expect(page.headers['content-disposition']).toContain('attachment');
  const { events } = await admin.ok('listSecurityEvents');
  expect(events.filter(({ kind }) => kind === 'exported')).toHaveLength(2);
});

test('notes about others that name them are listed for somebody to read', async () => {
  const contact = await somebody();
  const other = await aContact(rep, { companyName: 'Penrow Laundry' });
  await aLog(rep, other.id, { body: `says that ${given} ${family} decides`, outcomeId: 'call-spoke' });
  const { mentions, held } = await admin.ok('personalData', { params: { id: contact.id } });
  expect(mentions).toMatchObject([
    { contactId: other.id, opening: expect.stringContaining('decides') as string },
  ]);
  expect(held.find(({ table }) => table === 'task')!.count).toBeGreaterThan(0);
});

test('only an admin may, who types the name as it is, over the record they saw', async () => {
  const contact = await aContact(rep, { givenName: given, familyName: family });
  const manager = await installation.as('manager');
  for (const caller of [rep, manager]) {
    expect((await erase(contact, undefined, caller)).body.code).toBe('not-allowed');
    expect((await caller.call('personalData', { params: { id: contact.id } })).body.code).toBe('not-allowed');
  }
  expect((await erase(contact, 'somebody else')).body).toMatchObject({
    code: 'invalid-request',
    fields: [{ path: 'name' }],
  });
  expect((await erase({ ...contact, version: contact.version + 1 })).body.code).toBe('stale');
});

describe('what is no longer needed', () => {
  const keep = async (part: object) => {
    const stored = await admin.ok('retentionSettings');
    await admin.ok('changeRetentionSettings', { body: { ...stored, ...part } });
  };
  const later = async (days: number) => {
    installation.clock.set(new Date(installation.clock.millis() + days * 86_400_000).toISOString());
    admin = await installation.as('admin');
    await installation.services.database.change(
      `INSERT INTO job (id, dedupe_key, kind, payload, state, due_at, shard) VALUES (:id, :key, 'keep-retention', '{}', 'due', :now, 0)`,
      { id: bytesOf(newId()), key: randomUUID(), now: sqlInstant(installation.clock.now()) },
    );
    await installation.work();
  };
  const count = async (sql: string) =>
    Number(
      (await installation.services.database.rows<{ n: number }>(`SELECT COUNT(*) AS n FROM ${sql}`))[0]!.n,
    );

  test('goes after its days and not before, with what hangs on it', async () => {
    const contact = await aContact(rep);
    const { entryId } = await aLog(rep, contact.id, { body: 'hello', outcomeId: 'call-spoke' });
    await rep.ok('writeComment', { params: { id: entryId }, body: { id: randomUUID(), body: 'yes' } });
    await rep.ok('removeEntry', { params: { id: entryId }, body: { version: await versionOf(entryId) } });
    await storeArrival(installation.services, {
      content: Buffer.from('From: a@b.example\r\nTo: rep1@hollinbeck.example\r\nPrecedence: bulk\r\n\r\nbuy'),
      envelopeFrom: 'a@b.example',
    });
    await installation.work();
    await keep({ removed: 30, letGoMail: 30, rawMail: 40 });
    await later(29);
    expect([
      await count('journal_entry WHERE removed_at IS NOT NULL'),
      await count('mail'),
      await count('mail_arrival'),
    ]).toEqual([1, 1, 1]);
    await later(2);
    expect([
      await count('journal_entry WHERE removed_at IS NOT NULL'),
      await count('mail'),
      await count('mail_arrival'),
    ]).toEqual([0, 0, 1]);
    await later(10);
    expect(await count('mail_arrival')).toBe(0);
  });

  test('what is too much for one part goes in the next ones, with what hangs on it', async () => {
    const { database, clock } = installation.services;
    const contact = await aContact(rep);
    const many = Array.from({ length: 2300 }, () => bytesOf(newId<string>()));
    const at = sqlInstant(clock.now());
    await database.change(
      'INSERT INTO journal_entry (id, at, kind, counts, body, contact_id, created_at, removed_at) VALUES :rows',
      { rows: many.map((id) => [id, at, 'note', 'none', 'x', bytesOf(contact.id), at, at]) },
    );
    await database.change('INSERT INTO entry_person (entry_id, contact_id, at) VALUES :rows', {
      rows: many.map((id) => [id, bytesOf(contact.id), at]),
    });
    await keep({ removed: 30 });
    await later(31);
    expect([await count('journal_entry WHERE removed_at IS NOT NULL'), await count('entry_person')]).toEqual([
      0, 0,
    ]);
    expect(await count("job WHERE state = 'failed'")).toBe(0);
  });

  test('leads that came to nothing go with their person, but nobody who has a deal or was spoken to since', async () => {
    const gone = await aLead(rep);
    const kept = await aLead(rep);
    await aDeal(rep, kept.contactId);
    for (const { id } of [gone, kept])
      await rep.ok('setLeadAside', {
        params: { id },
        body: { reason: 'no need', wakeOn: null, next: { kind: 'none', reason: 'no need' } },
      });
    await later(400);
    expect(await count('sales_lead')).toBe(2);
    await keep({ setAsideLeads: 365 });
    await later(1);
    expect(await count('sales_lead')).toBe(1);
    expect((await admin.call('getContact', { params: { id: gone.contactId } })).status).toBe(404);
    expect((await admin.call('getContact', { params: { id: kept.contactId } })).status).toBe(200);
  });
});
