import type { Deal, Rule, RuleFiring } from '@kettle/contract';
import { endpoints, mostRules } from '@kettle/contract';
import { askForDailyWork, makeWorker } from '../../features';
import type { Database, Transaction } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf, idOrNull } from '../../platform/ids';
import { fetchOutside } from '../../platform/outside/fetch-outside';
import { aHookReceiver } from '../../../testing/hook-receiver';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aMailServer, type MailServer } from '../../../testing/mail-server';
import { aContact, aDeal, aLead, aLog, standingNamed, stagesOf } from '../../../testing/people';
import { smtpOut } from '../mail/index';

let outside: Awaited<ReturnType<typeof aHookReceiver>>;
let mail: MailServer;
let installation: Installation;
let admin: Caller;
let manager: Caller;
let rep: Caller;
beforeAll(async () => {
  outside = await aHookReceiver();
  mail = await aMailServer();
  installation = await install({
    fetchOutside: fetchOutside({ allowed: [outside.host] }),
    mailOut: smtpOut(mail.url),
  });
  admin = await installation.as('admin', 'Petra Lindholm');
  manager = await installation.as('manager', 'Corin Vale');
  rep = await installation.as('rep', 'Imogen Thorne');
  // The clock goes on for weeks in one sitting.
  await installation.services.database.change("UPDATE session SET expires_at = '2027-06-01'");
});
afterAll(async () => {
  await installation.close();
  await mail.close();
  await outside.close();
});
beforeEach(async () => {
  installation.clock.set('2026-11-24T09:10:00.000Z');
  await installation.work();
  for (const { id } of (await admin.ok('listRules')).rules) await admin.ok('removeRule', { params: { id } });
});

const task = (part: object = {}) => ({
  ...{ kind: 'task', channel: 'call', purpose: 'How did it start?', inDays: 14, minutes: 6, ownerId: null },
  ...part,
});
const won = { kind: 'event', event: 'deal.closed', to: ['won'] };
const body = (part: object = {}) => ({
  ...{ name: 'Welcome', subject: 'deal', when: won, if: null, then: [task()], isOn: true },
  ...part,
});
const add = (part: object = {}, who = admin): Promise<Rule> => who.ok('addRule', { body: body(part) });
const firings = async ({ id }: Rule): Promise<RuleFiring[]> =>
  (await admin.ok('listFirings', { params: { id } })).firings;
const states = async (rule: Rule) => (await firings(rule)).map(({ state }) => state);
const tasksOf = async (dealId: string) => {
  const rows = await installation.services.database.rows<
    Row<'task', 'purpose' | 'due_on' | 'owner_id' | 'contact_id'>
  >(
    "SELECT purpose, due_on, owner_id, contact_id FROM task WHERE deal_id = :id AND state = 'open' ORDER BY due_on, id",
    { id: bytesOf(dealId) },
  );
  return rows.map((row) => ({
    ...{ purpose: row.purpose, dueOn: row.due_on },
    ...{ ownerId: idOrNull(row.owner_id), contactId: idOrNull(row.contact_id) },
  }));
};
const close = (deal: Deal, as: 'won' | 'lost' = 'won', who = rep) =>
  who.ok('closeDeal', {
    params: { id: deal.id },
    body: {
      ...{ as, version: deal.version, on: '2026-11-24', reason: 'price' },
    },
  });
const refusal = async (part: object, who = admin) => {
  const { status, body: reply } = await who.call('addRule', { body: body(part) });
  return [status, reply.code, reply.fields?.[0]?.path ?? null];
};

