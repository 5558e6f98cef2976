import http from 'node:http';
import { randomUUID } from 'node:crypto';
import { parentPort, workerData } from 'node:worker_threads';

/** People at work, as their browsers behave: each has the stream open, reads the Round when it is told of a change, and logs calls. */
export interface Crowd {
  readonly port: number;
  readonly people: readonly { readonly cookie: string; readonly contactIds: readonly string[] }[];
  readonly seconds: number;
  /** Each logs once in so many seconds. */
  readonly everySeconds: number;
}

export interface CrowdFigures {
  readonly logs: readonly number[];
  /** Readings that brought a Round, in milliseconds. */
  readonly rounds: readonly number[];
  /** Readings that were answered 304. */
  readonly unchanged: number;
  readonly bytes: number;
  readonly failed: number;
}

/** As the page waits for things to settle before it reads again. */
const settleMillis = 120;
const agent = new http.Agent({ keepAlive: true, maxSockets: 200 });
const { port, people, seconds, everySeconds } = workerData as Crowd;
const figures = { logs: [] as number[], rounds: [] as number[], unchanged: 0, bytes: 0, failed: 0 };

interface Answer {
  readonly status: number;
  readonly tag: string | undefined;
  readonly bytes: number;
  readonly millis: number;
}

function send(method: 'GET' | 'POST', path: string, headers: object, body?: object): Promise<Answer> {
  const started = performance.now();
  return new Promise((resolve, reject) => {
    const request = http.request(
      {
        port,
        host: '127.0.0.1',
        method,
        path,
        agent,
        headers: { Origin: `http://127.0.0.1:${port}`, 'Content-Type': 'application/json', ...headers },
      },
      (response) => {
        let bytes = 0;
        response.on('data', (part: Buffer) => (bytes += part.length));
        response.on('end', () =>
          resolve({
            status: response.statusCode ?? 0,
            tag: response.headers.etag,
            bytes,
            millis: performance.now() - started,
          }),
        );
      },
    );
    request.on('error', reject);
    request.end(body === undefined ? undefined : JSON.stringify(body));
  });
}

class Person {
  private tag: string | undefined;
  private timer: NodeJS.Timeout | undefined;
  private stream: http.ClientRequest | undefined;
  private turn = 0;

  constructor(
    private readonly cookie: string,
    private readonly contactIds: readonly string[],
  ) {}

  async open(): Promise<void> {
    await this.read();
    this.stream = http.get(
      { port, host: '127.0.0.1', path: '/api/changes', headers: { Cookie: this.cookie } },
      (response) => {
        response.setEncoding('utf8');
        response.on('data', (text: string) => {
          // What is others' is told apart, and no reason to read one's own Round.
          if (!/^event: (change|resync)/m.test(text)) return;
          clearTimeout(this.timer);
          this.timer = setTimeout(() => void this.read(), settleMillis);
        });
      },
    );
    this.stream.on('error', () => undefined);
  }

  private async read(): Promise<void> {
    const known = this.tag === undefined ? {} : { 'If-None-Match': this.tag };
    const answer = await send('GET', '/api/round', { Cookie: this.cookie, ...known });
    if (answer.status === 304) figures.unchanged += 1;
    else if (answer.status === 200) {
      this.tag = answer.tag;
      figures.rounds.push(answer.millis);
      figures.bytes += answer.bytes;
    } else figures.failed += 1;
  }

  async log(): Promise<void> {
    const contactId = this.contactIds[this.turn % this.contactIds.length]!;
    this.turn += 1;
    const next = {
      kind: 'task',
      channel: 'call',
      dueOn: '2026-11-27',
      promisedMinute: null,
      purpose: 'try again',
      minutes: 6,
    };
    const answer = await send(
      'POST',
      '/api/journal/log',
      { Cookie: this.cookie, 'X-Change-Id': randomUUID() },
      { id: randomUUID(), contactId, outcomeId: 'call-no-answer', body: '', next },
    );
    if (answer.status === 200) figures.logs.push(answer.millis);
    else figures.failed += 1;
    // The page reads at once after an act of its own, and again when it is told.
    await this.read();
  }

  close(): void {
    clearTimeout(this.timer);
    this.stream?.destroy();
  }
}

const pause = (millis: number) => new Promise((resolve) => setTimeout(resolve, millis));
const all = people.map(({ cookie, contactIds }) => new Person(cookie, contactIds));
for (const person of all) await person.open();
// What was read to begin with is not counted.
Object.assign(figures, { logs: [], rounds: [], unchanged: 0, bytes: 0 });
parentPort?.postMessage('open');
const until = performance.now() + seconds * 1000;
await Promise.all(
  all.map(async (person, n) => {
    await pause(((n + 0.5) / all.length) * everySeconds * 1000);
    while (performance.now() < until) {
      const started = performance.now();
      await person.log();
      await pause(Math.max(0, everySeconds * 1000 - (performance.now() - started)));
    }
  }),
);
await pause(2000);
for (const person of all) person.close();
agent.destroy();
parentPort?.postMessage(figures satisfies CrowdFigures);
