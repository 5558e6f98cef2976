import { randomUUID } from 'node:crypto';
import type { Contact, Deal, Task } from '@kettle/contract';
import * as fc from 'fast-check';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, aLead, aLog, changeOf, journalOf, stagesOf } from '../../../testing/people';
import { wholeState } from '../../../testing/whole-state';
import { refreshNextSteps, refreshTouchFacts } from '../touch/index';
import { idOf, type IdBytes } from '../../platform/ids';

let installation: Installation;
let rep: Caller;
let other: Caller;
let manager: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep', 'Imogen Thorne');
  other = await installation.as('rep', 'Aled Pike');
  manager = await installation.as('manager');
});
afterEach(() => installation.clock.set('2026-11-24T09:10:00.000Z'));
afterAll(() => installation.close());

const read = (deal: { id: string }) => rep.ok('getDeal', { params: { id: deal.id } });
const readContact = (id: string) => rep.ok('getContact', { params: { id } });
const undo = (id: string, by = rep) => by.call('undoChange', { params: { id } });
const undone = async (id: string, by = rep) => {
  const { status, body } = await undo(id, by);
  expect([status, body.detail]).toEqual([200, undefined]);
};
/** Makes a call under an id and returns the id, as a browser would. */
async function change(by: Caller, ...[name, call]: Parameters<Caller['call']>): Promise<string> {
  const changeId = randomUUID();
  const { status, body } = await by.call(name, { ...call, changeId });
  expect([name, status, body.detail]).toEqual([name, 200, undefined]);
  return changeId;
}
const moveTo = async (deal: Deal, stage: number) =>
  change(rep, 'moveDeal', {
    params: { id: deal.id },
    body: {
      version: deal.version,
      stageId: (await stagesOf(rep))[stage]!.id,
      expectedCloseOn: deal.expectedCloseOn,
    },
  });