describe('what happened', () => {
  test('sets a rule off once: its task is there, with cause and effect, and is undone', async () => {
    const rule = await add();
    const person = await aContact(rep);
    const deal = await aDeal(rep, person.id);
    await close(deal);
    await installation.work();
    await installation.workElsewhere();
    const [planned, ...more] = (await tasksOf(deal.id)).filter(({ purpose }) =>
      purpose.startsWith('How did'),
    );
    expect(more).toEqual([]);
    expect(planned).toMatchObject({ ownerId: rep.id, dueOn: '2026-12-08', contactId: person.id });
    const [fired] = await firings(rule);
    expect(fired).toMatchObject({
      ...{ state: 'done', name: deal.name, recordId: deal.id, isUndone: false },
      because: 'a deal was won, lost or parked, by Imogen Thorne',
    });
    expect(fired!.words).toContain('How did it start?');
    await admin.ok('undoFiring', { params: { id: rule.id, firingId: fired!.id } });
    expect((await tasksOf(deal.id)).filter(({ purpose }) => purpose.startsWith('How did'))).toEqual([]);
    expect((await firings(rule))[0]).toMatchObject({ isUndone: true });
    await installation.work();
    expect(await states(rule)).toEqual(['done']);
    expect((await admin.ok('listRules')).rules[0]).toMatchObject({ fired: 1, notDone: 0 });
  });

  test('elsewhere than where it is waited for, or of a record its questions leave out, it sets nothing off', async () => {
    const rule = await add({
      if: { join: 'all', rules: [{ field: 'value', ask: 'more', value: 5000 }] },
    });
    const person = await aContact(rep);
    await close(await aDeal(rep, person.id), 'lost');
    await close(await aDeal(rep, person.id, { amountMinor: 100_000 }));
    await installation.work();
    expect(await firings(rule)).toEqual([]);
    await close(await aDeal(rep, person.id, { amountMinor: 900_000 }));
    await installation.work();
    expect(await states(rule)).toEqual(['done']);
  });

  test('a rule about people hears of what is logged with them, by its outcome', async () => {
    const rule = await add({
      ...{ subject: 'contact', when: { kind: 'event', event: 'touch.logged', to: ['call-no-answer'] } },
      then: [{ kind: 'tag', tag: 'Hard to reach' }],
    });
    const person = await aContact(rep);
    await aLog(rep, person.id, { outcomeId: 'call-spoke' });
    await installation.work();
    expect(await firings(rule)).toEqual([]);
    await aLog(rep, person.id, { outcomeId: 'call-no-answer' });
    await installation.work();
    expect((await rep.ok('getContact', { params: { id: person.id } })).tags).toEqual(['hard to reach']);
  });

  test('a rule that is off, or was switched on later, does not know of it', async () => {
    const rule = await add({ isOn: false });
    const deal = await aDeal(rep, (await aContact(rep)).id);
    await close(deal);
    await installation.work();
    await admin.ok('changeRule', { params: { id: rule.id }, body: { ...body(), version: rule.version } });
    await installation.work();
    expect(await firings(rule)).toEqual([]);
  });
});

