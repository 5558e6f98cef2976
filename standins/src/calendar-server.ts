import { createHash, randomUUID } from 'node:crypto';

/** What is asked of the calendar server, and what it answers. */
export interface CalendarRequest {
  readonly method: string;
  readonly path: string;
  readonly headers: Readonly<Record<string, string | string[] | undefined>>;
  readonly body: string;
}

export interface CalendarReply {
  readonly status: number;
  readonly headers?: Readonly<Record<string, string>>;
  readonly body?: string;
}

/** The password of every calendar that is kept in step, whatever the name. */
export const calendarPassword = 'an open diary';

interface Stored {
  text: string;
  etag: string;
  /** Which change of its calendar it came with. */
  at: number;
  isGone: boolean;
}

interface Diary {
  readonly objects: Map<string, Stored>;
  changes: number;
}

const xml = { 'Content-Type': 'application/xml; charset=utf-8' };
const calendarText = { 'Content-Type': 'text/calendar; charset=utf-8' };
const entities: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;' };
const escape = (text: string) => text.replace(/[&<>]/g, (letter) => entities[letter]!);
const etagOf = (text: string) => `"${createHash('sha256').update(text).digest('base64url').slice(0, 20)}"`;

/**
 * The calendars of the people outside: one of each to look at (iCalendar, with an ETag), and one of each that can be kept in step (CalDAV,
 * RFC 4791; what changed since, RFC 6578). As much of it as programs ask: finding, reading, writing only onto what was known, deleting.
 * Nothing outlives the process.
 */
export class CalendarServer {
  private readonly diaries = new Map<string, Diary>();

  /** @returns null for what is no address of a calendar */
  answer(request: CalendarRequest): CalendarReply | null {
    const published = /^\/calendars\/([\w-]{1,60})\.ics$/.exec(request.path)?.[1];
    if (published !== undefined) return publish(published, request);
    if (request.path === '/.well-known/caldav') return { status: 301, headers: { Location: '/dav/' } };
    if (!request.path.startsWith('/dav/')) return null;
    const login = signedIn(request);
    if (login === null) return { status: 401, headers: { 'WWW-Authenticate': 'Basic realm="calendars"' } };
    return this.inside(login, request);
  }

  /** Every diary with what lies in it, for the page. */
  list(): {
    readonly login: string;
    readonly name: string;
    readonly title: string;
    readonly start: string;
  }[] {
    return [...this.diaries].flatMap(([login, { objects }]) =>
      [...objects]
        .filter(([, { isGone }]) => !isGone)
        .map(([name, { text }]) => ({
          ...{ login, name },
          title: /^SUMMARY(?:;[^:]*)?:(.*)$/m.exec(text)?.[1]?.trim() ?? '',
          start: /^DTSTART(?:;[^:]*)?:(.*)$/m.exec(text)?.[1]?.trim() ?? '',
        })),
    );
  }

  /** Somebody at the other end moves something by hours, or deletes it. @returns false where there is no such thing */
  change(login: string, name: string, act: { readonly hours: number } | 'delete'): boolean {
    const diary = this.diaries.get(login);
    const stored = diary?.objects.get(name);
    if (diary === undefined || stored === undefined || stored.isGone) return false;
    if (act === 'delete') this.take(diary, name);
    else this.store(diary, name, later(stored.text, act.hours));
    return true;
  }

  private diaryOf(login: string): Diary {
    const known = this.diaries.get(login);
    if (known) return known;
    const made: Diary = { objects: new Map(), changes: 0 };
    this.diaries.set(login, made);
    this.store(made, 'choir.ics', choir());
    return made;
  }

  private store(diary: Diary, name: string, text: string): string {
    diary.changes += 1;
    const etag = etagOf(`${text}${diary.changes}`);
    diary.objects.set(name, { text, etag, at: diary.changes, isGone: false });
    return etag;
  }

  private take(diary: Diary, name: string): void {
    diary.changes += 1;
    diary.objects.set(name, { text: '', etag: '', at: diary.changes, isGone: true });
  }