describe('an undo', () => {
  test('of a stage move is no second move: a stalled deal is stalled again, and no stay is added', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    installation.clock.set('2026-12-07T09:10:00.000Z');
    const stalled = await read(deal);
    expect(stalled.stalledDays).toBeGreaterThan(0);
    const stays = () =>
      installation.services.database.rows(
        'SELECT number, entered_at, left_at FROM stage_stay WHERE deal_id = UNHEX(:id)',
        {
          id: deal.id.replaceAll('-', ''),
        },
      );
    const before = await stays();
    const id = await moveTo(stalled, 1);
    expect((await read(deal)).stalledDays).toBeLessThanOrEqual(0);
    await undone(id);
    expect({ ...(await read(deal)), version: 0 }).toEqual({ ...stalled, version: 0 });
    expect(await stays()).toEqual(before);
  });

  test('of an edited number puts back the old one', async () => {
    const contact = await aContact(rep, { phone: '+441632960123' });
    const id = await change(rep, 'changeCell', {
      params: { id: contact.id },
      body: { version: contact.version, field: 'phone', value: '01632 960199' },
    });
    expect((await readContact(contact.id)).phone).toBe('+441632960199');
    await undone(id);
    expect((await readContact(contact.id)).phone).toBe('+441632960123');
  });

  test('is undone itself: the change is there again', async () => {
    const contact = await aContact(rep, { jobTitle: 'buyer' });
    const id = await change(rep, 'changeCell', {
      params: { id: contact.id },
      body: { version: contact.version, field: 'jobTitle', value: 'owner' },
    });
    const back = await change(rep, 'undoChange', { params: { id } });
    expect((await readContact(contact.id)).jobTitle).toBe('buyer');
    await undone(back);
    expect((await readContact(contact.id)).jobTitle).toBe('owner');
    await undone(id);
    expect((await readContact(contact.id)).jobTitle).toBe('buyer');
  });

  test('stands beside later changes of other fields, and is refused by one of the same field, with who and when', async () => {
    const contact = await aContact(rep, { jobTitle: 'buyer', warmth: 'cool' });
    const id = await change(rep, 'changeCell', {
      params: { id: contact.id },
      body: { version: contact.version, field: 'jobTitle', value: 'owner' },
    });
    const set = async (field: string, value: string) =>
      manager.ok('changeCell', {
        params: { id: contact.id },
        body: { version: (await readContact(contact.id)).version, field, value },
      });
    await set('warmth', 'hot');
    await set('jobTitle', 'director');
    expect((await undo(id)).body).toMatchObject({
      code: 'cannot-undo',
      detail: 'This can no longer be undone: the contact was changed by manager 3 on 2026-11-24.',
    });
    await set('jobTitle', 'owner');
    await undone(id);
    expect(await readContact(contact.id)).toMatchObject({ jobTitle: 'buyer', warmth: 'hot' });
  });

  test('is one’s own, or a manager’s; of a record that is somebody else’s now it is refused', async () => {
    const contact = await aContact(rep, { jobTitle: 'buyer' });
    const id = await change(rep, 'changeCell', {
      params: { id: contact.id },
      body: { version: contact.version, field: 'jobTitle', value: 'owner' },
    });
    expect((await undo(id, other)).body.code).toBe('not-found');
    await rep.ok('handOver', {
      params: { id: contact.id },
      body: { version: (await readContact(contact.id)).version, ownerId: other.id },
    });
    expect((await undo(id)).body.code).toBe('not-yours');
    await undone(id, manager);
    expect((await undo(id, manager)).body.code).toBe('already-done');
  });

  test('comes too late after thirty days', async () => {
    const contact = await aContact(rep);
    const task = await change(rep, 'createTask', {
      body: { contactId: contact.id, channel: 'call', purpose: 'ask', dueOn: '2026-11-30', minutes: 5 },
    });
    const age = (sql: string) =>
      installation.services.database.change(`UPDATE change_set SET at = at ${sql} WHERE id = UNHEX(:id)`, {
        id: task.replaceAll('-', ''),
      });
    await age('- INTERVAL 30 DAY - INTERVAL 1 SECOND');
    expect((await undo(task)).body.code).toBe('undo-expired');
    await age('+ INTERVAL 1 SECOND');
    await undone(task);
  });

  test('of a new deal deletes it, and keeps what happened with its person since', async () => {
    const contact = await aContact(rep);
    const stage = (await stagesOf(rep))[0]!;
    const id = await change(rep, 'createDeal', {
      body: {
        name: 'Third softener',
        contactId: contact.id,
        stageId: stage.id,
        amountMinor: 100,
        expectedCloseOn: null,
        next: { kind: 'none', reason: 'they call' },
      },
    });
    const [deal] = (
      await rep.ok('pageDeals', { query: { contactId: contact.id, status: 'open' } })
    ).rows.filter(({ name }) => name === 'Third softener');
    await aLog(rep, contact.id, { dealId: deal!.id, body: 'a word since' });
    await undone(id);
    expect((await rep.call('getDeal', { params: { id: deal!.id } })).status).toBe(404);
    const entries = await journalOf(rep, { contactId: contact.id });
    expect(entries.map(({ body }) => body)).toContain('a word since');
    expect(entries.map(({ body }) => body)).toContain('Undone: Deal “Third softener” made');
  });

  test('is refused when something hangs on what would go', async () => {
    const contact = await aContact(rep);
    const changes = (await rep.ok('listChanges', { query: {} })).changes;
    expect(changes.length).toBeGreaterThan(0);
    const [made] = await installation.services.database.rows<{ id: IdBytes }>(
      "SELECT set_id AS id FROM change_row WHERE table_name = 'contact' AND op = 'insert' AND refs LIKE :id",
      { id: `%${contact.id.replaceAll('-', '').toUpperCase()}%` },
    );
    await aDeal(rep, contact.id);
    expect((await undo(idOf(made!.id))).body).toMatchObject({
      code: 'cannot-undo',
      detail: expect.stringContaining('the deal was changed by Imogen Thorne') as string,
    });
  });

  test('every change of a deal’s fields is said as an event, from and to', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    const stage = (await stagesOf(rep))[0]!;
    await rep.ok('changeDeal', {
      params: { id: deal.id },
      body: {
        version: deal.version,
        name: 'Renamed',
        stageId: stage.id,
        amountMinor: deal.amountMinor,
        expectedCloseOn: deal.expectedCloseOn,
        priority: 'high',
        decisionOn: '2026-12-01',
        type: 'more',
        winProbability: 0.4,
        teamIds: [other.id],
        lines: [
          {
            productId: null,
            name: 'Salt',
            quantity: 2,
            priceMinor: 500,
            discountPercent: 0,
            billing: 'once',
          },
        ],
      },
    });
    const [event] = await installation.services.database.rows<{
      data: string;
      owners: string;
      cause: string;
    }>(
      "SELECT data, owners, cause FROM event WHERE record_id = UNHEX(:id) AND topic = 'deal' AND kind = 'changed' ORDER BY at DESC, id DESC LIMIT 1",
      { id: deal.id.replaceAll('-', '') },
    );
    const { fields } = JSON.parse(event!.data) as { fields: Record<string, unknown> };
    expect(fields).toMatchObject({
      'deal.name': ['Second softener', 'Renamed'],
      'deal.priority': ['usual', 'high'],
      'deal.decision_on': [null, '2026-12-01'],
      'deal.type': ['new', 'more'],
      'deal.win_probability': [null, '0.4000'],
      'deal.amount_minor': ['980000', '1000'],
    });
    expect(Object.keys(fields)).toEqual(expect.arrayContaining(['deal_colleague+', 'deal_line+']));
    expect([event!.cause, JSON.parse(event!.owners)]).toEqual([
      'changeDeal',
      expect.arrayContaining([rep.id]),
    ]);
    const bodies = (await journalOf(rep, { dealId: deal.id })).map(({ body }) => body).join('\n');
    for (const label of ['Name', 'Priority', 'Decision', 'Type', 'Own probability', 'Team', 'Product lines'])
      expect(bodies).toContain(`${label}: `);
  });
});