describe('what it does', () => {
  test('standing, tag, field, owner, notice and cadence, each as by hand and said in the journal', async () => {
    const customer = await standingNamed(admin, 'Customer');
    const person = await aContact(rep);
    const other = await installation.as('rep', 'Owen Marsh');
    const rule = await add({
      ...{ subject: 'contact', when: { kind: 'event', event: 'touch.logged', to: [] } },
      then: [
        { kind: 'standing', standingId: customer.id },
        { kind: 'tag', tag: 'autumn' },
        { kind: 'field', field: 'warmth', value: 'hot' },
        { kind: 'notify', to: ['owner'], words: 'Look at this' },
        { kind: 'stop-cadences' },
        { kind: 'owner', ownerId: other.id },
      ],
    });
    await aLog(rep, person.id);
    await installation.work();
    expect(await states(rule)).toEqual(['done']);
    const now = await admin.ok('getContact', { params: { id: person.id } });
    expect([now.standingId, now.tags, now.warmth, now.ownerId]).toEqual([
      customer.id,
      ['autumn'],
      'hot',
      other.id,
    ]);
    const told = (await rep.ok('listNotifications')).notifications.map(({ words }) => words);
    expect(told).toContainEqual(expect.stringContaining('Look at this'));
  });

  test('a stage that asks for more refuses it: nothing of the rule is done, and its author is told why', async () => {
    const stages = await stagesOf(admin);
    const person = await aContact(rep);
    const deal = await aDeal(rep, person.id);
    const rule = await add({
      ...{ when: { kind: 'event', event: 'deal.closed', to: ['lost'] } },
      then: [
        { kind: 'tag', tag: 'half' },
        { kind: 'stage', stageId: stages[2]!.id },
      ],
    });
    await close(deal, 'lost');
    await installation.work();
    const [fired] = await firings(rule);
    expect(fired).toMatchObject({ state: 'refused', changeId: null });
    expect((await rep.ok('getContact', { params: { id: person.id } })).tags).toEqual([]);
    const told = (await admin.ok('listNotifications')).notifications.map(({ words }) => words);
    expect(told[0]).toContain('could not be carried out for');
  });

  test('a mail from a template goes to the person from their rep, and is in the journal', async () => {
    const template = await admin.ok('createTemplate', {
      body: { name: 'Thanks', channel: 'email', subject: 'Thank you', body: 'Dear {{ contact.name }}' },
    });
    const rule = await add({ then: [{ kind: 'mail', templateId: template.id, to: 'contact' }] });
    const person = await aContact(rep, { email: 'maud.rule@penrow.example' });
    await close(await aDeal(rep, person.id));
    await installation.work();
    installation.clock.set('2026-11-24T09:20:00.000Z');
    await installation.work();
    expect((await firings(rule)).map(({ state, words }) => [state, words])).toEqual([
      ['done', 'mail “Thanks” to them'],
    ]);
    expect(mail.got.filter(({ subject }) => subject === 'Thank you')).toHaveLength(1);
  });

  test('fields of deals, leads and agreements: those that ship and one’s own, and a date so many days ahead', async () => {
    const boilers = await admin.ok('createCustomField', {
      body: { subject: 'deal', name: 'Boilers', type: 'number', choices: [] },
    });
    const person = await aContact(rep);
    await add({
      when: { kind: 'event', event: 'deal.created', to: [] },
      then: [
        { kind: 'field', field: 'priority', value: 'high' },
        { kind: 'field', field: `custom:${boilers.id}`, value: 3 },
        { kind: 'field', field: 'decisionOn', value: null, inDays: 10 },
      ],
    });
    await add({
      ...{ name: 'Leads', subject: 'lead', when: { kind: 'event', event: 'lead.created', to: [] } },
      then: [{ kind: 'field', field: 'followUpOn', value: null, inDays: 3 }],
    });
    await add({
      ...{ name: 'Long talks', subject: 'agreement' },
      when: { kind: 'event', event: 'agreement.created', to: [] },
      then: [{ kind: 'field', field: 'leadDays', value: 90 }],
    });
    const { id } = await aDeal(rep, person.id, { expectedCloseOn: '2027-06-01' });
    const lead = await aLead(rep);
    const agreement = await rep.ok('createAgreement', {
      body: {
        ...{ name: 'Service', startsOn: '2026-03-01', termMonths: 12, valueMinor: 318_000 },
        ...{ noticeDays: 60, leadDays: 30, renewsItself: true, contactId: person.id },
      },
    });
    await installation.work();
    const deal = await rep.ok('getDeal', { params: { id } });
    expect([deal.priority, deal.custom[boilers.id], deal.decisionOn]).toEqual(['high', 3, '2026-12-04']);
    expect((await rep.ok('getLead', { params: { id: lead.id } })).followUpOn).toBe('2026-11-27');
    const after = await rep.ok('getAgreement', { params: { id: agreement.id } });
    expect(after.agreement.leadDays).toBe(90);
  });

  test.each([
    ['no field of theirs', { field: 'colour', value: 'red' }, 'then.0.field'],
    ['another value than it takes', { field: 'priority', value: 'rather' }, 'then.0.value'],
    ['a day for what is no date', { field: 'priority', value: null, inDays: 3 }, 'then.0.value'],
  ])('%s is refused when it is saved', async (_, setting, path) => {
    expect(await refusal({ then: [{ kind: 'field', ...setting }] })).toEqual([400, 'invalid-request', path]);
  });

  test('a mail in words of its own goes to colleagues, once to each', async () => {
    const then = [{ kind: 'write', to: ['owner', rep.id], subject: 'Well done', words: 'Ring the bell.' }];
    const rule = await add({ then });
    const deal = await aDeal(rep, (await aContact(rep)).id);
    await close(deal);
    for (let turn = 0; turn < 3; turn += 1) await installation.work();
    expect(await states(rule)).toEqual(['done']);
    const got = mail.got.filter(({ subject }) => subject === `Well done: ${deal.name}`);
    expect(got).toHaveLength(1);
    expect(got[0]!.text).toMatch(new RegExp(`^Ring the bell.[^]*/deals/${deal.id}`));
  });

  test('a web hook is told, whatever else it is told of', async () => {
    const { hook, secret } = await admin.ok('addHook', {
      body: { name: 'Stock room', url: outside.url, events: ['agreement.created'] },
    });
    outside.state.secret = secret;
    outside.forget();
    await add({ then: [{ kind: 'hook', hookId: hook.id }] });
    const deal = await aDeal(rep, (await aContact(rep)).id);
    await close(deal);
    await installation.work();
    expect(outside.received.map(({ message }) => [message.type, message.data.id])).toEqual([
      ['rule.fired', deal.id],
    ]);
  });

  test('no more on one day than it may; the next day it goes on', async () => {
    const rule = await add({ perDay: 2 });
    const person = await aContact(rep);
    for (let n = 0; n < 3; n += 1) await close(await aDeal(rep, person.id));
    await installation.work();
    expect((await states(rule)).sort()).toEqual(['done', 'done', 'over']);
    installation.clock.set('2026-11-25T09:10:00.000Z');
    await close(await aDeal(rep, person.id));
    await installation.work();
    expect((await states(rule)).filter((state) => state === 'done')).toHaveLength(3);
  });
});

