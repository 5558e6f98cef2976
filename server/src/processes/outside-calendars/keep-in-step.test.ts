import fc from 'fast-check';
import type { Appointment, OutsideCalendarId } from '@kettle/contract';
import { instantOf } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import { fetchOutside, OutsideFailure, type FetchOutside } from '../../platform/outside/fetch-outside';
import { radicale, type CalendarServer } from '../../../testing/calendar-server';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact } from '../../../testing/people';
import { mergeSides, type Side } from './keep-in-step';

// Debian's radicale 3.1 is the second implementation. The stand-in's server is held to the same rules by tests of its own.
describe('kept in step with a calendar of radicale', () => {
  let there: CalendarServer;
  let installation: Installation;
  let rep: Caller;
  let address: string;
  let id: OutsideCalendarId;
  /** What a test does to the line: cut it after a request went through. */
  let afterRequest: (method: string) => void = () => undefined;

  beforeAll(async () => {
    there = await radicale(['imogen', 'owen']);
    const plain = fetchOutside({ allowed: [there.host] });
    const watched: FetchOutside = async (url, request) => {
      const reply = await plain(url, request);
      afterRequest(request?.method ?? 'GET');
      return reply;
    };
    installation = await install({ fetchOutside: watched });
    rep = await installation.as('rep', 'Imogen Thorne');
    address = await there.calendarOf('imogen');
    const asked = { kind: 'both-ways', name: 'Work', address, login: 'imogen', password: there.password };
    ({ id } = await rep.ok('addOutsideCalendar', { body: asked }));
  });
  afterAll(async () => {
    await installation.close();
    await there.close();
  });
  beforeEach(() => {
    installation.clock.set('2026-11-24T09:10:00.000Z');
    afterRequest = () => undefined;
  });

  const authorization = () => `Basic ${Buffer.from(`imogen:${there.password}`).toString('base64')}`;
  const ask = (method: string, name: string, body?: string) =>
    fetch(`${address}${name}`, {
      method,
      headers: { authorization: authorization(), 'content-type': 'text/calendar' },
      ...(body === undefined ? {} : { body }),
    });
  const textThere = async (name: string) => {
    const reply = await ask('GET', name);
    return reply.status === 200 ? await reply.text() : null;
  };
  const plan = (part: object = {}): Promise<Appointment> =>
    rep.ok('planAppointment', {
      body: { title: 'Survey', startsAt: '2026-12-03T14:00:00.000Z', minutes: 60, ...part },
    });
  /** What was changed here goes out, what was changed there comes in. */
  const meet = async () => {
    installation.clock.set(new Date(Date.parse(installation.clock.now()) + 20_000).toISOString());
    await installation.work();
    return rep.ok('readOutsideCalendar', { params: { id } });
  };
  const here = (appointment: Appointment) => rep.ok('getAppointment', { params: { id: appointment.id } });
  /** Somebody changes it in the other calendar. */
  const changeThere = async ({ id: of }: Appointment, change: (text: string) => string) => {
    const text = await textThere(`${of}.ics`);
    expect((await ask('PUT', `${of}.ics`, change(text!))).status).toBeLessThan(300);
  };
  const hourLater = (text: string) =>
    text.replaceAll(/T(\d\d)0000Z/g, (whole, hour: string) =>
      whole.startsWith('T09') ? whole : `T${Number(hour) + 1}0000Z`,
    );
  const startsThere = async ({ id: of }: Appointment) =>
    /DTSTART:(\S+)/.exec((await textThere(`${of}.ics`)) ?? '')?.[1] ?? null;

  test('the calendars of a server are found from its root and from itself, with a sentence where it is not so', async () => {
    const found = await rep.ok('findOutsideCalendars', {
      body: { address: there.url, login: 'imogen', password: there.password },
    });
    expect(found.calendars.map((each) => each.address)).toContain(address);
    const itself = await rep.ok('findOutsideCalendars', {
      body: { address, login: 'imogen', password: there.password },
    });
    expect(itself.calendars.map((each) => each.address)).toEqual([address]);
    const wrong = await rep.call('findOutsideCalendars', {
      body: { address: there.url, login: 'imogen', password: 'no' },
    });
    expect((wrong.body as { fields: { message: string }[] }).fields[0]!.message).toBe(
      'The name or the password is not right.',
    );
  });

  test('planned, moved and called off here, it is so there', async () => {
    const made = await plan({ place: 'Mill Lane 3' });
    await meet();
    const text = await textThere(`${made.id}.ics`);
    for (const line of ['SUMMARY:Survey', 'LOCATION:Mill Lane 3', 'DTSTART:20261203T140000Z'])
      expect(text).toContain(line);
    await rep.ok('changeAppointment', {
      params: { id: made.id },
      body: { version: 1, startsAt: '2026-12-03T15:00:00.000Z' },
    });
    await meet();
    expect(await startsThere(made)).toBe('20261203T150000Z');
    const changeId = crypto.randomUUID();
    await rep.ok('callOffAppointment', {
      params: { id: made.id },
      body: { version: 2, instead: { kind: 'none' } },
      changeId,
    });
    await meet();
    expect(await textThere(`${made.id}.ics`)).toBeNull();
    await rep.ok('undoChange', { params: { id: changeId } });
    await meet();
    expect(await startsThere(made)).toBe('20261203T150000Z');
  });

  test('moved there, it is moved here, is told, and can be undone; with the step it stands for', async () => {
    const maud = await aContact(rep);
    const made = await plan({ contactId: maud.id, startsAt: '2026-12-04T10:00:00.000Z' });
    await meet();
    await changeThere(made, hourLater);
    await meet();
    const moved = await here(made);
    expect([moved.startsAt, moved.endsAt, moved.title]).toEqual([
      '2026-12-04T11:00:00.000Z',
      '2026-12-04T12:00:00.000Z',
      'Survey',
    ]);
    const [task] = await installation.services.database.rows<{ promised_at: string }>(
      'SELECT promised_at FROM task WHERE id = :id',
      { id: bytesOf(made.taskId!) },
    );
    expect(instantOf(task!.promised_at)).toBe('2026-12-04T11:00:00.000Z');
    const { notifications } = await rep.ok('listNotifications');
    expect(notifications[0]!.words).toBe('Survey: changed in Work');
    const { changes } = await rep.ok('listChanges');
    const own = changes.find(({ words }) => words === 'Survey: changed in Work')!;
    await rep.ok('undoChange', { params: { id: own.id } });
    await meet();
    expect([(await here(made)).startsAt, await startsThere(made)]).toEqual([
      '2026-12-04T10:00:00.000Z',
      '20261204T100000Z',
    ]);
  });

  test('the place is changed here and the time there: both hold on both sides', async () => {
    const made = await plan({ startsAt: '2026-12-07T10:00:00.000Z' });
    await meet();
    await changeThere(made, hourLater);
    await rep.ok('changeAppointment', { params: { id: made.id }, body: { version: 1, place: 'Harbour 7' } });
    await meet();
    await meet();
    const now = await here(made);
    expect([now.startsAt, now.place, await startsThere(made)]).toEqual([
      '2026-12-07T11:00:00.000Z',
      'Harbour 7',
      '20261207T110000Z',
    ]);
    expect(await textThere(`${made.id}.ics`)).toContain('LOCATION:Harbour 7');
  });

  test.each(['ours', 'theirs'] as const)(
    'the time is changed on both sides: it is asked, and %s counts on both',
    async (keep) => {
      const made = await plan({ startsAt: '2026-12-08T10:00:00.000Z' });
      await meet();
      await changeThere(made, hourLater);
      await rep.ok('changeAppointment', {
        params: { id: made.id },
        body: { version: 1, startsAt: '2026-12-08T15:00:00.000Z' },
      });
      await meet();
      const { questions } = await meet();
      expect(questions).toEqual([
        expect.objectContaining({
          appointmentId: made.id,
          ours: expect.objectContaining({ startsAt: '2026-12-08T15:00:00.000Z' }),
          theirs: expect.objectContaining({ startsAt: '2026-12-08T11:00:00.000Z' }),
        }),
      ]);
      expect([(await here(made)).startsAt, await startsThere(made)]).toEqual([
        '2026-12-08T15:00:00.000Z',
        '20261208T110000Z',
      ]);
      const told = (await rep.ok('listNotifications')).notifications.filter(({ words }) =>
        words.endsWith('Which counts?'),
      );
      const settled = await rep.ok('settleOutsideQuestion', {
        params: { id },
        body: { appointmentId: made.id, keep },
      });
      expect([settled.questions, told.length > 0]).toEqual([[], true]);
      await meet();
      const hour = keep === 'ours' ? '15' : '11';
      expect([(await here(made)).startsAt, await startsThere(made)]).toEqual([
        `2026-12-08T${hour}:00:00.000Z`,
        `20261208T${hour}0000Z`,
      ]);
      const again = await rep.call('settleOutsideQuestion', {
        params: { id },
        body: { appointmentId: made.id, keep },
      });
      expect(again.status).toBe(409);
      await rep.ok('callOffAppointment', {
        params: { id: made.id },
        body: { version: (await here(made)).version, instead: { kind: 'none' } },
      });
      await meet();
    },
  );

  test.each(['ours', 'theirs'] as const)(
    'deleted there, it is asked whether it is off; %s counts',
    async (keep) => {
      const made = await plan({ startsAt: '2026-12-09T10:00:00.000Z' });
      await meet();
      expect((await ask('DELETE', `${made.id}.ics`)).status).toBeLessThan(300);
      const { questions } = await meet();
      expect(questions.map(({ appointmentId, theirs }) => [appointmentId, theirs])).toEqual([
        [made.id, null],
      ]);
      expect((await here(made)).state).toBe('planned');
      await rep.ok('settleOutsideQuestion', { params: { id }, body: { appointmentId: made.id, keep } });
      await meet();
      expect([(await here(made)).state, (await startsThere(made)) !== null]).toEqual(
        keep === 'ours' ? ['planned', true] : ['called-off', false],
      );
    },
  );

  test('what is theirs alone takes time here, follows what they do with it, and is no appointment', async () => {
    const text = (hour: number) =>
      [
        'BEGIN:VCALENDAR',
        'VERSION:2.0',
        'PRODID:-//a//b//EN',
        'BEGIN:VEVENT',
        'UID:yoga',
        'DTSTAMP:20261101T000000Z',
        `DTSTART:20261201T${hour}0000Z`,
        `DTEND:20261201T${hour + 1}0000Z`,
        'SUMMARY:Yoga',
        'RRULE:FREQ=WEEKLY;COUNT=2',
        'END:VEVENT',
        'END:VCALENDAR',
        '',
      ].join('\r\n');
    const outside = async () =>
      (await rep.ok('calendar', { query: { from: '2026-12-01', days: 14 } })).entries
        .filter(({ kind, title }) => kind === 'outside' && title === 'Yoga')
        .map(({ startsAt }) => startsAt.slice(5, 13));
    expect((await ask('PUT', 'yoga.ics', text(12))).status).toBeLessThan(300);
    await meet();
    expect(await outside()).toEqual(['12-01T12', '12-08T12']);
    await ask('PUT', 'yoga.ics', text(17));
    await meet();
    expect(await outside()).toEqual(['12-01T17', '12-08T17']);
    await ask('DELETE', 'yoga.ics');
    await meet();
    expect(await outside()).toEqual([]);
  });

  test('the line is cut after each request in turn: it is there once, with what was said last', async () => {
    for (let cutAfter = 0; cutAfter < 6; cutAfter += 1) {
      const made = await plan({ title: `Cut ${cutAfter}`, startsAt: '2026-12-10T10:00:00.000Z' });
      let left = cutAfter;
      afterRequest = () => {
        if (left === 0) throw new OutsideFailure('the line was cut');
        left -= 1;
      };
      await meet();
      afterRequest = () => undefined;
      await rep.ok('changeAppointment', {
        params: { id: made.id },
        body: { version: 1, startsAt: '2026-12-10T12:00:00.000Z' },
      });
      await meet();
      const after = await meet();
      expect([await startsThere(made), (await here(made)).startsAt, after.failure, after.questions]).toEqual([
        '20261210T120000Z',
        '2026-12-10T12:00:00.000Z',
        null,
        [],
      ]);
    }
  });

  test('another’s calendar is theirs: what I plan is not in it', async () => {
    const owen = await installation.as('rep', 'Owen Marsh');
    const asked = {
      kind: 'both-ways',
      name: 'Owen',
      address: await there.calendarOf('owen'),
      login: 'owen',
      password: there.password,
    };
    const theirs = await owen.ok('addOutsideCalendar', { body: asked });
    const made = await plan({ title: 'Mine', startsAt: '2026-12-11T10:00:00.000Z' });
    await meet();
    await owen.ok('readOutsideCalendar', { params: { id: theirs.id } });
    const reply = await fetch(`${asked.address}${made.id}.ics`, {
      headers: { authorization: `Basic ${Buffer.from(`owen:${there.password}`).toString('base64')}` },
    });
    expect(reply.status).toBe(404);
  });

  test('the password lies sealed, and is nowhere else', async () => {
    const { database } = installation.services;
    const [row] = await database.rows<{ password: Buffer }>(
      'SELECT password FROM outside_login ORDER BY calendar_id LIMIT 1',
    );
    expect(row!.password.toString('latin1')).toMatch(/^v1\.test\./);
    const kept = await database.rows(
      "SELECT 1 FROM change_row WHERE CONCAT(COALESCE(was, ''), COALESCE(became, ''), refs) LIKE :like",
      { like: `%${there.password}%` },
    );
    expect(kept).toEqual([]);
  });
});

test('merged field by field: whoever changed one has it, and the same on both sides is never asked', () => {
  const side = fc.record({
    title: fc.constantFrom('a', 'b', 'c'),
    place: fc.constantFrom(null, 'here', 'there'),
    startsAt: fc.constantFrom('2026-12-01T10:00:00.000Z', '2026-12-01T11:00:00.000Z'),
    endsAt: fc.constant('2026-12-01T12:00:00.000Z'),
  }) as fc.Arbitrary<Side>;
  fc.assert(
    fc.property(side, side, side, (base, ours, theirs) => {
      expect(mergeSides(base, ours, base)).toEqual({ merged: ours, isAsked: false });
      expect(mergeSides(base, base, theirs)).toEqual({ merged: theirs, isAsked: false });
      expect(mergeSides(base, ours, ours)).toEqual({ merged: ours, isAsked: false });
      const [one, other] = [mergeSides(base, ours, theirs), mergeSides(base, theirs, ours)];
      expect(one.isAsked).toBe(other.isAsked);
      if (!one.isAsked) expect(one.merged).toEqual(other.merged);
    }),
  );
});
