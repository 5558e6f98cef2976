import type { LookupAddress, LookupOptions } from 'node:dns';
import { lookup as lookUp } from 'node:dns';
import ipaddr from 'ipaddr.js';
import type { Agent, Dispatcher } from 'undici';

/** A request to an address that somebody typed. */
export interface OutsideRequest {
  readonly method?: string;
  readonly headers?: Readonly<Record<string, string>>;
  readonly body?: string;
  /** How often it may lead elsewhere; three times when left out. */
  readonly hops?: number;
  /** What is sent is for nobody on the way: by https alone. */
  readonly isSecret?: boolean;
}

export interface OutsideReply {
  readonly status: number;
  readonly headers: Readonly<Record<string, string>>;
  readonly text: string;
  /** Where it was found in the end, after redirections. */
  readonly url: string;
}

/** @throws OutsideFailure with a sentence for whoever typed the address */
export type FetchOutside = (url: string, request?: OutsideRequest) => Promise<OutsideReply>;

/** Why an address was not asked, or did not answer: a sentence people can act on. */
export class OutsideFailure extends Error {}

/** One that was not asked at all, because of what it is: no later try would help. */
export class OutsideRefusal extends OutsideFailure {}

type Look = (
  host: string,
  options: LookupOptions,
  done: (error: Error | null, found: LookupAddress[]) => void,
) => void;

export interface OutsideSetting {
  /** Inside addresses that the operator allows: `127.0.0.1:4310`, or `calendar.inside:8080`. */
  readonly allowed: readonly string[];
  /** How names are looked up; of Node.js when it is left out. */
  readonly look?: Look;
  /** Which addresses may be reached; public ones when it is left out. */
  readonly isOpen?: (address: string) => boolean;
}

const mostHops = 3;
const connectMillis = 4000;
const answerMillis = 8000;
const wholeMillis = 20_000;
const mostBytes = 5_000_000;
/** Ports on which something else than a web server listens are not asked. */
const isWebPort = (port: number) => port === 80 || port === 443 || port >= 1024;

/**
 * Whether an address can be reached from everywhere: no address of an inside network, of this machine, or one that stands for another.
 * @example isPublicAddress('192.168.0.7') // false
 */
export function isPublicAddress(text: string): boolean {
  let address: ipaddr.IPv4 | ipaddr.IPv6;
  try {
    address = ipaddr.process(text);
  } catch {
    return false;
  }
  if (address.range() !== 'unicast') return false;
  // Of the six-byte ones only those that are given out (RFC 4291, 2.4: 2000::/3).
  return address.kind() === 'ipv4' || ((address as ipaddr.IPv6).parts[0]! & 0xe000) === 0x2000;
}

/**
 * Asks addresses that people typed, and never one inside: the connection goes to the very address that was looked at, every hop of a
 * redirection is looked at again, and what is too long or too slow is given up.
 */
export function fetchOutside({ allowed, look, isOpen = isPublicAddress }: OutsideSetting): FetchOutside {
  const allowedHosts = new Set(allowed.map((each) => each.toLowerCase()));
  const agents = new Map<boolean, Promise<Agent>>();
  const agentOf = (isAllowed: boolean) => {
    const known = agents.get(isAllowed);
    if (known) return known;
    const made = import('undici').then(
      ({ Agent: Kind }) =>
        new Kind({
          connect: {
            lookup: isAllowed ? undefined : guarded(look ?? (lookUp as Look), isOpen),
            timeout: connectMillis,
          },
          headersTimeout: answerMillis,
          bodyTimeout: answerMillis,
          maxResponseSize: mostBytes,
          pipelining: 0,
        } as Agent.Options),
    );
    agents.set(isAllowed, made);
    return made;
  };

  async function hop(
    url: URL,
    request: OutsideRequest,
    signal: AbortSignal,
  ): Promise<Dispatcher.ResponseData> {
    const isAllowed = allowedHosts.has(url.host.toLowerCase());
    const isSecret = request.headers?.authorization !== undefined;
    if (request.isSecret === true && !isAllowed && url.protocol === 'http:')
      throw new OutsideRefusal($localize`Only an address that begins with https:// is told anything.`);
    assertMayAsk(url, { isAllowed, isSecret, isOpen });
    const { request: ask } = await import('undici');
    return ask(url, {
      method: (request.method ?? 'GET') as Dispatcher.HttpMethod,
      headers: { 'user-agent': 'Ash Kettle', ...request.headers },
      ...(request.body === undefined ? {} : { body: request.body }),
      dispatcher: await agentOf(isAllowed),
      signal,
    });
  }

  return async (address, request = {}) => {
    const signal = AbortSignal.timeout(wholeMillis);
    let url = addressOf(address);
    let asked = request;
    try {
      for (let hops = 0; ; hops += 1) {
        const reply = await hop(url, asked, signal);
        const next = reply.headers.location;
        if (
          reply.statusCode < 300 ||
          reply.statusCode > 399 ||
          reply.statusCode === 304 ||
          typeof next !== 'string' ||
          request.hops === 0
        )
          return {
            status: reply.statusCode,
            headers: flat(reply.headers),
            text: await reply.body.text(),
            url: url.href,
          };
        await reply.body.dump();
        if (hops === (request.hops ?? mostHops))
          throw new OutsideFailure($localize`It leads from one address to the next, and to no end.`);
        const to = new URL(next, url);
        // Whoever it leads to does not get what was meant for another.
        if (to.origin !== url.origin) asked = withoutSecrets(asked);
        url = to;
      }
    } catch (error) {
      throw failureOf(error, url);
    }
  };
}