describe('by the calendar', () => {
  const days = async (from: number, until: number) => {
    for (let day = from; day <= until; day += 1) {
      installation.clock.set(`2026-12-${String(day).padStart(2, '0')}T09:10:00.000Z`);
      await askForDailyWork(installation.services);
      await installation.work();
    }
  };

  test.each([
    ['catch-up', 1],
    ['skip', 0],
  ] as const)('days on which nothing ran: %s', async (missed, count) => {
    const rule = await add({ missed, when: { kind: 'date', date: 'close', days: -7 } });
    const person = await aContact(rep);
    await aDeal(rep, person.id, { expectedCloseOn: '2026-12-18' });
    await days(1, 2);
    // The eleventh was its day; the servers were off from the third to the fourteenth.
    await days(15, 16);
    expect(await firings(rule)).toHaveLength(count);
    if (count > 0) expect((await firings(rule))[0]!.because).toMatch(/its day, Fri 11 Dec/);
    await days(17, 17);
    expect(await firings(rule)).toHaveLength(count);
  });

  test('so many days before a date, on the day and once', async () => {
    const rule = await add({ when: { kind: 'date', date: 'close', days: -7 } });
    await aDeal(rep, (await aContact(rep)).id, { expectedCloseOn: '2026-12-12' });
    await days(3, 4);
    expect(await firings(rule)).toEqual([]);
    await days(5, 7);
    expect(await states(rule)).toEqual(['done']);
  });

  test('on the wake date of a parked deal, its owner is asked to ask again', async () => {
    const offer = (await admin.ok('listRules')).offers.find(({ key }) => key === 'ask-parked')!;
    const { key: _, ...shipped } = offer;
    const rule = await admin.ok('addRule', { body: { ...shipped, isOn: true } });
    const deal = await aDeal(rep, (await aContact(rep)).id);
    await rep.ok('closeDeal', {
      params: { id: deal.id },
      body: { as: 'parked', version: deal.version, reason: 'next budget year', wakeOn: '2026-12-09' },
    });
    await days(7, 8);
    expect(await firings(rule)).toEqual([]);
    await days(9, 10);
    expect(await states(rule)).toEqual(['done']);
    expect((await tasksOf(deal.id)).map(({ purpose, dueOn }) => [purpose, dueOn])).toEqual([
      ['Ask again: is it time?', '2026-12-09'],
    ]);
  });

  test('without contact for so many days, once for each silence', async () => {
    const rule = await add({
      ...{ subject: 'contact', when: { kind: 'silence', days: 5 } },
      then: [{ kind: 'tag', tag: 'quiet' }],
    });
    const person = await aContact(rep);
    await aLog(rep, person.id);
    const mine = async () => (await firings(rule)).filter(({ recordId }) => recordId === person.id);
    installation.clock.set('2026-11-28T09:10:00.000Z');
    await askForDailyWork(installation.services);
    await installation.work();
    expect(await mine()).toEqual([]);
    await days(1, 3);
    expect(await mine()).toHaveLength(1);
    await aLog(rep, person.id);
    await days(4, 9);
    expect(await mine()).toHaveLength(2);
  });

  test('so many days in a stage', async () => {
    const rule = await add({ when: { kind: 'stage', days: 8 } });
    const deal = await aDeal(rep, (await aContact(rep)).id);
    const mine = async () => (await firings(rule)).filter(({ recordId }) => recordId === deal.id);
    await days(1, 1);
    expect(await mine()).toEqual([]);
    await days(2, 4);
    expect(await mine()).toHaveLength(1);
  });
});

