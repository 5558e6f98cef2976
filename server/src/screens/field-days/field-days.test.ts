import type { Contact, FieldDay } from '@kettle/contract';
import { v7 } from 'uuid';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aTask } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
let admin: Caller;
beforeEach(async () => {
  installation = await install();
  admin = await installation.as('admin');
  rep = await installation.as('rep', 'Imogen Thorne');
});
afterEach(() => installation.close());

const on = '2026-11-25';
const read = (query: object = {}, who = rep): Promise<FieldDay> =>
  who.ok('fieldDay', { query: { on, ...query } });

/** A person at an address of the county. */
async function someoneAt(postcode: string | null): Promise<Contact> {
  const contact = await aContact(rep);
  const { company } = await rep.ok('getCompany', { params: { id: contact.companyId! } });
  const main = { ...company.sites[0]!, street: '3 Mill Lane', city: 'Penrow', postcode };
  await rep.ok('changeCompany', {
    params: { id: company.id },
    body: { version: company.version, sites: [main] },
  });
  return contact;
}
const visit = (contact: Contact, part: object = {}) =>
  aTask(rep, contact.id, {
    channel: 'visit',
    dueOn: on,
    minutes: 30,
    purpose: 'look at the softener',
    ...part,
  });
const home = { words: 'ZM1', latitude: 54.02, longitude: -5.31 };

describe('a day on the road', () => {
  test('has its visits at their addresses, and the order with the least driving', async () => {
    await rep.ok('changeMyStart', { body: { start: home } });
    const [far, near, between] = [await someoneAt('ZM6'), await someoneAt('ZM2'), await someoneAt('ZM5')];
    for (const contact of [far, near, between]) await visit(contact);
    await aTask(rep, near.id, { channel: 'call', dueOn: on });
    const day = await read();
    expect(day.home).toEqual(home);
    expect(day.stops).toHaveLength(3);
    expect(day.stops.find(({ contactId }) => contactId === near.id)).toMatchObject({
      companyName: near.companyName,
      minutes: 30,
      promisedAt: null,
      opens: [{ from: 540, to: 1050 }],
      address: {
        words: '3 Mill Lane, Penrow ZM2',
        known: { isByHand: false, point: { latitude: 54.09, longitude: -5.18 } },
      },
    });
    const order = day.best.map((key) => day.stops.find((stop) => stop.key === key)!.contactId);
    // Round by Penrow and Tarnside, or the other way: Tarnside lies between the others.
    expect(order[1]).toBe(far.id);
  });

  test('keeps what was promised, and knows what else is on', async () => {
    await rep.ok('planAppointment', {
      body: { title: 'Team call', startsAt: '2026-11-25T09:00:00.000Z', minutes: 30 },
    });
    const [first, second] = [await someoneAt('ZM2'), await someoneAt('ZM3')];
    await visit(first);
    await visit(second, { promisedMinute: 600 });
    const day = await read();
    expect(day.busy).toEqual([{ from: 540, to: 570, title: 'Team call' }]);
    expect(day.stops[0]).toMatchObject({
      contactId: second.id,
      promisedAt: 600,
      appointmentId: expect.any(String) as string,
    });
    expect(day.best[0]).toBe(day.stops[0]!.key);
  });

  test('whose address nobody knows is there all the same, and can be put on the map by hand, and back', async () => {
    const [unknown, none] = [await someoneAt('1012 AB'), await aContact(rep, { companyName: null })];
    await visit(unknown);
    await visit(none);
    const of = async (contact: Contact) =>
      (await read()).stops.find(({ contactId }) => contactId === contact.id)!.address;
    expect(await of(none)).toBeNull();
    expect(await of(unknown)).toMatchObject({ known: null });
    const point = { latitude: 54.1, longitude: -5.2 };
    const body = { companyId: unknown.companyId!, siteId: null, point };
    const change = v7();
    await rep.ok('locateSite', { body, changeId: change });
    expect(await of(unknown)).toMatchObject({ known: { point, isByHand: true } });
    await rep.ok('undoChange', { params: { id: change } });
    expect(await of(unknown)).toMatchObject({ known: null });
    await rep.ok('locateSite', { body });
    await rep.ok('locateSite', { body: { ...body, point: null } });
    expect(await of(unknown)).toMatchObject({ known: null });
    // Another address is at another place.
    await rep.ok('locateSite', { body });
    const { company } = await rep.ok('getCompany', { params: { id: unknown.companyId! } });
    const sites = [{ ...company.sites[0]!, postcode: 'ZM4' }];
    await rep.ok('changeCompany', { params: { id: company.id }, body: { version: company.version, sites } });
    expect(await of(unknown)).toMatchObject({ known: { isByHand: false, point: { latitude: 53.88 } } });
  });

  test('a place is between the poles', async () => {
    const { companyId } = await someoneAt(null);
    const answer = await rep.call('locateSite', {
      body: { companyId: companyId!, siteId: null, point: { latitude: 91, longitude: 0 } },
    });
    expect(answer.body.fields).toMatchObject([
      { path: 'point.latitude', message: 'must be between -90 and 90' },
    ]);
  });

  test('quiet people near the way are proposed with what leaving them costs', async () => {
    const quiet = await someoneAt('ZM7');
    await visit(await someoneAt('ZM2'), { dueOn: '2026-12-07' });
    installation.clock.set('2026-12-04T09:10:00.000Z');
    const day = await read({ on: '2026-12-07' });
    expect(day.near).toMatchObject([
      { kind: 'quiet', contactId: quiet.id, point: { latitude: 53.98 }, minutes: 45 },
    ]);
  });

  test('the day of a colleague is for whoever leads them', async () => {
    const other = await installation.as('rep', 'Dara Osei');
    expect((await other.call('fieldDay', { query: { on, owner: rep.id } })).status).toBe(403);
    const manager = await installation.as('manager');
    expect((await read({ owner: rep.id }, manager)).ownerId).toBe(rep.id);
  });
});

