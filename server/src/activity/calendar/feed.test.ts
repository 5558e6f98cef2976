import { parseICS, type VEvent } from 'node-ical';
import request from 'supertest';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aTask } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep', 'Imogen Thorne');
});
afterAll(() => installation.close());
beforeEach(() => installation.clock.set('2026-11-24T09:10:00.000Z'));

const make = async () => new URL((await rep.ok('makeCalendarFeed', {})).url).pathname;
const get = (path: string, etag = '') => request(installation.app).get(path).set('If-None-Match', etag);
const plan = (part: object = {}) =>
  rep.ok('planAppointment', {
    body: { title: 'Survey', startsAt: '2026-12-03T14:00:00.000Z', minutes: 60, ...part },
  });

test('appointments and open tasks, as another implementation reads them; nothing that is off, done or somebody else’s', async () => {
  const maud = await aContact(rep);
  const other = await installation.as('rep', 'Owen Marsh');
  await other.ok('planAppointment', {
    body: { title: 'Not mine', startsAt: '2026-12-03T10:00:00.000Z', minutes: 30 },
  });
  const joined = await other.ok('planAppointment', {
    body: { title: 'Together', startsAt: '2026-12-03T11:00:00.000Z', minutes: 30, colleagueIds: [rep.id] },
  });
  const made = await plan({ contactId: maud.id, place: 'Mill Lane 3' });
  const off = await plan({ title: 'Off' });
  await rep.ok('callOffAppointment', {
    params: { id: off.id },
    body: { version: 1, instead: { kind: 'none' } },
  });
  const ring = await aTask(rep, maud.id, { purpose: 'ring', dueOn: '2026-11-26' });
  const done = await aTask(rep, maud.id, { purpose: 'over' });
  await rep.ok('finishTask', { params: { id: done.id } });
  const reply = await get(await make());
  expect([reply.status, reply.get('Content-Type'), reply.get('Cache-Control')]).toEqual([
    200,
    'text/calendar; charset=utf-8',
    'private, no-cache',
  ]);
  const read = Object.values(parseICS(reply.text));
  const events = read.filter((each): each is VEvent => each?.type === 'VEVENT');
  expect(
    events.map(({ uid, summary, start, location }) => [uid, summary, start.toISOString(), location]),
  ).toEqual([
    [`${joined.id}@kettle.test`, 'Together', '2026-12-03T11:00:00.000Z', undefined],
    [`${made.id}@kettle.test`, `${maud.name}: Survey`, '2026-12-03T14:00:00.000Z', 'Mill Lane 3'],
  ]);
  expect(reply.text).toContain(`UID:task-${ring.id}@kettle.test`);
  expect(reply.text).toContain('DUE;VALUE=DATE:20261126');
  expect(reply.text).not.toContain('over');
});

test('one’s own calendar comes as a file too, without an address for it', async () => {
  const maud = await aContact(rep);
  const ring = await aTask(rep, maud.id, { purpose: 'ask about the file', dueOn: '2026-11-27' });
  const reply = await rep.call('calendarFile', {});
  expect(reply.text).toContain(`UID:task-${ring.id}@kettle.test`);
  const other = await installation.as('rep', 'Ida Marsh');
  expect((await other.call('calendarFile', {})).text).not.toContain('ask about the file');
});

test('unchanged it is not sent again; after a change it is', async () => {
  const path = await make();
  const first = await get(path);
  expect((await get(path, first.get('ETag'))).status).toBe(304);
  await plan({ title: 'One more' });
  const again = await get(path, first.get('ETag'));
  expect([again.status, again.text.includes('One more')]).toEqual([200, true]);
});

test('a new address withdraws the one before; withdrawn, wrong and of a closed account it leads nowhere', async () => {
  const [first, second] = [await make(), await make()];
  expect([(await get(first)).status, (await get(second)).status]).toEqual([404, 200]);
  expect((await rep.ok('calendarFeed')).feed).toEqual({
    createdAt: '2026-11-24T09:10:00.000Z',
    readAt: '2026-11-24T09:10:00.000Z',
  });
  await rep.ok('removeCalendarFeed', {});
  expect((await get(second)).status).toBe(404);
  expect((await rep.ok('calendarFeed')).feed).toBeNull();
  for (const path of ['/out/calendar/x.ics', '/out/calendar/', `${second.slice(0, -5)}x.ics`])
    expect((await get(path)).status).toBe(404);
  const third = await make();
  const { database } = installation.services;
  await database.change(
    "UPDATE app_user SET deactivated_at = '2026-11-24 09:00:00' WHERE name = 'Imogen Thorne'",
  );
  expect((await get(third)).status).toBe(404);
  await database.change('UPDATE app_user SET deactivated_at = NULL');
});