describe('rules that set each other off', () => {
  const tags = (name: string, tag: string, event = 'contact.changed') => ({
    ...{ name, subject: 'contact', when: { kind: 'event', event, to: [] } },
    then: [{ kind: 'tag', tag }],
  });

  test('are found before one is switched on, and named', async () => {
    expect(await refusal(tags('Round and round', 'a'))).toEqual([409, 'rules-in-a-circle', null]);
    await add({
      ...{ ...tags('First', 'a', 'contact.standing-changed') },
      then: [{ kind: 'owner', ownerId: rep.id }],
    });
    const customer = await standingNamed(admin, 'Customer');
    const second = {
      ...{
        name: 'Second',
        subject: 'contact',
        when: { kind: 'event', event: 'contact.owner-changed', to: [] },
      },
      then: [{ kind: 'standing', standingId: customer.id }],
    };
    const { body: reply } = await admin.call('addRule', { body: body(second) });
    expect([reply.code, reply.detail]).toEqual([
      'rules-in-a-circle',
      expect.stringMatching(/Second → First|First → Second/),
    ]);
    expect((await admin.call('addRule', { body: body({ ...second, isOn: false }) })).status).toBe(200);
  });

  test('are stopped when they run all the same', async () => {
    const first = await add({ ...tags('First', 'a'), isOn: false });
    const second = await add({ ...tags('Second', 'b'), isOn: false });
    await installation.services.database.change(
      'UPDATE house_rule SET is_on = 1, on_since = NOW(3) WHERE removed_at IS NULL',
    );
    const person = await aContact(rep);
    const { version } = await rep.ok('getContact', { params: { id: person.id } });
    await rep.ok('changeCell', {
      params: { id: person.id },
      body: { version, field: 'jobTitle', value: 'Head of linen' },
    });
    for (let turn = 0; turn < 12; turn += 1) await installation.work();
    const all = [...(await states(first)), ...(await states(second))];
    expect(all).toContain('stopped');
    expect(all.length).toBeLessThan(12);
    const before = all.length;
    await installation.work();
    expect((await firings(first)).length + (await firings(second)).length).toBe(before);
  });
});

describe('tried out', () => {
  const trial = (part: object = {}, who = admin) => who.ok('tryRule', { body: body(part) });

  test('it says what it would have done in the last 90 days, and does nothing', async () => {
    const person = await aContact(rep, { familyName: 'Trial' });
    const deal = await aDeal(rep, person.id, { name: 'Trial deal' });
    await close(deal);
    const asks = { join: 'all', rules: [{ field: 'name', ask: 'is', value: 'Trial deal' }] };
    const would = await trial({ if: asks });
    expect(would).toMatchObject({ count: 1, mostADay: 1, isCut: false });
    expect(would.records[0]).toMatchObject({
      recordId: deal.id,
      name: 'Trial deal',
      path: `/deals/${deal.id}`,
    });
    await installation.work();
    expect((await tasksOf(deal.id)).filter(({ purpose }) => purpose.startsWith('How did'))).toEqual([]);
  });

  test('of silences also those that a later contact ended', async () => {
    const person = await aContact(rep, { familyName: 'Silent' });
    installation.clock.set('2026-09-10T09:10:00.000Z');
    await aLog(rep, person.id);
    installation.clock.set('2026-10-20T09:10:00.000Z');
    await aLog(rep, person.id);
    installation.clock.set('2026-11-24T09:10:00.000Z');
    const would = await trial({
      ...{ subject: 'contact', when: { kind: 'silence', days: 30 } },
      if: { join: 'all', rules: [{ field: 'name', ask: 'has', value: 'Silent' }] },
      then: [{ kind: 'tag', tag: 'quiet' }],
    });
    expect(would.records.map(({ on }) => on)).toEqual(['2026-11-19', '2026-10-10']);
  });
});

