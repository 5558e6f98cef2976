import { OutsideFailure, type FetchOutside, type OutsideReply } from '../../platform/outside/fetch-outside';

/** A calendar of a server, and what opens it. */
export interface DavLogin {
  readonly login: string;
  readonly password: string;
}

export interface DavObject {
  /** The path of it on its server. */
  readonly href: string;
  readonly etag: string;
  readonly text: string;
}

export interface DavChanges {
  /** With which the next question begins; null where the server keeps none. */
  readonly token: string | null;
  readonly changed: readonly { readonly href: string; readonly etag: string }[];
  readonly gone: readonly string[];
  /** All there is, not only what changed. */
  readonly isWhole: boolean;
}

/** What became of writing: it was written, or it is not as we knew it. */
export type DavWritten =
  { readonly kind: 'written'; readonly etag: string | null } | { readonly kind: 'other' };

const xmlHead = '<?xml version="1.0" encoding="utf-8"?>';
const spaces = 'xmlns:d="DAV:" xmlns:c="urn:ietf:params:xml:ns:caldav"';
const atOnce = 50;

/**
 * Speaks to a server of calendars (CalDAV, RFC 4791; what changed since, RFC 6578). Paths are told as the server tells them.
 * @throws OutsideFailure with a sentence for whoever has the calendar
 */
export class Dav {
  constructor(
    private readonly fetchOutside: FetchOutside,
    private readonly opens: DavLogin,
  ) {}

  /** The calendars below an address: itself, if it is one, else those of whoever signs in (RFC 6764 for where to begin). */
  async find(address: string): Promise<{ address: string; name: string }[]> {
    const here = await this.begin(address);
    const [self] = here.answers;
    if (self && isCalendar(self.props)) return [{ address: here.url, name: nameOf(self.props) }];
    const principal = hrefIn(self?.props, 'current-user-principal');
    const homeHere = hrefIn(self?.props, 'calendar-home-set');
    const home =
      homeHere ??
      (principal === null
        ? null
        : hrefIn(
            (await this.ask(new URL(principal, here.url).href, 0)).answers[0]?.props,
            'calendar-home-set',
          ));
    if (home === null) throw new OutsideFailure($localize`There is no calendar at this address.`);
    const { url, answers } = await this.ask(new URL(home, here.url).href, 1);
    const found = answers
      .filter(({ props }) => isCalendar(props) && holdsEvents(props))
      .map(({ href, props }) => ({ address: new URL(href, url).href, name: nameOf(props) }));
    if (found.length === 0) throw new OutsideFailure($localize`There is no calendar at this address.`);
    return found;
  }

  private async begin(address: string) {
    try {
      return await this.ask(address, 0);
    } catch (error) {
      const url = URL.canParse(address) ? new URL(address) : null;
      if (!(error instanceof NothingThere) || url === null) throw error;
      return await this.ask(new URL('/.well-known/caldav', url).href, 0);
    }
  }

  private async ask(url: string, depth: 0 | 1) {
    const reply = await this.send(url, {
      method: 'PROPFIND',
      depth,
      body: `<d:propfind ${spaces}><d:prop><d:resourcetype/><d:displayname/><d:current-user-principal/><c:calendar-home-set/><c:supported-calendar-component-set/></d:prop></d:propfind>`,
    });
    return { url: reply.url, answers: await answersOf(reply) };
  }

  /** What changed since; all there is without a token, or where the server no longer knows it. */
  async changes(calendar: string, token: string | null): Promise<DavChanges> {
    const reply = await this.send(calendar, {
      method: 'REPORT',
      depth: 0,
      body: `<d:sync-collection ${spaces}><d:sync-token>${escaped(token ?? '')}</d:sync-token><d:sync-level>1</d:sync-level><d:prop><d:getetag/></d:prop></d:sync-collection>`,
      mayRefuse: true,
    });
    if (reply.status === 207) {
      const { root, answers } = await multistatusOf(reply);
      const own = new URL(calendar).pathname;
      const told = answers.filter(({ href }) => href !== own);
      return {
        token: textIn(root, 'sync-token'),
        changed: told.flatMap(({ href, props }) => {
          const etag = textIn(props, 'getetag');
          return etag === null ? [] : [{ href, etag }];
        }),
        gone: told.filter(({ status }) => status === 404).map(({ href }) => href),
        isWhole: token === null,
      };
    }
    // An old token is refused by 403 (RFC 6578, 3.2); a server that has no such question by others.
    if (token !== null) return this.changes(calendar, null);
    return this.list(calendar);
  }