test('what was changed is listed with its words, and says what was undone', async () => {
  const contact = await aContact(rep, { jobTitle: 'buyer' });
  const deal = await aDeal(rep, contact.id, { name: 'Listed softener' });
  await moveTo(deal, 1);
  const cell = await change(rep, 'changeCell', {
    params: { id: contact.id },
    body: { version: contact.version, field: 'jobTitle', value: 'owner' },
  });
  await undone(cell);
  const { changes } = await rep.ok('listChanges', { query: { limit: 50 } });
  // All of one instant, as the test's clock stands still: in any order, among those of other tests.
  const mine = changes.filter(
    ({ words }) => words.includes(contact.name) || words.includes('Listed softener'),
  );
  expect(new Set(mine.map(({ words, isUndone, canUndo }) => `${words} ${isUndone} ${canUndo}`))).toEqual(
    new Set([
      `Undone: ${contact.name}: Job title: buyer → owner false true`,
      `${contact.name}: Job title: buyer → owner true false`,
      'Listed softener: Inquiry → Survey false true',
      'Deal “Listed softener” created false true',
      `${contact.name} added false true`,
    ]),
  );
  const ofDeal = await rep.ok('listChanges', { query: { recordId: deal.id } });
  expect(ofDeal.changes.map(({ words }) => words).sort()).toEqual([
    'Deal “Listed softener” created',
    'Listed softener: Inquiry → Survey',
  ]);
});