describe('who writes them', () => {
  test('managers for whom they lead, admins for all; a rep none', async () => {
    expect((await rep.call('listRules')).status).toBe(403);
    expect((await rep.call('addRule', { body: body() })).status).toBe(403);
    const theirs = await add({}, admin);
    const refused = await manager.call('changeRule', {
      params: { id: theirs.id },
      body: { ...body(), version: theirs.version },
    });
    expect(refused.status).toBe(403);
    expect((await manager.ok('listRules')).rules[0]!.mayChange).toBe(false);
  });

  test('a manager’s rule reaches no further than they do, and sets off no web hook', async () => {
    const outsider = await installation.as('rep', 'Not Led');
    await installation.services.database.change(
      'UPDATE app_user SET manager_id = UNHEX(:manager) WHERE id = UNHEX(:id)',
      {
        manager: admin.id.replaceAll('-', ''),
        id: outsider.id.replaceAll('-', ''),
      },
    );
    const rule = await add({}, manager);
    await close(await aDeal(outsider, (await aContact(outsider)).id), 'won', outsider);
    await close(await aDeal(rep, (await aContact(rep)).id));
    await installation.work();
    expect(await firings(rule)).toHaveLength(1);
    const { hook } = await admin.ok('addHook', {
      body: { name: 'x', url: outside.url, events: ['deal.created'] },
    });
    expect(await refusal({ then: [{ kind: 'hook', hookId: hook.id }] }, manager)).toEqual([
      400,
      'invalid-request',
      'then.0.kind',
    ]);
  });

  test('what cannot be asked or done of a kind of record, or is not there, is refused where it stands', async () => {
    const nobody = '01938f6c-0000-7000-8000-0000000000ff';
    expect(await refusal({ subject: 'lead' })).toEqual([400, 'invalid-request', 'when.event']);
    expect(await refusal({ when: { kind: 'silence', days: 3 } })).toEqual([
      400,
      'invalid-request',
      'when.kind',
    ]);
    expect(await refusal({ when: { kind: 'date', date: 'toString', days: 3 } })).toEqual([
      400,
      'invalid-request',
      'when.date',
    ]);
    expect(await refusal({ then: [] })).toEqual([400, 'invalid-request', 'then']);
    expect(await refusal({ then: [{ kind: 'stage', stageId: nobody }] })).toEqual([
      400,
      'invalid-request',
      'then.0.stageId',
    ]);
    expect(await refusal({ then: [task({ ownerId: nobody })] })).toEqual([
      400,
      'invalid-request',
      'then.0.ownerId',
    ]);
  });

  test('a rule of somebody who has left does nothing, until an admin takes it over', async () => {
    const leaver = await installation.as('manager', 'Hal Brant');
    const rule = await add({}, leaver);
    await installation.services.database.change(
      'UPDATE app_user SET deactivated_at = NOW(3) WHERE id = :id',
      { id: bytesOf(leaver.id) },
    );
    await close(await aDeal(rep, (await aContact(rep)).id));
    await installation.work();
    expect(await firings(rule)).toEqual([]);
    expect((await admin.ok('listRules')).rules[0]!.byName).toBe('Hal Brant, who has left');
    const taken = await admin.ok('changeRule', {
      params: { id: rule.id },
      body: { ...body(), version: rule.version },
    });
    expect(taken.byName).toBe('Petra Lindholm');
    await close(await aDeal(rep, (await aContact(rep)).id));
    await installation.work();
    expect(await states(rule)).toEqual(['done']);
  });

  test('a removed one does nothing more; both are undone', async () => {
    const rule = await add();
    const changeId = '01938f6c-0000-7000-8000-0000000000ca';
    await admin.ok('removeRule', { params: { id: rule.id }, changeId });
    await close(await aDeal(rep, (await aContact(rep)).id));
    await installation.work();
    await admin.ok('undoChange', { params: { id: changeId } });
    expect((await admin.ok('listRules')).rules.map(({ id }) => id)).toEqual([rule.id]);
    expect(await firings(rule)).toEqual([]);
  });

  test('rules that ship can be written as they are', async () => {
    const { offers } = await admin.ok('listRules');
    expect(offers.map(({ key }) => key)).toEqual(
      expect.arrayContaining(['welcome', 'ask-again', 'stop-cadences', 'missed', 'renewal', 'quiet']),
    );
    for (const { key: _, ...offer } of offers) await admin.ok('addRule', { body: { ...offer, isOn: true } });
  });
});