/** @throws OutsideRefusal */
function addressOf(text: string): URL {
  // As calendars are often handed on.
  const typed = text.trim().replace(/^webcals?:/i, 'https:');
  const url = URL.canParse(typed) ? new URL(typed) : null;
  if (url === null) throw new OutsideRefusal($localize`This is no web address. One begins with https://`);
  return url;
}

function assertMayAsk(
  url: URL,
  {
    isAllowed,
    isSecret,
    isOpen,
  }: { isAllowed: boolean; isSecret: boolean; isOpen: (address: string) => boolean },
): void {
  if (!['http:', 'https:'].includes(url.protocol))
    throw new OutsideRefusal($localize`Only addresses that begin with https:// or http:// can be read.`);
  if (url.username !== '' || url.password !== '')
    throw new OutsideRefusal($localize`Leave the name and password out of the address.`);
  if (isAllowed) return;
  if (isSecret && url.protocol === 'http:')
    throw new OutsideRefusal($localize`A password is sent only to addresses that begin with https://`);
  const port = Number(url.port || (url.protocol === 'https:' ? 443 : 80));
  if (!isWebPort(port)) throw new OutsideRefusal($localize`No web server answers at port ${port}:port:.`);
  // A number asks no name server.
  const literal = url.hostname.replace(/^\[|\]$/g, '');
  if (ipaddr.isValid(literal) && !isOpen(literal)) throw inside();
}

const inside = () =>
  new OutsideRefusal(
    $localize`This address lies inside a network of one's own. Only public addresses can be read, unless whoever runs Ash Kettle allows it.`,
  );

/** One inside address among several refuses all of them. */
const guarded =
  (look: Look, isOpen: (address: string) => boolean) =>
  (
    host: string,
    options: LookupOptions,
    done: (error: Error | null, found?: LookupAddress[] | string, family?: number) => void,
  ): void => {
    look(host, { ...options, all: true, verbatim: true }, (error, found) => {
      if (error) return done(error);
      if (found.length === 0 || !found.every(({ address }) => isOpen(address))) return done(inside());
      if (options.all) return done(null, found);
      done(null, found[0]!.address, found[0]!.family);
    });
  };

function withoutSecrets(request: OutsideRequest): OutsideRequest {
  const { authorization: _, ...headers } = request.headers ?? {};
  return { ...request, headers };
}

function flat(headers: Record<string, string | string[] | undefined>): Record<string, string> {
  return Object.fromEntries(
    Object.entries(headers).flatMap(([name, value]) =>
      value === undefined ? [] : [[name.toLowerCase(), Array.isArray(value) ? value.join(', ') : value]],
    ),
  );
}

const sentences: Readonly<Record<string, (host: string) => string>> = {
  ENOTFOUND: (host) => $localize`There is no ${host}:host:. Is the address right?`,
  EAI_AGAIN: (host) => $localize`${host}:host: could not be looked up just now.`,
  ECONNREFUSED: (host) => $localize`Nothing answers at ${host}:host:.`,
  UND_ERR_CONNECT_TIMEOUT: (host) => $localize`${host}:host: did not answer in time.`,
  UND_ERR_HEADERS_TIMEOUT: (host) => $localize`${host}:host: did not answer in time.`,
  UND_ERR_BODY_TIMEOUT: (host) => $localize`${host}:host: stopped in the middle of its answer.`,
  UND_ERR_RES_EXCEEDED_MAX_SIZE: (host) => $localize`What ${host}:host: sends is larger than 5 MB.`,
};

function failureOf(error: unknown, { host }: URL): OutsideFailure {
  let cause = error as NodeJS.ErrnoException | undefined;
  for (; cause !== undefined; cause = cause.cause as NodeJS.ErrnoException | undefined) {
    if (cause instanceof OutsideFailure) return cause;
    const words = sentences[cause.code ?? ''];
    if (words) return new OutsideFailure(words(host));
    if (cause.name === 'TimeoutError') return new OutsideFailure(sentences.UND_ERR_HEADERS_TIMEOUT!(host));
  }
  return new OutsideFailure($localize`${host}:host: could not be read.`, { cause: error });
}
