import fc from 'fast-check';
import generator, { ICalAttendeeStatus, ICalCalendarMethod } from 'ical-generator';
import { parseICS, type VEvent } from 'node-ical';
import { readCalendar, takeAnswer, writeCalendar, type CalendarEvent, type TakenAnswer } from '.';

const zone = 'Europe/London';
const anEvent = (part: Partial<CalendarEvent> = {}): CalendarEvent => ({
  uid: 'a1@hollinbeck.example',
  sequence: 2,
  stampedAt: '2026-11-24T09:10:00.000Z',
  startsAt: '2026-12-03T14:00:00.000Z',
  endsAt: '2026-12-03T15:00:00.000Z',
  title: 'Survey',
  place: 'Mill Lane 3, Dunmere',
  description: null,
  isCancelled: false,
  organizer: { name: 'Imogen Thorne', email: 'imogen@hollinbeck.example' },
  attendees: [{ name: 'Maud Ellery', email: 'maud@penrow.example', answer: 'none' }],
  ...part,
});
const lines = (text: string) => text.split('\r\n');
const calendarOf = (...body: string[]) =>
  ['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//a//b//EN', ...body, 'END:VCALENDAR'].join('\r\n');
const eventOf = (...body: string[]) =>
  calendarOf('BEGIN:VEVENT', 'UID:x@firm.example', 'DTSTAMP:20261124T091000Z', ...body, 'END:VEVENT');
const readOne = (text: string) => readCalendar(text, zone)!.events[0]!;

describe('what is written', () => {
  test('has the lines RFC 5545, section 3.6, and RFC 5546, section 3.2.2, ask of an invitation', () => {
    const text = writeCalendar({ method: 'REQUEST', events: [anEvent()] });
    expect(lines(text)[0]).toBe('BEGIN:VCALENDAR');
    expect(lines(text)).toEqual(
      expect.arrayContaining([
        'VERSION:2.0',
        'METHOD:REQUEST',
        'UID:a1@hollinbeck.example',
        'SEQUENCE:2',
        'DTSTAMP:20261124T091000Z',
        'DTSTART:20261203T140000Z',
        'DTEND:20261203T150000Z',
        'SUMMARY:Survey',
        'LOCATION:Mill Lane 3\\, Dunmere',
        'STATUS:CONFIRMED',
        'ORGANIZER;CN=Imogen Thorne:mailto:imogen@hollinbeck.example',
        'END:VCALENDAR',
      ]),
    );
    expect(text.endsWith('END:VCALENDAR\r\n')).toBe(true);
  });

  test('no line is longer than 75 octets, and none is cut inside a character (RFC 5545, 3.1)', () => {
    const title = 'Würdigung der Kesselhaus-Begehung 🛠️ '.repeat(12);
    const text = writeCalendar({
      events: [anEvent({ title, description: 'one\ntwo; three, four \\ five' })],
    });
    for (const line of lines(text)) {
      expect(Buffer.byteLength(line)).toBeLessThanOrEqual(75);
      expect(line).not.toContain('\ufffd');
    }
    expect(readOne(text)).toMatchObject({
      title: title.trim(),
      description: 'one\ntwo; three, four \\ five',
    });
  });

  test('what must not stand in a calendar is taken out: control characters, halves of a character, quotation marks of a name', () => {
    const text = writeCalendar({
      events: [
        anEvent({
          title: 'a\u0000b\ud800c\u0007d',
          attendees: [{ name: 'Maud "the boiler"\nEllery', email: 'maud@penrow.example', answer: 'none' }],
        }),
      ],
    });
    const read = readOne(text);
    expect(read.title).toBe('abcd');
    expect(read.attendees[0]!.name).toBe('Maud ’the boiler’ Ellery');
  });

  test('another implementation reads the same: times, words, people and what they said', () => {
    const answers = ['none', 'accepted', 'declined', 'tentative'] as const;
    const word = fc.string({ unit: fc.constantFrom(...'ab ,;\\:äß🛠\n'), minLength: 1, maxLength: 90 });
    const event = fc.record({
      title: word.filter((text) => text.trim() !== ''),
      place: word.filter((text) => text.trim() !== ''),
      from: fc.integer({ min: 0, max: 500_000 }),
      minutes: fc.integer({ min: 5, max: 1440 }),
      answer: fc.constantFrom(...answers),
    });
    fc.assert(
      fc.property(event, ({ title, place, from, minutes, answer }) => {
        const startsAt = new Date(Date.UTC(2026, 0, 1) + from * 60_000).toISOString();
        const endsAt = new Date(Date.parse(startsAt) + minutes * 60_000).toISOString();
        const attendees = [{ name: 'Maud Ellery', email: 'maud@penrow.example', answer }];
        const text = writeCalendar({
          method: 'REQUEST',
          events: [anEvent({ title, place, startsAt, endsAt, attendees })],
        });
        const [read] = Object.values(parseICS(text)).filter(
          (each): each is VEvent => each?.type === 'VEVENT',
        );
        expect(read!.start.toISOString()).toBe(startsAt);
        expect(read!.end.toISOString()).toBe(endsAt);
        expect(String(read!.summary).trim()).toBe(title.trim());
        expect(String(read!.location).trim()).toBe(place.trim());
        expect(JSON.stringify(read!.attendee)).toContain(
          { none: 'NEEDS-ACTION', accepted: 'ACCEPTED', declined: 'DECLINED', tentative: 'TENTATIVE' }[
            answer
          ],
        );
        expect(readOne(text)).toMatchObject({ startsAt, endsAt, attendees: [{ answer }] });
      }),
      { numRuns: 150 },
    );
  });

  test('a task has its day or its moment (RFC 5545, 3.6.2), and a calendar its name (RFC 7986, 5.1)', () => {
    const todo = {
      uid: 't1',
      sequence: 0,
      stampedAt: '2026-11-24T09:10:00.000Z',
      title: 'Ring',
      description: null,
    };
    const text = writeCalendar({
      name: 'My work',
      events: [],
      todos: [
        { ...todo, due: { on: '2026-11-26' } },
        { ...todo, uid: 't2', due: { at: '2026-11-26T10:00:00.000Z' } },
      ],
    });
    expect(lines(text)).toEqual(
      expect.arrayContaining([
        'NAME:My work',
        'DUE;VALUE=DATE:20261126',
        'DUE:20261126T100000Z',
        'STATUS:NEEDS-ACTION',
      ]),
    );
  });
});