/** A database whose transactions break after so many statements, as when the server is killed. */
function breaking(database: Database, after: number): { database: Database; broke: () => boolean } {
  let left = after;
  let isBroken = false;
  const step = () => {
    left -= 1;
    if (left >= 0) return;
    isBroken = true;
    throw new Error('killed');
  };
  const wrapped: Database = {
    ...database,
    rows: (...asked) => database.rows(...asked),
    change: (...asked) => database.change(...asked),
    transaction: (run, options) =>
      database.transaction(
        (tx) =>
          run({
            get keys() {
              return tx.keys;
            },
            rows: async (...asked: Parameters<Transaction['rows']>) => {
              step();
              return tx.rows(...asked);
            },
            change: async (...asked: Parameters<Transaction['change']>) => {
              step();
              return tx.change(...asked);
            },
            later: async (...asked: Parameters<Transaction['later']>) => {
              step();
              return tx.later(...asked);
            },
          } as Transaction),
        options,
      ),
  };
  return { database: wrapped, broke: () => isBroken };
}

test('killed at any point between cause and effect, it does its work once', async () => {
  const rule = await add({ then: [task(), { kind: 'tag', tag: 'once' }] });
  let tried = 0;
  for (let after = 0; ; after += 3) {
    installation.clock.set(new Date(Date.parse('2026-11-24T10:00:00.000Z') + after * 60_000).toISOString());
    const deal = await aDeal(rep, (await aContact(rep)).id);
    await close(deal);
    const { database, broke } = breaking(installation.services.database, after);
    const dying = makeWorker({ ...installation.services, database });
    await dying.round();
    await dying.round();
    // The server that comes after it.
    installation.clock.set(
      new Date(Date.parse('2026-11-24T10:00:00.000Z') + after * 60_000 + 40_000).toISOString(),
    );
    await installation.work();
    const mine = (await firings(rule)).filter(({ recordId }) => recordId === deal.id);
    expect([after, mine.map(({ state }) => state)]).toEqual([after, ['done']]);
    const planned = (await tasksOf(deal.id)).filter(({ purpose }) => purpose.startsWith('How did'));
    expect([after, planned.length]).toEqual([after, 1]);
    tried += 1;
    if (!broke()) break;
  }
  expect(tried).toBeGreaterThan(5);
});

test('there is an end to how many', async () => {
  const one = await add({ isOn: false });
  const copy = `INSERT INTO house_rule (id, name, subject, waits_for, does, is_on, missed, per_day, user_id, created_at, changed_at)
    SELECT UNHEX(REPLACE(UUID(), '-', '')), name, subject, waits_for, does, is_on, missed, per_day, user_id, created_at, changed_at
      FROM house_rule WHERE id = UNHEX(:id)`;
  for (let n = 1; n < mostRules; n += 1)
    await installation.services.database.change(copy, { id: one.id.replaceAll('-', '') });
  expect(await refusal({})).toEqual([409, 'too-many-rules', null]);
  await installation.services.database.change(
    'UPDATE house_rule SET removed_at = NOW(3) WHERE removed_at IS NULL',
  );
});

test('every request about rules is a manager’s', () => {
  expect(Object.keys(endpoints).filter((name) => /Rule|Firing/.test(name))).toHaveLength(7);
});