  private async list(calendar: string): Promise<DavChanges> {
    const reply = await this.send(calendar, {
      method: 'PROPFIND',
      depth: 1,
      body: `<d:propfind ${spaces}><d:prop><d:getetag/><d:resourcetype/></d:prop></d:propfind>`,
    });
    const changed = (await answersOf(reply)).flatMap(({ href, props }) => {
      const etag = textIn(props, 'getetag');
      return etag === null || isCollection(props) ? [] : [{ href, etag }];
    });
    return { token: null, changed, gone: [], isWhole: true };
  }

  /** Objects as they lie there; those that are gone meanwhile are left out. */
  async read(calendar: string, hrefs: readonly string[]): Promise<DavObject[]> {
    const found: DavObject[] = [];
    for (let at = 0; at < hrefs.length; at += atOnce) {
      const asked = hrefs.slice(at, at + atOnce).map((href) => `<d:href>${escaped(href)}</d:href>`);
      const reply = await this.send(calendar, {
        method: 'REPORT',
        depth: 1,
        body: `<c:calendar-multiget ${spaces}><d:prop><d:getetag/><c:calendar-data/></d:prop>${asked.join('')}</c:calendar-multiget>`,
      });
      for (const { href, props } of await answersOf(reply)) {
        const [etag, text] = [textIn(props, 'getetag'), textIn(props, 'calendar-data')];
        if (etag !== null && text !== null) found.push({ href, etag, text });
      }
    }
    return found;
  }

  /** @param etag as it was known last; null: it is not there yet */
  async write(calendar: string, href: string, text: string, etag: string | null): Promise<DavWritten> {
    const reply = await this.send(new URL(href, calendar).href, {
      method: 'PUT',
      body: text,
      headers: {
        'content-type': 'text/calendar; charset=utf-8',
        ...(etag === null ? { 'if-none-match': '*' } : { 'if-match': etag }),
      },
      mayRefuse: true,
    });
    // 409: the same is there under another name; 404: it is gone.
    if ([404, 409, 412].includes(reply.status)) return { kind: 'other' };
    assertDone(reply);
    return { kind: 'written', etag: reply.headers.etag ?? null };
  }

  /** @returns `other` when it is not as it was known last; what is gone already is written */
  async remove(calendar: string, href: string, etag: string | null): Promise<DavWritten> {
    const reply = await this.send(new URL(href, calendar).href, {
      method: 'DELETE',
      headers: etag === null ? {} : { 'if-match': etag },
      mayRefuse: true,
    });
    if (reply.status === 412) return { kind: 'other' };
    if (reply.status !== 404) assertDone(reply);
    return { kind: 'written', etag: null };
  }

  private async send(
    url: string,
    request: {
      readonly method: string;
      readonly depth?: 0 | 1;
      readonly body?: string;
      readonly headers?: Readonly<Record<string, string>>;
      readonly mayRefuse?: boolean;
    },
  ): Promise<OutsideReply> {
    const { login, password } = this.opens;
    const isXml = request.depth !== undefined;
    const reply = await this.fetchOutside(url, {
      method: request.method,
      headers: {
        authorization: `Basic ${Buffer.from(`${login}:${password}`).toString('base64')}`,
        ...(isXml ? { depth: String(request.depth), 'content-type': 'application/xml; charset=utf-8' } : {}),
        ...request.headers,
      },
      ...(request.body === undefined ? {} : { body: isXml ? xmlHead + request.body : request.body }),
    });
    if (reply.status === 401) throw new OutsideFailure($localize`The name or the password is not right.`);
    if (request.mayRefuse !== true) assertDone(reply);
    return reply;
  }
}

/** Nothing that can be asked lies at the address. */
class NothingThere extends OutsideFailure {}

