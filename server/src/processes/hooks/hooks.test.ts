import { hookFailingDays, hookRetrySeconds, mostHooks, type HookEventName } from '@kettle/contract';
import { askForDailyWork } from '../../features';
import { fetchOutside } from '../../platform/outside/fetch-outside';
import { aHookReceiver } from '../../../testing/hook-receiver';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, aLog } from '../../../testing/people';

let outside: Awaited<ReturnType<typeof aHookReceiver>>;
let installation: Installation;
let admin: Caller;
let rep: Caller;
beforeAll(async () => {
  outside = await aHookReceiver();
  installation = await install({ fetchOutside: fetchOutside({ allowed: [outside.host] }) });
  admin = await installation.as('admin', 'Petra Lindholm');
  rep = await installation.as('rep', 'Imogen Thorne');
});
afterAll(async () => {
  await installation.close();
  await outside.close();
});
const start = '2026-11-24T09:10:00.000Z';
beforeEach(async () => {
  installation.clock.set(start);
  for (const { id } of (await admin.ok('listHooks')).hooks) await admin.ok('removeHook', { params: { id } });
  Object.assign(outside.state, { status: 204, secret: '', location: '' });
  outside.forget();
});
const later = (seconds: number) =>
  installation.clock.set(new Date(installation.clock.millis() + seconds * 1000).toISOString());

const add = async (events: HookEventName[], part: object = {}) => {
  const made = await admin.ok('addHook', {
    body: { name: 'Stock room', url: outside.url, events, ...part },
  });
  outside.state.secret = made.secret;
  return made;
};
const hookOf = async (id: string) => (await admin.ok('listHooks')).hooks.find((each) => each.id === id)!;
const calls = async (id: string) => (await admin.ok('listHookCalls', { params: { id } })).calls;

describe('what is told', () => {
  test('is what was asked for, signed, once, and says where the rest is', async () => {
    const { hook } = await add(['deal.created', 'deal.moved', 'touch.logged']);
    expect([hook.isOn, hook.failure, hook.triedAt]).toEqual([true, null, start]);
    const person = await aContact(rep);
    const deal = await aDeal(rep, person.id);
    await aLog(rep, person.id);
    await installation.work();
    expect(outside.refused).toEqual([]);
    expect(outside.types().sort()).toEqual(['deal.created', 'touch.logged']);
    const { message, id } = outside.received.find((each) => each.message.type === 'deal.created')!;
    expect(message.data).toMatchObject({
      ...{ id: deal.id, record: 'deal', href: `/api/deals/${deal.id}`, userId: rep.id },
      about: expect.arrayContaining([person.id]),
    });
    expect(id).toMatch(/^msg_[0-9a-f-]{36}$/);
    await installation.work();
    await installation.workElsewhere();
    expect(outside.received).toHaveLength(2);
    expect((await calls(hook.id)).map(({ state, status, tries }) => [state, status, tries])).toEqual([
      ['sent', 204, 1],
      ['sent', 204, 1],
    ]);
    expect((await hookOf(hook.id)).waiting).toBe(0);
  });

  test('a move says from where to where; a change says what changed, and no value of it', async () => {
    const person = await aContact(rep);
    const deal = await aDeal(rep, person.id);
    const { pipelines } = await rep.ok('listPipelines');
    const stages = pipelines.find(({ stages: all }) => all.some(({ id }) => id === deal.stageId))!.stages;
    const next = stages[stages.findIndex(({ id }) => id === deal.stageId) + 1]!;
    await add(['deal.moved', 'contact.changed']);
    await rep.ok('moveDeal', {
      params: { id: deal.id },
      body: { version: deal.version, stageId: next.id, expectedCloseOn: deal.expectedCloseOn },
    });
    await installation.work();
    expect(outside.received.map(({ message }) => [message.type, message.data.from, message.data.to])).toEqual(
      [['deal.moved', deal.stageId, next.id]],
    );
  });

  test('nothing is told of what did not happen: a refused change leaves no call', async () => {
    const { hook } = await add(['deal.created']);
    const person = await aContact(rep);
    const refused = await rep.call('createDeal', { body: { name: 'x', contactId: person.id } });
    expect(refused.status).toBe(400);
    await installation.work();
    expect(await calls(hook.id)).toEqual([]);
  });

  test('each address is told what it asked for; one that is off, nothing', async () => {
    const first = await add(['contact.created']);
    await add(['contact.created', 'deal.created'], { url: `${outside.url}/other` });
    const off = await add(['contact.created'], { url: `${outside.url}/off` });
    const { name, url, events, version } = off.hook;
    await admin.ok('changeHook', {
      params: { id: off.hook.id },
      body: { name, url, events, version, isOn: false },
    });
    outside.state.secret = first.secret;
    outside.forget();
    await aContact(rep);
    await installation.work();
    // Of the two only the first one’s secret is known here; the other one came too.
    expect(outside.received.map(({ path }) => path)).toEqual(['/told']);
    expect(outside.refused).toHaveLength(1);
    expect(await calls(off.hook.id)).toEqual([]);
  });
});

