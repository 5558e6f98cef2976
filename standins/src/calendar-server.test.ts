import { CalendarServer, calendarPassword } from './calendar-server';

const authorization = `Basic ${Buffer.from(`imogen:${calendarPassword}`).toString('base64')}`;
const calendar = '/dav/imogen/calendar/';
const event = (title: string) =>
  `BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTART:20261203T140000Z\r\nSUMMARY:${title}\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n`;
const syncOf = (token: string) =>
  `<d:sync-collection xmlns:d="DAV:"><d:sync-token>${token}</d:sync-token></d:sync-collection>`;

let server: CalendarServer;
beforeEach(() => {
  server = new CalendarServer();
});
const ask = (method: string, path: string, body = '', headers: Record<string, string> = {}) =>
  server.answer({ method, path, headers: { authorization, ...headers }, body })!;
const put = (title: string, headers: Record<string, string> = {}) =>
  ask('PUT', `${calendar}1.ics`, event(title), headers);
const tokenIn = (body = '') => /<d:sync-token>(.*?)</.exec(body)?.[1] ?? '';

test('whoever does not know the password is asked for it; what is no calendar’s address is not answered', () => {
  expect(server.answer({ method: 'PROPFIND', path: calendar, headers: {}, body: '' })?.status).toBe(401);
  expect(server.answer({ method: 'GET', path: '/messages', headers: {}, body: '' })).toBeNull();
});

// RFC 4918, 9.7; RFC 7232, 3.1 and 3.2.
test('it is written only onto what was known', () => {
  const first = put('one', { 'if-none-match': '*' });
  expect([first.status, put('two', { 'if-none-match': '*' }).status]).toEqual([201, 412]);
  const second = put('two', { 'if-match': first.headers!.ETag! });
  expect([second.status, put('three', { 'if-match': first.headers!.ETag! }).status]).toEqual([204, 412]);
  expect(ask('DELETE', `${calendar}1.ics`, '', { 'if-match': first.headers!.ETag! }).status).toBe(412);
  expect(ask('GET', `${calendar}1.ics`).body).toContain('SUMMARY:two');
  expect(ask('DELETE', `${calendar}1.ics`, '', { 'if-match': second.headers!.ETag! }).status).toBe(204);
  expect([
    ask('GET', `${calendar}1.ics`).status,
    put('four', { 'if-match': second.headers!.ETag! }).status,
  ]).toEqual([404, 412]);
});

// RFC 6578, 3.2 and 3.4.
test('what changed since is told: new, changed, gone; a token nobody gave is refused', () => {
  const begun = ask('REPORT', calendar, syncOf(''));
  expect([begun.status, begun.body]).toEqual([207, expect.stringContaining('choir.ics')]);
  put('one');
  const after = ask('REPORT', calendar, syncOf(tokenIn(begun.body))).body!;
  expect([after.includes('1.ics'), after.includes('choir.ics')]).toEqual([true, false]);
  ask('DELETE', `${calendar}1.ics`);
  expect(ask('REPORT', calendar, syncOf(tokenIn(after))).body).toMatch(
    /1\.ics<\/d:href><d:status>HTTP\/1\.1 404/,
  );
  expect(ask('REPORT', calendar, syncOf('urn:change:99')).status).toBe(403);
});

test('somebody at the other end moves it by an hour, or deletes it', () => {
  put('one');
  expect(server.change('imogen', '1.ics', { hours: 1 })).toBe(true);
  expect(ask('GET', `${calendar}1.ics`).body).toContain('DTSTART:20261203T150000Z');
  expect(server.list().map(({ title }) => title)).toEqual(['Choir', 'one']);
  expect([server.change('imogen', '1.ics', 'delete'), server.change('imogen', '1.ics', 'delete')]).toEqual([
    true,
    false,
  ]);
});

test('a calendar to look at says by its tag that nothing changed', () => {
  const get = (headers = {}) =>
    server.answer({ method: 'GET', path: '/calendars/dara.ics', headers, body: '' })!;
  const first = get();
  expect([first.status, first.body]).toEqual([200, expect.stringContaining('SUMMARY:Dentist')]);
  expect(get({ 'if-none-match': first.headers!.ETag }).status).toBe(304);
});