function assertDone({ status }: OutsideReply): void {
  if (status >= 200 && status < 300) return;
  if (status === 403) throw new OutsideFailure($localize`The server does not let this name do that.`);
  if (status === 404 || status === 405 || status === 501)
    throw new NothingThere($localize`There is no calendar at this address.`);
  throw new OutsideFailure($localize`The server answered with an error (${status}:status:).`);
}

/** An element of XML: its elements by name, one or several of each. */
type Element = Readonly<Record<string, unknown>>;

interface Answer {
  readonly href: string;
  /** Of the whole, where it says one. */
  readonly status: number | null;
  readonly props: Element;
}

const answersOf = async (reply: OutsideReply) => (await multistatusOf(reply)).answers;

/** RFC 4918, 13: what a server says of each of several resources. Entities of its own are not expanded. */
async function multistatusOf({ text }: OutsideReply): Promise<{ root: Element; answers: Answer[] }> {
  const { XMLParser } = await import('fast-xml-parser');
  const parser = new XMLParser({
    ...{ removeNSPrefix: true, processEntities: false, parseTagValue: false },
    ...{ ignoreAttributes: false, attributeNamePrefix: '@' },
  });
  let root: Element | undefined;
  try {
    root = (parser.parse(text) as { multistatus?: Element }).multistatus;
  } catch {
    root = undefined;
  }
  if (typeof root !== 'object')
    throw new OutsideFailure($localize`What answers there is no server of calendars.`);
  const answers = many(root.response).map((response): Answer => {
    const parts = many(response.propstat);
    const good = parts.filter((part) => statusIn(part) === null || statusIn(part) === 200);
    return {
      href: pathOf(textIn(response, 'href') ?? ''),
      status: statusIn(response),
      props: Object.assign({}, ...good.map(({ prop }) => prop)) as Element,
    };
  });
  return { root, answers };
}

const pathOf = (href: string) =>
  /^https?:/i.test(href) && URL.canParse(href) ? new URL(href).pathname : href;

const many = (value: unknown): Element[] =>
  (Array.isArray(value) ? value : [value]).filter(
    (each): each is Element => typeof each === 'object' && each !== null,
  );

function textIn(element: Element | undefined, name: string): string | null {
  const value = element?.[name];
  const first: unknown = Array.isArray(value) ? value[0] : value;
  // With attributes it is an element of its own.
  const one = typeof first === 'object' && first !== null ? (first as Element)['#text'] : first;
  return typeof one === 'string' && one !== '' ? unescaped(one) : null;
}

const statusIn = (element: Element): number | null => {
  const code = /\s(\d{3})(\s|$)/.exec(textIn(element, 'status') ?? '')?.[1];
  return code === undefined ? null : Number(code);
};

const hrefIn = (props: Element | undefined, name: string): string | null =>
  textIn(many(props?.[name])[0], 'href');

const has = (props: Element, name: string, inside: string) =>
  many(props[name]).some((each) => Object.hasOwn(each, inside));
const isCalendar = (props: Element) => has(props, 'resourcetype', 'calendar');
const isCollection = (props: Element) => has(props, 'resourcetype', 'collection');
const nameOf = (props: Element) => textIn(props, 'displayname') ?? $localize`Calendar`;

/** Lists of tasks are calendars too. */
function holdsEvents(props: Element): boolean {
  const [set] = many(props['supported-calendar-component-set']);
  return set === undefined || many(set.comp).some((each) => each['@name'] === 'VEVENT');
}

const escapes: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;' };
const escaped = (text: string) => text.replace(/[&<>]/g, (letter) => escapes[letter]!);
const named: Readonly<Record<string, string>> = { amp: '&', lt: '<', gt: '>', quot: '"', apos: "'" };
const unescaped = (text: string) =>
  text.replace(
    /&(?:#(\d{1,7})|#x([0-9a-f]{1,6})|([a-z]+));/gi,
    (whole, decimal, hex, name: string | undefined) => {
      if (name !== undefined) return named[name] ?? whole;
      const code = decimal === undefined ? Number.parseInt(String(hex), 16) : Number(decimal);
      return code <= 0x10ffff ? String.fromCodePoint(code) : whole;
    },
  );
