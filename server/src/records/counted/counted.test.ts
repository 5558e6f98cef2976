import { randomUUID } from 'node:crypto';
import fc from 'fast-check';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, aLog } from '../../../testing/people';
import { recountEverything } from './index';

let installation: Installation;
let rep: Caller;
let admin: Caller;
beforeAll(async () => {
  installation = await install();
  [rep, admin] = [await installation.as('rep'), await installation.as('admin')];
});
afterAll(() => installation.close());

const rules = (...all: object[]) => JSON.stringify({ join: 'all', rules: all }) as never;
const countedOf = async (name: string, by = rep) => {
  const { rows } = await by.ok('listContacts', {
    query: { filter: rules({ field: 'name', ask: 'has', value: name }) },
  });
  return rows[0]?.counted;
};
test('it comes with its row unless it is not asked for', async () => {
  await aContact(rep, { givenName: 'Quentin', familyName: 'Brock' });
  const read = async (part: object) => {
    const filter = rules({ field: 'name', ask: 'has', value: 'quentin' });
    return (await rep.ok('listContacts', { query: { filter, ...part } })).rows[0]!;
  };
  const { counted, ...row } = await read({});
  expect(counted).toMatchObject({ 'call-many': 0 });
  expect(await read({ counted: 'no' })).toEqual(row);
});

const stored = async () => {
  const all = [];
  for (const table of ['contact_count', 'company_count', 'deal_count'])
    all.push(await installation.services.database.rows(`SELECT * FROM ${table} ORDER BY id`));
  return JSON.stringify(all);
};

test('what is logged is counted for the person, their company and the deal, and found by it', async () => {
  installation.clock.set('2026-11-20T10:00:00.000Z');
  const contact = await aContact(rep, {
    givenName: 'Zelda',
    familyName: 'Brock',
    companyName: 'Brock Dairy',
  });
  const deal = await aDeal(rep, contact.id, { amountMinor: 90_000 });
  expect(await countedOf('zelda')).toMatchObject({
    'call-many': 0,
    'call-last': null,
    'deals-open': 1,
    'deals-open-value': 90_000,
  });
  await aLog(rep, contact.id, { dealId: deal.id });
  installation.clock.set('2026-11-22T10:00:00.000Z');
  await aLog(rep, contact.id, { outcomeId: 'call-spoke', dealId: deal.id });
  installation.clock.set('2026-11-24T09:10:00.000Z');
  expect(await countedOf('zelda')).toMatchObject({
    'call-many': 2,
    'call-first': '2026-11-20T10:00:00.000Z',
    'call-last': '2026-11-22T10:00:00.000Z',
    'call-days': 2,
    'conversation-many': 1,
    'conversation-days': 2,
    'meeting-many': 0,
    'meeting-days': null,
    mails: 0,
  });
  const [company] = (await rep.ok('listCompanies', { query: { q: 'brock' } })).rows;
  expect(company!.counted).toMatchObject({ 'call-many': 2, 'conversation-many': 1 });
  const found = await rep.ok('pageDeals', {
    query: {
      owner: 'mine',
      filter: rules({ field: 'call-many', ask: 'more', value: 1 }),
      sort: '-call-last',
    },
  });
  expect(found.rows.map(({ id, counted }) => [id, counted?.['call-many']])).toEqual([[deal.id, 2]]);
  const { rows } = await rep.ok('listContacts', {
    query: { filter: rules({ field: 'call-days', ask: 'is', value: 2 }), sort: '-conversation-many' },
  });
  expect(rows.map(({ name }) => name)).toEqual(['Zelda Brock']);
});

test('a file of the list has them, with amounts in the currency’s places', async () => {
  const { text } = await rep.call('exportContacts', {
    query: {
      columns: 'name,call-many,call-last,deals-open-value',
      filter: rules({ field: 'name', ask: 'has', value: 'zelda' }),
    },
  });
  expect(text.trim().split('\r\n')).toEqual([
    'name,given name,family name,calls,last call,value of open deals,"value of open deals, currency"',
    'Zelda Brock,Zelda,Brock,2,2026-11-22T10:00:00.000Z,900.00,GBP',
  ]);
});

test('one that is taken back, or put to another person, is counted there no more', async () => {
  const [one, other] = [
    await aContact(rep, { givenName: 'Una', familyName: 'First' }),
    await aContact(rep, { givenName: 'Otto', familyName: 'Second' }),
  ];
  const changeId = randomUUID();
  await rep.call('log', {
    changeId,
    body: {
      id: randomUUID(),
      contactId: one.id,
      outcomeId: 'call-spoke',
      next: { kind: 'none', reason: 'x' },
    },
  });
  expect((await countedOf('una'))?.['call-many']).toBe(1);
  await rep.ok('undoChange', { params: { id: changeId } });
  expect(await countedOf('una')).toMatchObject({ 'call-many': 0, 'conversation-last': null });
  await aLog(rep, one.id);
  await rep.ok('mergeContacts', {
    body: {
      ...{ keepId: other.id, goneId: one.id, choices: {} },
      ...{
        keepVersion: other.version,
        goneVersion: (await rep.ok('getContact', { params: { id: one.id } })).version,
      },
    },
  });
  expect((await countedOf('otto'))?.['call-many']).toBe(1);
  const before = await stored();
  await work(recountEverything);
  expect(await stored()).toBe(before);
});

const work = async (act: typeof recountEverything) =>
  installation.services.database.transaction(async (tx) => act(tx as never));