describe('what is read', () => {
  test('the group meeting of RFC 5546, section 4.2.1', () => {
    // The example of the RFC, from memory, with domains of our own.
    const text = [
      'BEGIN:VCALENDAR',
      'PRODID:-//Example/ExampleCalendarClient//EN',
      'METHOD:REQUEST',
      'VERSION:2.0',
      'BEGIN:VEVENT',
      'ORGANIZER:mailto:a@firm.example',
      'ATTENDEE;ROLE=CHAIR;PARTSTAT=ACCEPTED;CN=A:mailto:a@firm.example',
      'ATTENDEE;RSVP=TRUE;CUTYPE=INDIVIDUAL;CN=B:mailto:b@firm.example',
      'ATTENDEE;RSVP=TRUE;CUTYPE=ROOM;CN=Big conf room:mailto:room@firm.example',
      'DTSTAMP:19970611T190000Z',
      'DTSTART:19970701T210000Z',
      'DTEND:19970701T230000Z',
      'SUMMARY:Conference',
      'UID:calsrv.example.com-873970198738777@example.com',
      'SEQUENCE:0',
      'STATUS:CONFIRMED',
      'END:VEVENT',
      'END:VCALENDAR',
    ].join('\r\n');
    expect(readCalendar(text, zone)).toMatchObject({
      method: 'REQUEST',
      events: [
        {
          ...{
            startsAt: '1997-07-01T21:00:00.000Z',
            endsAt: '1997-07-01T23:00:00.000Z',
            title: 'Conference',
          },
          organizer: { email: 'a@firm.example' },
          attendees: [{ answer: 'accepted' }, { answer: 'none', name: 'B' }, { name: 'Big conf room' }],
        },
      ],
    });
  });

  test('the forms of a time in RFC 5545, section 3.3.5: UTC, with a zone, floating; and a whole day', () => {
    expect(readOne(eventOf('DTSTART:19980119T070000Z'))).toMatchObject({
      startsAt: '1998-01-19T07:00:00.000Z',
      isZoneGuessed: false,
    });
    // 02:00 in New York on 19 January 1998 is 07:00 UTC.
    expect(readOne(eventOf('DTSTART;TZID=America/New_York:19980119T020000'))).toMatchObject({
      startsAt: '1998-01-19T07:00:00.000Z',
      isZoneGuessed: false,
    });
    expect(readOne(eventOf('DTSTART:19980118T230000'))).toMatchObject({
      startsAt: '1998-01-18T23:00:00.000Z',
      isZoneGuessed: true,
    });
    expect(readOne(eventOf('DTSTART;VALUE=DATE:20260714'))).toMatchObject({
      startsAt: '2026-07-13T23:00:00.000Z',
      endsAt: '2026-07-14T23:00:00.000Z',
      isAllDay: true,
    });
  });

  test('a length instead of an end (3.6.1), and neither', () => {
    expect(readOne(eventOf('DTSTART:20261203T140000Z', 'DURATION:PT1H30M')).endsAt).toBe(
      '2026-12-03T15:30:00.000Z',
    );
    expect(readOne(eventOf('DTSTART:20261203T140000Z')).endsAt).toBe('2026-12-03T14:00:00.000Z');
  });

  test.each([
    [
      'a table of a zone under a name of its own',
      calendarOf(
        ...['BEGIN:VTIMEZONE', 'TZID:W. Europe Standard Time'],
        ...['BEGIN:STANDARD', 'DTSTART:16010101T030000', 'TZOFFSETFROM:+0200', 'TZOFFSETTO:+0100'],
        ...['RRULE:FREQ=YEARLY;BYDAY=-1SU;BYMONTH=10', 'END:STANDARD'],
        ...['BEGIN:DAYLIGHT', 'DTSTART:16010101T020000', 'TZOFFSETFROM:+0100', 'TZOFFSETTO:+0200'],
        ...['RRULE:FREQ=YEARLY;BYDAY=-1SU;BYMONTH=3', 'END:DAYLIGHT', 'END:VTIMEZONE'],
        ...['BEGIN:VEVENT', 'UID:z@firm.example', 'DTSTART;TZID="W. Europe Standard Time":20260703T160000'],
        ...['DTEND;TZID="W. Europe Standard Time":20260703T170000', 'END:VEVENT'],
      ),
      '2026-07-03T14:00:00.000Z',
    ],
    [
      'a zone by name with a path before it',
      eventOf('DTSTART;TZID=/zones.example/20260101_1/Europe/Lisbon:20260703T160000'),
      '2026-07-03T15:00:00.000Z',
    ],
    [
      'lines that end in LF alone',
      eventOf('DTSTART:20261203T140000Z').replaceAll('\r\n', '\n'),
      '2026-12-03T14:00:00.000Z',
    ],
    [
      'capitals, and an empty line at the end',
      `${eventOf('dtstart:20261203T140000Z')}\r\n\r\n`,
      '2026-12-03T14:00:00.000Z',
    ],
    [
      'properties nobody knows',
      eventOf(
        'X-ALT-DESC;FMTTYPE=text/html:<p>hello</p>',
        'DTSTART:20261203T140000Z',
        'CLASS:PUBLIC',
        'TRANSP:OPAQUE',
      ),
      '2026-12-03T14:00:00.000Z',
    ],
  ])('the habits of calendar programs: %s', (_, text, startsAt) => {
    expect(readOne(text)).toMatchObject({ startsAt, isZoneGuessed: false });
  });

  test('addresses in capitals and with a name in quotation marks, what was said, and a word with it', () => {
    const text = eventOf(
      'DTSTART:20261203T140000Z',
      'ATTENDEE;CN="Ellery, Maud";PARTSTAT=accepted:MAILTO:Maud@Penrow.Example',
      'COMMENT:Bring the long ladder\\, please',
    );
    expect(readOne(text)).toMatchObject({
      attendees: [{ name: 'Ellery, Maud', email: 'maud@penrow.example', answer: 'accepted' }],
      comment: 'Bring the long ladder, please',
    });
  });

  test('what another implementation writes', () => {
    const calendar = generator({ method: ICalCalendarMethod.REPLY });
    calendar
      .createEvent({
        id: 'r1@firm.example',
        start: new Date('2026-12-03T14:00:00Z'),
        end: new Date('2026-12-03T15:30:00Z'),
        summary: 'Kesselhaus, Begehung; „laut“',
        location: 'Mühlgasse 3',
        sequence: 4,
      })
      .createAttendee({
        email: 'maud@penrow.example',
        name: 'Maud Ellery',
        status: ICalAttendeeStatus.TENTATIVE,
      });
    expect(readCalendar(calendar.toString(), zone)).toMatchObject({
      method: 'REPLY',
      events: [
        {
          ...{
            uid: 'r1@firm.example',
            sequence: 4,
            title: 'Kesselhaus, Begehung; „laut“',
            place: 'Mühlgasse 3',
          },
          ...{ startsAt: '2026-12-03T14:00:00.000Z', endsAt: '2026-12-03T15:30:00.000Z' },
          attendees: [{ email: 'maud@penrow.example', answer: 'tentative' }],
        },
      ],
    });
  });

  test('what is no calendar, or too long, is said to be none; an event without a name or a time is left out', () => {
    for (const text of [
      '',
      'hello',
      'BEGIN:VCALENDAR',
      '<html></html>',
      `${eventOf()}${'x'.repeat(1_000_001)}`,
    ])
      expect(readCalendar(text, zone)).toBeNull();
    expect(
      readCalendar(calendarOf('BEGIN:VEVENT', 'DTSTART:20261203T140000Z', 'END:VEVENT'), zone)!.events,
    ).toEqual([]);
    expect(readCalendar(eventOf(), zone)!.events).toEqual([]);
  });

  test('what is written is read as it was, whatever it is', () => {
    const text = fc.string({ unit: 'binary', maxLength: 60 });
    fc.assert(
      fc.property(text, (any) => {
        expect(() => readCalendar(any, zone)).not.toThrow();
        const read = readOne(writeCalendar({ events: [anEvent({ title: `a${any}` })] }));
        expect(read.startsAt).toBe('2026-12-03T14:00:00.000Z');
      }),
      { numRuns: 300 },
    );
  });
});

