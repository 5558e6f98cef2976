import { Writable } from 'node:stream';
import type { UserId } from '@kettle/contract';
import type { Response } from 'express';
import type { Database } from '../src/platform/database/database';
import type { Services } from '../src/platform/services';
import { contactsList } from '../src/records/contacts/list-contacts';
import { listRoutes } from '../src/records/grid/index';
import { readSignedIn } from '../src/records/users/index';
import { print } from './measure';

interface Bench {
  readonly database: Database;
  readonly services: Services;
  readonly ownerId: UserId;
}

const megabyte = 1024 * 1024;
/** What a slow line takes at once: each chunk is waited for. */
const readerMillis = 1;

/** Takes what an answer is made of, slowly, and keeps none of it. */
class Reader extends Writable {
  bytes = 0;
  lines = 0;

  override _write(chunk: Buffer, _encoding: BufferEncoding, done: () => void): void {
    this.bytes += chunk.length;
    for (const byte of chunk) if (byte === 10) this.lines += 1;
    setTimeout(done, readerMillis);
  }

  set(): this {
    return this;
  }

  type(): this {
    return this;
  }
}

/** The whole list of people as a file, to a slow reader: what is in memory must not grow with the list. */
export async function benchExports({ database, services, ownerId }: Bench): Promise<void> {
  const who = await readSignedIn(database, ownerId, services.clock.now());
  const list = listRoutes(services, contactsList);
  const take = async (as: 'csv' | 'vcard-4') => {
    const reader = new Reader();
    const query = { q: '', owner: 'all', columns: '', as } as const;
    const admin = { ...who, role: 'admin' as const };
    await list.export({ query, who: admin, response: reader as unknown as Response });
    return reader;
  };
  for (const as of ['csv', 'vcard-4'] as const) {
    global.gc?.();
    const before = process.memoryUsage().rss;
    let most = before;
    const watch = setInterval(() => (most = Math.max(most, process.memoryUsage().rss)), 20);
    const started = performance.now();
    const { bytes, lines } = await take(as);
    clearInterval(watch);
    const more = (most - before) / megabyte;
    print({
      name: `memory more while all people are exported as ${as}`,
      value: more,
      unit: 'MB',
      baseline: 100,
      ratio: more / 100,
      aim: 1,
      note: `${lines} lines, ${Math.round(bytes / megabyte)} MB, ${Math.round((performance.now() - started) / 1000)} s`,
    });
  }
}