describe('made once', () => {
  test('the same request again, also at the same moment, answers as the first did', async () => {
    const changeId = randomUUID();
    const body = { givenName: 'Twice', familyName: 'Pressed', country: 'GB' };
    const replies = await Promise.all([1, 2, 3].map(() => rep.call('createContact', { body, changeId })));
    expect(replies.map(({ status }) => status)).toEqual([200, 200, 200]);
    expect(new Set(replies.map(({ body: made }) => (made as Contact).id)).size).toBe(1);
    expect((await rep.call('createContact', { body, changeId })).body).toMatchObject({
      id: (replies[0]!.body as Contact).id,
    });
    const { rows } = await rep.ok('listContacts', { query: {} });
    expect(rows.filter(({ familyName }) => familyName === 'Pressed')).toHaveLength(1);
  });

  test('a log repeated at once is one log', async () => {
    const contact = await aContact(rep);
    const body = {
      id: randomUUID(),
      contactId: contact.id,
      outcomeId: 'call-no-answer',
      next: { kind: 'none', reason: 'enough' },
    };
    const changeId = randomUUID();
    const [one, two] = await Promise.all([1, 2].map(() => rep.call('log', { body, changeId })));
    expect([one!.status, two!.body]).toEqual([200, one!.body]);
    expect((await journalOf(rep, { contactId: contact.id, kinds: 'call' })).length).toBe(1);
  });

  test('tasks and deals too', async () => {
    const contact = await aContact(rep);
    const task = { contactId: contact.id, channel: 'call', purpose: 'ask', dueOn: '2026-11-30', minutes: 5 };
    const changeId = randomUUID();
    const made = await Promise.all([1, 2].map(() => rep.call('createTask', { body: task, changeId })));
    expect((made[0]!.body as Task).id).toBe((made[1]!.body as Task).id);
    const { tasks } = await rep.ok('listTasks', { query: { contactId: contact.id } });
    expect(tasks).toHaveLength(1);
  });

  test('the same id with something else is refused', async () => {
    const changeId = randomUUID();
    const body = { givenName: 'Other', familyName: 'Request', country: 'GB' };
    await rep.call('createContact', { body, changeId });
    const again = await rep.call('createContact', { body: { ...body, givenName: 'Else' }, changeId });
    expect([again.status, again.body.code]).toEqual([409, 'other-request']);
  });

  test('a request that was refused may be put right under its id', async () => {
    const changeId = randomUUID();
    const wrong = await rep.call('createContact', {
      body: { givenName: 'A', familyName: 'B', country: 'GB', phone: '12' },
      changeId,
    });
    expect(wrong.status).toBe(400);
    const right = await rep.call('createContact', {
      body: { givenName: 'A', familyName: 'B', country: 'GB' },
      changeId,
    });
    expect(right.status).toBe(200);
  });
});

/** What a rep does in a day, each with what it needs read first; the change's id, or null when there is nothing to do. */
const acts = {
  log: (at: World) =>
    change(rep, 'log', {
      body: {
        id: randomUUID(),
        contactId: at.contact,
        dealId: at.deal,
        outcomeId: at.pick(['call-spoke', 'call-no-answer', 'email-sent', 'email-came-in', 'meeting-held']),
        next: at.pick([
          { kind: 'none', reason: 'enough' },
          { kind: 'task', channel: 'call', purpose: 'again', dueOn: '2026-12-02', minutes: 6 },
        ]),
      },
    }),
  move: async (at: World) => {
    const deal = await read({ id: at.deal });
    return deal.status === 'open' ? moveTo(deal, at.pick([0, 1, 2])) : null;
  },
  close: async (at: World) => {
    const { version, status } = await read({ id: at.deal });
    if (status !== 'open') return null;
    const as = at.pick([
      { as: 'won', on: '2026-11-24', amountMinor: 500 },
      { as: 'lost', on: '2026-11-24', reason: 'price' },
      { as: 'parked', wakeOn: '2027-01-04', reason: 'later' },
    ]);
    return change(rep, 'closeDeal', { params: { id: at.deal }, body: { version, ...as } });
  },
  reopen: async (at: World) => {
    const { status } = await read({ id: at.deal });
    if (status === 'open') return null;
    const next = { kind: 'none', reason: 'they call' };
    return change(rep, 'reopenDeal', { params: { id: at.deal }, body: { next } });
  },
  task: async (at: World) => {
    const { tasks } = await rep.ok('listTasks', { query: { contactId: at.contact } });
    const task = tasks[0];
    if (!task) return null;
    const params = { id: task.id };
    const { version } = task;
    return at.pick([
      () => change(rep, 'finishTask', { params }),
      () => change(rep, 'dropTask', { params, body: { reason: 'no need' } }),
      () => change(rep, 'deferTask', { params, body: { version, dueOn: '2026-12-09' } }),
    ])();
  },
  contact: async (at: World) => {
    const contact = await readContact(at.contact);
    const part = at.pick([
      { jobTitle: `title ${at.turn}` },
      { phone: null },
      { tags: [`tag${at.turn}`] },
      { otherPoints: [{ kind: 'email', label: null, value: `more${at.turn}@x.example` }] },
      { doNotContact: ['text'] },
    ]);
    return change(rep, 'changeContact', { params: { id: at.contact }, body: changeOf(contact, part) });
  },
  qualify: async (at: World) => {
    const lead = await rep.ok('getLead', { params: { id: at.lead } });
    if (!['untried', 'trying', 'in-talks'].includes(lead.status)) return null;
    const stage = (await stagesOf(rep))[0]!;
    return change(rep, 'qualifyLead', {
      params: { id: at.lead },
      body: {
        version: lead.version,
        person: { kind: 'same' },
        company: { kind: 'new', name: `Pell ${at.turn}`, city: null },
        standingId: null,
        deal: {
          name: `Deal ${at.turn}`,
          stageId: stage.id,
          amountMinor: 100,
          expectedCloseOn: null,
          next: { kind: 'task', channel: 'call', purpose: 'first', dueOn: '2026-12-01', minutes: 5 },
        },
      },
    });
  },
  aside: async (at: World) => {
    const lead = await rep.ok('getLead', { params: { id: at.lead } });
    if (!['untried', 'trying', 'in-talks'].includes(lead.status)) return null;
    const body = { reason: 'later', wakeOn: '2027-02-01' };
    return change(rep, 'setLeadAside', { params: { id: at.lead }, body });
  },
  merge: async (at: World) => {
    const [keep, gone] = [await readContact(at.contact), await readContact(at.double)];
    if (gone.id === keep.id) return null;
    const body = {
      keepId: keep.id,
      keepVersion: keep.version,
      goneId: gone.id,
      goneVersion: gone.version,
      take: [],
    };
    return change(rep, 'mergeContacts', { body });
  },
} as const;