test('whatever is logged, shared, edited and taken back: what is kept is what a recount finds', async () => {
  const people = [await aContact(rep), await aContact(rep), await aContact(rep)];
  const deal = await aDeal(rep, people[0]!.id);
  const outcomes = (await rep.ok('journalSettings')).outcomes.map(({ id }) => id);
  expect(outcomes.length).toBeGreaterThan(10);
  const act = fc.record({
    who: fc.nat(2),
    also: fc.option(fc.nat(2)),
    outcomeId: fc.constantFrom(...outcomes),
    isOnDeal: fc.boolean(),
    hoursAgo: fc.nat(300),
    then: fc.constantFrom('stay', 'undo', 'edit', 'remove', 'put back'),
  });
  await fc.assert(
    fc.asyncProperty(fc.array(act, { minLength: 1, maxLength: 5 }), async (acts) => {
      for (const { who, also, outcomeId, isOnDeal, hoursAgo, then } of acts) {
        const [id, changeId] = [randomUUID(), randomUUID()];
        const ago = (hours: number) =>
          new Date(Date.parse(installation.clock.now()) - hours * 3_600_000).toISOString();
        const { status } = await rep.call('log', {
          changeId,
          body: {
            ...{ id, outcomeId, contactId: people[who]!.id, at: ago(hoursAgo) },
            ...{
              next: { kind: 'none', reason: 'x' },
              alsoContactIds: also === null ? [] : [people[also]!.id],
            },
            ...(isOnDeal && who === 0 ? { dealId: deal.id } : {}),
          },
        });
        expect(status).toBe(200);
        const params = { id };
        if (then === 'undo') await rep.ok('undoChange', { params: { id: changeId } });
        if (then === 'edit')
          await rep.ok('editEntry', {
            params,
            body: { version: 1, body: 'x', at: ago(hoursAgo + 50), minutes: 3 },
          });
        if (then === 'remove' || then === 'put back')
          await rep.ok('removeEntry', { params, body: { version: 1 } });
        if (then === 'put back') await rep.ok('restoreEntry', { params });
      }
      const before = await stored();
      await work(recountEverything);
      expect(await stored()).toBe(before);
    }),
    { numRuns: 8 },
  );
});

test('who may read only their own counts of a company only what they may read', async () => {
  const contact = await aContact(rep, { givenName: 'Hugo', familyName: 'Pike', companyName: 'Pike Clinic' });
  await aLog(rep, contact.id);
  const other = await installation.as('rep', 'Dara Quist');
  await aContact(other, { givenName: 'Ada', familyName: 'Pike', companyName: 'Pike Clinic' });
  const read = async (by: Caller) => {
    const { rows } = await by.ok('listCompanies', { query: { q: 'pike' } });
    return rows[0]?.counted?.['call-many'];
  };
  expect([await read(rep), await read(other)]).toEqual([1, 1]);
  const rights = await admin.ok('rightsSettings');
  await admin.ok('changeRightsSettings', { body: { ...rights, reading: 'own' } as never });
  expect([await read(rep), await read(other)]).toEqual([1, 0]);
  await admin.ok('changeRightsSettings', {
    body: { ...(await admin.ok('rightsSettings')), reading: rights.reading },
  });
});

test('“not contacted for 90 days” is asked with one’s own choice of what counts', async () => {
  const of = async (days: number, ...counts: string[]) => {
    const rule = {
      field: 'contacted',
      ask: 'not-within-past',
      value: days,
      ...(counts.length > 0 && { of: counts }),
    };
    const { rows } = await rep.ok('listContacts', {
      query: { filter: rules(rule, { field: 'name', ask: 'has', value: 'quinta' }) },
    });
    return rows.map(({ givenName }) => givenName);
  };
  const [tried, noted] = [
    await aContact(rep, { givenName: 'Tess', familyName: 'Quinta' }),
    await aContact(rep, { givenName: 'Noa', familyName: 'Quinta' }),
  ];
  installation.clock.set('2026-08-20T09:10:00.000Z');
  await aLog(rep, tried.id, { outcomeId: 'call-spoke' });
  installation.clock.set('2026-11-20T09:10:00.000Z');
  await aLog(rep, tried.id);
  await rep.ok('writeNote', {
    body: { id: randomUUID(), contactId: noted.id, body: 'met at a fair' } as never,
  });
  installation.clock.set('2026-11-24T09:10:00.000Z');
  expect(await of(90)).toEqual(['Noa']);
  expect(await of(90, 'conversation')).toEqual(['Noa', 'Tess']);
  expect(await of(90, 'call', 'note')).toEqual([]);
  expect(await of(3)).toEqual(['Noa', 'Tess']);
  const wrong = await rep.call('listContacts', {
    query: { filter: rules({ field: 'contacted', ask: 'within-past', value: 3, of: ['gossip'] }) },
  });
  expect(wrong.status).toBe(400);
});

test('an own check-in interval is changed in its cell, and found by it', async () => {
  const contact = await aContact(rep, { givenName: 'Ivo', familyName: 'Marsh' });
  await rep.ok('changeCell', {
    params: { id: contact.id },
    body: { version: contact.version, field: 'checkInDays', value: 14 },
  });
  const { rows } = await rep.ok('listContacts', {
    query: { filter: rules({ field: 'check-in-days', ask: 'is', value: 14 }) },
  });
  expect(rows.map(({ name }) => name)).toEqual(['Ivo Marsh']);
});