describe('an address that does not take it', () => {
  test('is told again later and later, with the same id, until it does', async () => {
    const { hook } = await add(['contact.created']);
    outside.state.status = 500;
    await aContact(rep);
    await installation.work();
    for (const seconds of hookRetrySeconds.slice(0, 3)) {
      const waits = (await calls(hook.id))[0]!;
      expect([waits.state, waits.failure]).toEqual(['waiting', 'It answered 500.']);
      expect(Date.parse(waits.nextAt!) - installation.clock.millis()).toBe(seconds * 1000);
      const before = outside.received.length;
      later(seconds - 1);
      await installation.work();
      expect(outside.received).toHaveLength(before);
      later(1);
      await installation.work();
      expect(outside.received).toHaveLength(before + 1);
    }
    expect((await hookOf(hook.id)).failingSince).toBe(start);
    outside.state.status = 200;
    later(hookRetrySeconds[3]);
    await installation.work();
    expect(new Set(outside.received.map(({ id }) => id)).size).toBe(1);
    const now = await hookOf(hook.id);
    expect([now.waiting, now.failingSince, now.failure]).toEqual([0, null, null]);
  });

  test('is given up for one event after the last try, and told again when somebody asks', async () => {
    const { hook } = await add(['contact.created']);
    outside.state.status = 400;
    await aContact(rep);
    await installation.work();
    for (const seconds of hookRetrySeconds) {
      later(seconds);
      await installation.work();
    }
    const [call] = await calls(hook.id);
    expect([call!.state, call!.tries, call!.nextAt]).toEqual(['given-up', hookRetrySeconds.length + 1, null]);
    outside.state.status = 204;
    await admin.ok('sendHookCallAgain', { params: { id: hook.id, eventId: call!.eventId } });
    await installation.work();
    expect((await calls(hook.id))[0]!.state).toBe('sent');
  });

  test('does not keep the others waiting where it answers; where nobody is there, they wait with it untried', async () => {
    const { hook } = await add(['contact.created']);
    outside.state.status = 422;
    await aContact(rep);
    await aContact(rep);
    await installation.work();
    expect((await calls(hook.id)).map(({ tries }) => tries)).toEqual([1, 1]);
    later(3600);
    outside.state.status = 503;
    await installation.work();
    expect((await calls(hook.id)).map(({ tries }) => tries).sort()).toEqual([1, 2]);
    outside.state.status = 204;
    later(3600);
    await installation.work();
    expect((await calls(hook.id)).map(({ state }) => state)).toEqual(['sent', 'sent']);
  });

  test(`is switched off after ${hookFailingDays} days, which whoever set it up is told; switched on again it gets what waits`, async () => {
    const { hook } = await add(['contact.created']);
    outside.state.status = 500;
    for (let day = 0; day <= hookFailingDays; day += 1) {
      await aContact(rep);
      await installation.work();
      if (day < hookFailingDays) later(86_400);
    }
    const off = await hookOf(hook.id);
    expect([off.isOn, off.off]).toEqual([false, 'failing']);
    const { notifications } = await admin.ok('listNotifications');
    expect(notifications[0]!.words).toBe(
      'The web hook “Stock room” is switched off: its address has failed for 5 days.',
    );
    outside.state.status = 204;
    outside.forget();
    const { name, url, events, version } = off;
    await admin.ok('changeHook', {
      params: { id: hook.id },
      body: { name, url, events, version, isOn: true },
    });
    later(86_400);
    await askForDailyWork(installation.services);
    await installation.work();
    expect(outside.received.length).toBeGreaterThan(0);
    const on = await hookOf(hook.id);
    expect([on.off, on.failingSince, on.waiting]).toEqual([null, null, 0]);
  });

  test('is switched off at once where it says that it is gone', async () => {
    const { hook } = await add(['contact.created']);
    outside.state.status = 410;
    await aContact(rep);
    await installation.work();
    const off = await hookOf(hook.id);
    expect([off.isOn, off.off]).toEqual([false, 'gone']);
  });

  test('nothing is sent on to where it leads', async () => {
    const { hook } = await add(['contact.created']);
    Object.assign(outside.state, { status: 307, location: `${outside.url}/elsewhere` });
    await aContact(rep);
    await installation.work();
    expect(outside.received.map(({ path }) => path)).toEqual(['/told']);
    expect((await calls(hook.id))[0]!.failure).toBe('It answered 307.');
  });

  test('work that was lost is asked for again', async () => {
    const { hook } = await add(['contact.created']);
    await aContact(rep);
    await installation.services.database.change("DELETE FROM job WHERE kind = 'send-hook'");
    await installation.work();
    expect((await hookOf(hook.id)).waiting).toBe(1);
    later(60);
    await askForDailyWork(installation.services);
    await installation.work();
    expect((await hookOf(hook.id)).waiting).toBe(0);
  });
});