describe('the course is put into the calendar', () => {
  const times = (key: { id: string; version: number }, startMinute: number) => ({
    ...{ taskId: key.id, version: key.version, startMinute, travelMinutes: 25, travelAfterMinutes: 0 },
  });

  test('all visits get their times and ways in one act, with one undo', async () => {
    const tasks = [await visit(await someoneAt('ZM2')), await visit(await someoneAt('ZM3'))];
    const change = v7();
    await rep.ok('planFieldDay', {
      body: { on, visits: tasks.map((task, at) => times(task, 600 + at * 120)) },
      changeId: change,
    });
    const day = await read();
    expect(day.stops.map(({ promisedAt }) => promisedAt)).toEqual([600, 720]);
    const calendar = await rep.ok('calendar', { query: { from: on, days: 1 } });
    expect(calendar.entries).toMatchObject([{ travelMinutes: 25 }, { travelMinutes: 25 }]);
    await rep.ok('undoChange', { params: { id: change } });
    expect((await read()).stops.map(({ promisedAt }) => promisedAt)).toEqual([null, null]);
  });

  test('nothing is written when one of them was changed meanwhile', async () => {
    const [one, two] = [await visit(await someoneAt('ZM2')), await visit(await someoneAt('ZM3'))];
    await rep.ok('changeTask', { params: { id: two.id }, body: { version: two.version, minutes: 50 } });
    const answer = await rep.call('planFieldDay', {
      body: { on, visits: [times(one, 600), times(two, 700)] },
    });
    expect(answer.body.code).toBe('stale');
    expect((await read()).stops.map(({ promisedAt }) => promisedAt)).toEqual([null, null]);
  });
});

describe('how roads are', () => {
  test('is set by an admin, and holds for the ways', async () => {
    const before = await rep.ok('roadSettings');
    expect(before).toMatchObject({ factor: 1.3, kilometresAnHour: 50, parkingMinutes: 3, office: null });
    const office = { words: 'ZM1 3BD', latitude: 54.01, longitude: -5.3 };
    expect((await rep.call('changeRoadSettings', { body: { ...before, office } })).status).toBe(403);
    await admin.ok('changeRoadSettings', { body: { ...before, office, kilometresAnHour: 40 } });
    expect(await read()).toMatchObject({ office, roads: { kilometresAnHour: 40 } });
  });
});