interface World {
  readonly contact: string;
  readonly double: string;
  readonly deal: string;
  readonly lead: string;
  readonly turn: number;
  pick<Of>(from: readonly Of[]): Of;
}

test('any sequence of acts and then their undo in reverse order is the identity, derived facts included', async () => {
  const act = fc.record({
    name: fc.constantFrom(...(Object.keys(acts) as (keyof typeof acts)[])),
    choice: fc.nat({ max: 60 }),
  });
  await fc.assert(
    fc.asyncProperty(fc.array(act, { minLength: 1, maxLength: 7 }), async (day) => {
      const { database } = installation.services;
      const contact = await aContact(rep);
      const double = await aContact(rep, { tags: ['double'] });
      const deal = await aDeal(rep, contact.id);
      await aLog(rep, double.id, { body: 'theirs', outcomeId: 'call-spoke' });
      const lead = await aLead(rep);
      const before = await wholeState(database);
      const done: string[] = [];
      for (const [turn, { name, choice }] of day.entries()) {
        const world: World = {
          contact: contact.id,
          double: double.id,
          deal: deal.id,
          lead: lead.id,
          turn,
          pick: (from) => from[choice % from.length]!,
        };
        const id = await acts[name](world);
        if (id !== null) done.push(id);
      }
      for (const id of done.reverse()) await undone(id);
      expect(await wholeState(database)).toEqual(before);
    }),
    { numRuns: 25 },
  );
}, 240_000);

test('derived facts equal a recount after any sequence of acts', async () => {
  const { services } = installation;
  const { database } = services;
  const before = await wholeState(database);
  await database.transaction(async (tx) => {
    const w = { ...tx, services, settings: () => services.settings.read(tx) };
    const ids = async (table: string) =>
      (await tx.rows<{ id: IdBytes }>(`SELECT id FROM ${table} ORDER BY id`)).map(({ id }) =>
        idOf<string>(id),
      );
    await refreshTouchFacts(w, await ids('contact'));
    await refreshNextSteps(tx, { contactIds: await ids('contact'), dealIds: await ids('deal') });
  });
  expect(await wholeState(database)).toEqual(before);
});