  private inside(login: string, { method, path, headers, body }: CalendarRequest): CalendarReply {
    const home = `/dav/${encodeURIComponent(login)}/`;
    const calendar = `${home}calendar/`;
    const diary = this.diaryOf(login);
    if (path === '/dav/' || path === home || path === calendar) {
      if (method === 'REPORT' && path === calendar) return this.report(diary, calendar, body);
      if (method === 'PROPFIND')
        return this.propfind(diary, { path, home, calendar, depth: String(headers.depth ?? '0') });
      return { status: 405 };
    }
    const name = path.startsWith(calendar) ? path.slice(calendar.length) : '';
    if (name === '' || name.includes('/')) return { status: 404 };
    const stored = diary.objects.get(name);
    const there = stored?.isGone === false ? stored : null;
    const wanted = headers['if-match'];
    const isAsKnown = wanted === undefined || (there !== null && wanted === there.etag);
    if (method === 'GET' && there !== null)
      return { status: 200, headers: { ...calendarText, ETag: there.etag }, body: there.text };
    if (method === 'PUT') {
      if (!isAsKnown || (headers['if-none-match'] === '*' && there !== null)) return { status: 412 };
      return { status: there === null ? 201 : 204, headers: { ETag: this.store(diary, name, body) } };
    }
    if (method === 'DELETE' && there !== null) {
      if (!isAsKnown) return { status: 412 };
      this.take(diary, name);
      return { status: 204 };
    }
    return { status: there === null ? 404 : 405 };
  }

  private propfind(
    diary: Diary,
    { path, home, calendar, depth }: { path: string; home: string; calendar: string; depth: string },
  ): CalendarReply {
    const own = (href: string) =>
      href === calendar
        ? `<d:resourcetype><d:collection/><c:calendar/></d:resourcetype><d:displayname>Diary</d:displayname><c:supported-calendar-component-set><c:comp name="VEVENT"/></c:supported-calendar-component-set>`
        : `<d:resourcetype><d:collection/></d:resourcetype><d:current-user-principal><d:href>${home}</d:href></d:current-user-principal><c:calendar-home-set><d:href>${home}</d:href></c:calendar-home-set>`;
    const hrefs = [path, ...(depth === '1' && path === home ? [calendar] : [])];
    const objects =
      depth === '1' && path === calendar
        ? [...diary.objects]
            .filter(([, { isGone }]) => !isGone)
            .map(([name, { etag }]) => answerOf(calendar + name, `<d:getetag>${escape(etag)}</d:getetag>`))
        : [];
    return multistatus([...hrefs.map((href) => answerOf(href, own(href))), ...objects].join(''));
  }

  private report(diary: Diary, calendar: string, body: string): CalendarReply {
    if (body.includes('calendar-multiget')) {
      const names = [...body.matchAll(/<(?:\w+:)?href>([^<]*)</g)].map(([, href]) =>
        href!.slice(calendar.length),
      );
      return multistatus(
        names
          .map((name) => {
            const stored = diary.objects.get(name);
            return stored === undefined || stored.isGone
              ? goneOf(calendar + name)
              : answerOf(
                  calendar + name,
                  `<d:getetag>${escape(stored.etag)}</d:getetag><c:calendar-data>${escape(stored.text)}</c:calendar-data>`,
                );
          })
          .join(''),
      );
    }
    const token = /<(?:\w+:)?sync-token>([^<]*)</.exec(body)?.[1] ?? '';
    const since = token === '' ? 0 : Number(/^urn:change:(\d+)$/.exec(token)?.[1] ?? Number.NaN);
    if (Number.isNaN(since) || since > diary.changes)
      return { status: 403, headers: xml, body: '<d:error xmlns:d="DAV:"><d:valid-sync-token/></d:error>' };
    const changed = [...diary.objects].filter(([, { at, isGone }]) => at > since && !(isGone && since === 0));
    const answers = changed.map(([name, { etag, isGone }]) =>
      isGone ? goneOf(calendar + name) : answerOf(calendar + name, `<d:getetag>${escape(etag)}</d:getetag>`),
    );
    return multistatus(`${answers.join('')}<d:sync-token>urn:change:${diary.changes}</d:sync-token>`);
  }
}

