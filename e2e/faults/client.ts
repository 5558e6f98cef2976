import { randomUUID } from 'node:crypto';
import { setTimeout as pause } from 'node:timers/promises';

const patienceMillis = 120_000;

/** A reply that says no, and will the next time too. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly said: string,
  ) {
    super(`${status} ${said}`);
  }
}

/**
 * Somebody at a browser: sends a request until it is answered for good, the same each time, to whichever of the servers answers. What was
 * answered with success is acknowledged.
 */
export class Client {
  private cookie = '';
  tries = 0;

  constructor(private readonly urls: () => readonly string[]) {}

  async beFirstAdmin(): Promise<void> {
    await this.call('POST', '/api/first-admin', {
      ...{ name: 'Petra Lund', email: 'petra@hollinbeck.example', password: 'steam over the ash' },
      ...{ zone: 'Europe/London', country: 'GB' },
    });
  }

  /** A colleague by the session of another. */
  like(): Client {
    const other = new Client(this.urls);
    other.cookie = this.cookie;
    return other;
  }

  /** @throws Refused when the server answers that it will not */
  async call<Reply>(method: string, path: string, body?: object): Promise<Reply> {
    const changeId = randomUUID();
    const until = Date.now() + patienceMillis;
    for (let n = 0; ; n += 1) {
      const urls = this.urls();
      const reply = await this.once(urls[n % urls.length]!, method, path, { body, changeId }).catch(
        () => null,
      );
      if (reply !== null && reply.status < 500 && reply.status !== 429) {
        if (reply.status >= 400) throw new Refused(reply.status, await reply.text());
        return (await reply.json()) as Reply;
      }
      if (Date.now() > until)
        throw new Error(`${method} ${path} was not answered within ${patienceMillis} ms`);
      await pause(100 + 50 * Math.min(n, 10));
    }
  }

  /** One try, at one server. */
  async once(
    url: string,
    method: string,
    path: string,
    { body, changeId }: { readonly body?: object | undefined; readonly changeId?: string },
  ): Promise<Response> {
    this.tries += 1;
    const reply = await fetch(url + path, {
      method,
      headers: {
        Origin: url,
        Cookie: this.cookie,
        ...(body ? { 'Content-Type': 'application/json' } : {}),
        ...(method !== 'GET' && changeId ? { 'X-Change-Id': changeId } : {}),
      },
      signal: AbortSignal.timeout(20_000),
      ...(body ? { body: JSON.stringify(body) } : {}),
    });
    const given = reply.headers.getSetCookie()[0];
    if (given) this.cookie = given.split(';')[0]!;
    return reply;
  }

  /** Opens the stream of changes at a server. @returns how many events came so far, and how to end it */
  async stream(url: string): Promise<{ readonly events: () => number; end(): void }> {
    const ending = new AbortController();
    const reply = await fetch(`${url}/api/changes`, {
      headers: { Cookie: this.cookie, Accept: 'text/event-stream' },
      signal: ending.signal,
    });
    if (reply.status !== 200 || reply.body === null) throw new Refused(reply.status, await reply.text());
    let events = 0;
    const reading = count(reply.body, (more) => (events += more));
    reading.catch(() => undefined);
    return { events: () => events, end: () => ending.abort() };
  }
}

/** Counts the events of a stream as they come. */
async function count(body: ReadableStream<Uint8Array>, found: (more: number) => void): Promise<void> {
  const decoder = new TextDecoder();
  const reader = body.getReader();
  for (;;) {
    const { value, done } = await reader.read();
    if (done) return;
    found(decoder.decode(value).match(/^data:/gm)?.length ?? 0);
  }
}