describe('answers', () => {
  const answer = (part: Partial<TakenAnswer> = {}): TakenAnswer => ({
    ...{ answer: 'accepted', sequence: 0, at: '2026-11-24T10:00:00.000Z', counter: null, words: null },
    ...part,
  });

  test('the one written last holds, one to a time that was changed does not (RFC 5546, 2.1.5)', () => {
    const yes = answer();
    const no = answer({ answer: 'declined', at: '2026-11-24T11:00:00.000Z' });
    expect(takeAnswer(yes, no, 0)).toBe(no);
    expect(takeAnswer(no, yes, 0)).toBe(no);
    expect(takeAnswer(null, yes, 1)).toBeNull();
    expect(takeAnswer(no, answer({ sequence: 1 }), 1)).toMatchObject({ sequence: 1 });
  });

  test('an invitation, its changes and answers end in one state, in whatever order and however often they arrive', () => {
    const said = fc.record({
      answer: fc.constantFrom('accepted' as const, 'declined' as const, 'tentative' as const),
      sequence: fc.integer({ min: 0, max: 3 }),
      minute: fc.integer({ min: 0, max: 500 }),
    });
    const setting = fc.uniqueArray(said, {
      selector: ({ sequence, minute }) => `${sequence} ${minute}`,
      maxLength: 6,
    });
    fc.assert(
      fc.property(
        setting.chain((all) =>
          fc.tuple(fc.constant(all), fc.shuffledSubarray([...all, ...all], { minLength: 2 * all.length })),
        ),
        fc.integer({ min: 0, max: 3 }),
        ([all, shuffled], asksSince) => {
          const taken = (list: typeof all) =>
            list
              .map(({ minute, ...part }) =>
                answer({ ...part, at: new Date(Date.UTC(2026, 10, 24, 0, minute)).toISOString() }),
              )
              .reduce<TakenAnswer | null>((known, each) => takeAnswer(known, each, asksSince), null);
          expect(taken(shuffled)).toEqual(taken(all));
        },
      ),
    );
  });
});