function signedIn({ headers }: CalendarRequest): string | null {
  const given = /^Basic (.+)$/.exec(String(headers.authorization ?? ''))?.[1];
  const [login, ...rest] = Buffer.from(given ?? '', 'base64')
    .toString('utf8')
    .split(':');
  return login && rest.join(':') === calendarPassword ? login : null;
}

const multistatus = (inside: string): CalendarReply => ({
  status: 207,
  headers: xml,
  body: `<?xml version="1.0"?><d:multistatus xmlns:d="DAV:" xmlns:c="urn:ietf:params:xml:ns:caldav">${inside}</d:multistatus>`,
});
const answerOf = (href: string, props: string) =>
  `<d:response><d:href>${escape(href)}</d:href><d:propstat><d:prop>${props}</d:prop><d:status>HTTP/1.1 200 OK</d:status></d:propstat></d:response>`;
const goneOf = (href: string) =>
  `<d:response><d:href>${escape(href)}</d:href><d:status>HTTP/1.1 404 Not Found</d:status></d:response>`;

const lines = (...each: string[]) => `${each.join('\r\n')}\r\n`;

/** A week like every other: it is there whatever the day is. */
function publish(name: string, { headers }: CalendarRequest): CalendarReply {
  const event = (uid: string, ...body: string[]) => [
    'BEGIN:VEVENT',
    `UID:${uid}-${name}@outside.localhost`,
    'DTSTAMP:20260101T000000Z',
    ...body,
    'END:VEVENT',
  ];
  const body = lines(
    ...[
      'BEGIN:VCALENDAR',
      'VERSION:2.0',
      'PRODID:-//The people outside//Diary//EN',
      `X-WR-CALNAME:Diary of ${name}`,
    ],
    ...event(
      'school',
      'SUMMARY:Fetch the children',
      'LOCATION:Mill Lane school',
      'DTSTART;TZID=Europe/London:20260105T151500',
      'DTEND;TZID=Europe/London:20260105T154500',
      'RRULE:FREQ=WEEKLY;BYDAY=TU,TH',
    ),
    ...event(
      'dentist',
      'SUMMARY:Dentist',
      'DTSTART;TZID=Europe/London:20260107T083000',
      'DTEND;TZID=Europe/London:20260107T091500',
      'RRULE:FREQ=MONTHLY;BYDAY=1WE',
    ),
    ...event(
      'market',
      'SUMMARY:Market day',
      'DTSTART;VALUE=DATE:20260107',
      'DTEND;VALUE=DATE:20260108',
      'RRULE:FREQ=WEEKLY;BYDAY=WE',
      'TRANSP:TRANSPARENT',
    ),
    'END:VCALENDAR',
  );
  const etag = etagOf(body);
  if (headers['if-none-match'] === etag) return { status: 304, headers: { ETag: etag } };
  return { status: 200, headers: { ...calendarText, ETag: etag }, body };
}

const choir = () =>
  lines(
    ...[
      'BEGIN:VCALENDAR',
      'VERSION:2.0',
      'PRODID:-//The people outside//Diary//EN',
      'BEGIN:VEVENT',
      `UID:${randomUUID()}@outside.localhost`,
    ],
    ...[
      'DTSTAMP:20260101T000000Z',
      'SUMMARY:Choir',
      'DTSTART;TZID=Europe/London:20260108T163000',
      'DTEND;TZID=Europe/London:20260108T173000',
    ],
    ...['RRULE:FREQ=WEEKLY;BYDAY=TH', 'END:VEVENT', 'END:VCALENDAR'],
  );

/** Both times of an event, so many hours later. */
const later = (text: string, hours: number) =>
  text.replace(
    /^(DT(?:START|END)(?:;[^:\r\n]*)?:)(\d{4})(\d\d)(\d\d)T(\d\d)(\d\d)(\d\d)(Z?)/gm,
    (_, head: string, ...parts: string[]) => {
      const [year, month, day, hour, minute, second, zone] = parts as [
        string,
        string,
        string,
        string,
        string,
        string,
        string,
      ];
      const at = new Date(
        Date.UTC(
          Number(year),
          Number(month) - 1,
          Number(day),
          Number(hour) + hours,
          Number(minute),
          Number(second),
        ),
      );
      return `${head}${at.toISOString().slice(0, 19).replaceAll(/[-:]/g, '')}${zone}`;
    },
  );