describe('setting one up', () => {
  test.each([
    ['https://192.168.0.7/hook', 'This address lies inside a network'],
    ['https://127.0.0.1:8443/hook', 'This address lies inside a network'],
    ['https://[::1]/hook', 'This address lies inside a network'],
    ['http://203.0.113.9/hook', 'Only an address that begins with https:// is told anything.'],
    ['ftp://shop.example/', 'Only addresses that begin with https:// or http:// can be read.'],
    ['stock room', 'This is no web address. One begins with https://'],
  ])('%s is refused at the field, and nothing is written', async (url, words) => {
    const before = (await admin.ok('listHooks')).hooks.length;
    const refused = await admin.call('addHook', { body: { name: 'x', url, events: ['deal.created'] } });
    expect([refused.status, refused.body.fields[0].path]).toEqual([400, 'url']);
    expect(refused.body.fields[0].message).toContain(words);
    expect((await admin.ok('listHooks')).hooks).toHaveLength(before);
  });

  test('what does not answer yet is taken, and says so', async () => {
    outside.state.status = 503;
    const { hook } = await add(['deal.created']);
    expect([hook.failure, hook.failingSince]).toEqual(['It answered 503.', start]);
    outside.state.status = 204;
    const tried = await admin.ok('tryHook', { params: { id: hook.id } });
    expect([tried.status, tried.failure, tried.hook.failingSince]).toEqual([204, null, null]);
    expect(outside.types()).toEqual(['ping']);
  });

  test('a new secret signs beside the former one for a day, then alone', async () => {
    const made = await add(['contact.created']);
    const renewed = await admin.ok('renewHookSecret', { params: { id: made.hook.id } });
    expect(renewed.secret).not.toBe(made.secret);
    expect(renewed.hook.formerUntil).toBe('2026-11-25T09:10:00.000Z');
    for (const secret of [made.secret, renewed.secret]) {
      outside.state.secret = secret;
      await admin.ok('tryHook', { params: { id: made.hook.id } });
    }
    expect([outside.received.length, outside.refused]).toEqual([2, []]);
    later(86_400);
    outside.state.secret = made.secret;
    await admin.ok('tryHook', { params: { id: made.hook.id } });
    expect(outside.refused).toEqual(['No matching signature found']);
    expect((await hookOf(made.hook.id)).formerUntil).toBeNull();
  });

  test('the same request again makes one hook, and says the same secret', async () => {
    const changeId = '01938f6c-0000-7000-8000-0000000000aa';
    const body = { name: 'Twice', url: outside.url, events: ['deal.created'] };
    const [first, second] = [
      await admin.ok('addHook', { body, changeId }),
      await admin.ok('addHook', { body, changeId }),
    ];
    expect(second).toEqual(first);
    expect((await admin.ok('listHooks')).hooks).toHaveLength(1);
  });

  test('a removed one is told nothing and is put back by undo; a change is undone as well', async () => {
    const { hook } = await add(['contact.created']);
    const changeId = '01938f6c-0000-7000-8000-0000000000ab';
    await admin.ok('removeHook', { params: { id: hook.id }, changeId });
    await aContact(rep);
    await installation.work();
    expect(outside.received).toEqual([]);
    await admin.ok('undoChange', { params: { id: changeId } });
    expect((await hookOf(hook.id)).events).toEqual(['contact.created']);
    const { name, url, version } = await hookOf(hook.id);
    const next = '01938f6c-0000-7000-8000-0000000000ac';
    await admin.ok('changeHook', {
      params: { id: hook.id },
      body: { name: `${name} 2`, url, events: ['deal.created', 'deal.moved'], isOn: true, version },
      changeId: next,
    });
    await admin.ok('undoChange', { params: { id: next } });
    const back = await hookOf(hook.id);
    expect([back.name, back.events]).toEqual([name, ['contact.created']]);
  });

  test('two admins: each keeps what the other changed elsewhere, and is asked where both changed the same', async () => {
    const { hook } = await add(['contact.created']);
    const other = await installation.as('admin', 'Corin Vale');
    const asked = { name: hook.name, url: hook.url, isOn: true, version: hook.version };
    await other.ok('changeHook', {
      params: { id: hook.id },
      body: { ...asked, name: 'Warehouse', events: hook.events },
    });
    const merged = await admin.ok('changeHook', {
      params: { id: hook.id },
      body: { ...asked, events: ['deal.created'] },
    });
    expect([merged.name, merged.events]).toEqual(['Warehouse', ['deal.created']]);
    const refused = await admin.call('changeHook', {
      params: { id: hook.id },
      body: { ...asked, name: 'Depot', events: hook.events },
    });
    expect([refused.status, refused.body.fields[0].path]).toEqual([409, 'name']);
  });

  test('there is an end to how many', async () => {
    const one = await add(['contact.created']);
    const copy = `INSERT INTO hook (id, name, url, user_id, created_at, changed_at)
      SELECT UNHEX(REPLACE(UUID(), '-', '')), name, url, user_id, created_at, changed_at FROM hook WHERE id = UNHEX(:id)`;
    for (let n = 1; n < mostHooks; n += 1)
      await installation.services.database.change(copy, { id: one.hook.id.replaceAll('-', '') });
    const refused = await admin.call('addHook', {
      body: { name: 'x', url: outside.url, events: ['deal.created'] },
    });
    expect([refused.status, refused.body.code]).toEqual([409, 'too-many-hooks']);
    await installation.services.database.change(
      'DELETE FROM hook WHERE id NOT IN (SELECT hook_id FROM hook_secret)',
    );
  });

  test('is an admin’s alone', async () => {
    const { hook } = await add(['contact.created']);
    const manager = await installation.as('manager');
    for (const who of [rep, manager])
      for (const name of ['listHooks', 'removeHook', 'tryHook', 'listHookCalls'] as const)
        expect((await who.call(name, { params: { id: hook.id } })).status).toBe(403);
  });
});
