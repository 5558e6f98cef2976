import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { OutsideCalendarId } from '@kettle/contract';
import { fetchOutside } from '../../platform/outside/fetch-outside';
import { askForDailyWork } from '../../features';
import { install, type Caller, type Installation } from '../../../testing/installation';

/** A calendar that lies at an address, as the test says it is. */
let server: Server;
let text = '';
let status = 200;
let asked: (string | undefined)[] = [];
let host: string;
let installation: Installation;
let rep: Caller;
let other: Caller;
const event = (uid: string, from: string, to: string, ...more: string[]) => [
  ...[
    'BEGIN:VEVENT',
    `UID:${uid}`,
    `DTSTART:${from}`,
    `DTEND:${to}`,
    `SUMMARY:${uid}`,
    ...more,
    'END:VEVENT',
  ],
];
const calendarOf = (...body: string[]) =>
  ['BEGIN:VCALENDAR', 'VERSION:2.0', ...body, 'END:VCALENDAR'].join('\r\n');
const dentist = event('Dentist', '20261124T140000Z', '20261124T150000Z', 'LOCATION:Mill Lane');

beforeAll(async () => {
  server = createServer((request, response) => {
    const known = request.headers['if-none-match'];
    asked.push(known);
    const etag = `"${text.length}"`;
    if (status === 200 && known === etag) return void response.writeHead(304).end();
    response.writeHead(status, { 'Content-Type': 'text/calendar', ETag: etag }).end(text);
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  host = `127.0.0.1:${(server.address() as AddressInfo).port}`;
  installation = await install({ fetchOutside: fetchOutside({ allowed: [host] }) });
  rep = await installation.as('rep', 'Imogen Thorne');
  other = await installation.as('rep', 'Owen Marsh');
});
afterAll(async () => {
  await installation.close();
  server.closeAllConnections();
  await new Promise((resolve) => server.close(resolve));
});
beforeEach(async () => {
  installation.clock.set('2026-11-24T09:10:00.000Z');
  [text, status, asked] = [calendarOf(...dentist), 200, []];
  for (const who of [rep, other])
    for (const { id } of (await who.ok('outsideCalendars')).calendars)
      await who.ok('removeOutsideCalendar', { params: { id } });
});

const body = (part: object = {}) => ({
  kind: 'address',
  name: 'Home',
  address: `http://${host}/home.ics`,
  ...part,
});
const add = (part: object = {}, who = rep) => who.ok('addOutsideCalendar', { body: body(part) });
const day = (who = rep, whose: string = 'mine') =>
  who.ok('calendar', { query: { from: '2026-11-24', days: 1, who: whose } });
const found = async (id: OutsideCalendarId, who = rep) =>
  (await who.ok('outsideCalendars')).calendars.find((each) => each.id === id)!;

test('what lies at an address is in my calendar, my day and what is free; to others I am busy, and no more', async () => {
  const before = (await rep.ok('spine')).gaps.reduce((sum, gap) => sum + gap.minutes, 0);
  const made = await add();
  expect([made.events, made.failure, made.readAt]).toEqual([1, null, '2026-11-24T09:10:00.000Z']);
  const mine = (await day()).entries.filter(({ kind }) => kind === 'outside');
  expect(mine.map(({ title, place, startsAt, mayChange }) => [title, place, startsAt, mayChange])).toEqual([
    ['Dentist', 'Mill Lane', '2026-11-24T14:00:00.000Z', false],
  ]);
  const spine = await rep.ok('spine');
  expect(spine.blocks.map(({ title, isOutside }) => [title, isOutside])).toEqual([['Dentist', true]]);
  expect(spine.gaps.reduce((sum, gap) => sum + gap.minutes, 0)).toBe(before - 60);
  const time = { startsAt: '2026-11-24T14:30:00.000Z', minutes: 30 };
  const { warnings } = await rep.ok('appointmentWarnings', { body: time });
  expect(warnings.map(({ words }) => words)).toEqual(['At 14:00–15:00 you have “Dentist”.']);
  const theirs = (await day(other, rep.id)).entries;
  expect(theirs.map(({ kind, title, place }) => [kind, title, place])).toEqual([['busy', '', null]]);
  const told = await other.ok('appointmentWarnings', { body: { ...time, colleagueIds: [rep.id] } });
  expect(told.warnings.map(({ words }) => words)).toEqual([
    'At 14:00–15:00 Imogen Thorne has something else.',
  ]);
});

test('a Round has an hour less while the calendar takes time, and has it back when it takes none, is removed or undone', async () => {
  const free = async () => (await rep.ok('round')).header.freeMinutes;
  const before = await free();
  const made = await add();
  expect(await free()).toBe(before - 60);
  const changed = { name: 'Home', isBusy: false };
  await rep.ok('changeOutsideCalendar', { params: { id: made.id }, body: changed });
  expect(await free()).toBe(before);
  await rep.ok('changeOutsideCalendar', { params: { id: made.id }, body: { ...changed, isBusy: true } });
  const changeId = '0193a5d0-0000-7000-8000-00000000000a';
  await rep.ok('removeOutsideCalendar', { params: { id: made.id }, changeId });
  expect([await free(), (await rep.ok('outsideCalendars')).calendars]).toEqual([before, []]);
  await rep.ok('undoChange', { params: { id: changeId } });
  expect([await free(), (await found(made.id)).events]).toEqual([before - 60, 1]);
});

test('unchanged it is not read through again; changed it is, by itself, every quarter of an hour', async () => {
  const made = await add();
  asked = [];
  const minutes = async (at: string) => {
    installation.clock.set(`2026-11-24T${at}:00.000Z`);
    await askForDailyWork(installation.services);
    await installation.work();
  };
  await minutes('09:20');
  expect(asked).toEqual([]);
  await minutes('09:30');
  expect(asked).toEqual([`"${text.length}"`]);
  text = calendarOf(...dentist, ...event('Lunch', '20261124T120000Z', '20261124T123000Z'));
  await minutes('09:50');
  expect((await found(made.id)).events).toBe(2);
});

test('a failure is said with the time since, keeps what was known, and is over when it is', async () => {
  const made = await add();
  status = 500;
  installation.clock.set('2026-11-24T10:00:00.000Z');
  const failed = await rep.ok('readOutsideCalendar', { params: { id: made.id } });
  expect([failed.failure, failed.failingSince, failed.events]).toEqual([
    'The server answered with an error (500).',
    '2026-11-24T10:00:00.000Z',
    1,
  ]);
  status = 404;
  installation.clock.set('2026-11-24T11:00:00.000Z');
  const again = await rep.ok('readOutsideCalendar', { params: { id: made.id } });
  expect([again.failure, again.failingSince]).toEqual([
    'Nothing lies at this address any more.',
    '2026-11-24T10:00:00.000Z',
  ]);
  status = 200;
  const well = await rep.ok('readOutsideCalendar', { params: { id: made.id } });
  expect([well.failure, well.failingSince]).toEqual([null, null]);
});

test.each([
  ['no calendar', () => ((text = '<html>'), {}), 'What lies at this address is no calendar (iCalendar).'],
  [
    'an inside address',
    () => ({ address: 'http://127.0.0.1:9090/x.ics' }),
    'This address lies inside a network',
  ],
  ['no address', () => ({ address: 'my calendar' }), 'This is no web address. One begins with https://'],
  [
    'one that asks for a password',
    () => ((status = 401), {}),
    'Nobody may read this address without signing in.',
  ],
])('%s is not added, and the sentence stands at the address', async (_, wrong, words) => {
  const reply = await rep.call('addOutsideCalendar', { body: body(wrong()) });
  const { code, fields } = reply.body as { code: string; fields: { path: string; message: string }[] };
  expect([reply.status, code, fields]).toEqual([
    400,
    'invalid-request',
    [{ path: 'address', message: expect.stringContaining(words) }],
  ]);
  expect((await rep.ok('outsideCalendars')).calendars).toEqual([]);
});

test('the same address is not added twice', async () => {
  await add();
  const reply = await rep.call('addOutsideCalendar', { body: body({ name: 'Again' }) });
  expect((reply.body as { fields: object[] }).fields).toEqual([
    { path: 'address', message: 'is in your calendar already' },
  ]);
  await add({}, other);
});

test('whole days are notes of their day, take no time unless they say so, and are nobody else’s', async () => {
  const whole = (uid: string, ...more: string[]) => [
    'BEGIN:VEVENT',
    `UID:${uid}`,
    'DTSTART;VALUE=DATE:20261124',
    `SUMMARY:${uid}`,
    ...more,
    'END:VEVENT',
  ];
  text = calendarOf(...whole('Maud’s birthday'), ...whole('Away', 'TRANSP:OPAQUE'));
  await add();
  expect((await day()).days[0]!.notes).toEqual(['Away', 'Maud’s birthday']);
  expect((await rep.ok('spine')).gaps).toEqual([]);
  const theirs = await day(other, rep.id);
  expect([theirs.days[0]!.notes, theirs.entries.map(({ kind }) => kind)]).toEqual([[], ['busy']]);
});

test('nobody reads, changes, removes or settles another’s', async () => {
  const { id } = await add();
  expect((await other.ok('outsideCalendars')).calendars).toEqual([]);
  const appointmentId = '0193a5d0-0000-7000-8000-000000000001';
  const settled = { appointmentId, keep: 'ours' };
  for (const who of [other, await installation.as('manager'), await installation.as('admin')]) {
    expect((await who.call('readOutsideCalendar', { params: { id } })).status).toBe(404);
    expect(
      (await who.call('changeOutsideCalendar', { params: { id }, body: { name: 'x', isBusy: false } }))
        .status,
    ).toBe(404);
    expect((await who.call('removeOutsideCalendar', { params: { id } })).status).toBe(404);
    expect((await who.call('settleOutsideQuestion', { params: { id }, body: settled })).status).toBe(404);
  }
  expect((await found(id)).name).toBe('Home');
});
