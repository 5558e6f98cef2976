import { randomUUID } from 'node:crypto';
import { setTimeout as pause } from 'node:timers/promises';
import type { aMailServer } from '../../server/testing/mail-server';
import type { Client } from './client';
import type { World } from './world';

/** What came of a fault. Lost and doubled must be 0. */
export interface Outcome {
  readonly acknowledged: number;
  readonly stored: number;
  readonly lost: number;
  readonly doubled: number;
  /** What else was seen. */
  readonly seen: string;
}

export const atNow = { KETTLE_NOW: '2026-11-24T09:10:00.000Z' };
const person = (n: number) => ({
  ...{ givenName: 'Person', familyName: `Wells${n}`, companyName: `Firm ${n}`, country: 'GB' },
  email: `person${n}@firm${n}.example`,
});

export const addPeople = async (client: Client, count: number): Promise<string[]> => {
  const ids: string[] = [];
  for (let n = 0; n < count; n += 1)
    ids.push((await client.call<{ id: string }>('POST', '/api/contacts', person(n))).id);
  return ids;
};

/** A log with a next task that bears its id: a second one of either can be counted. */
export const logOf = (id: string, contactId: string, body = '') => ({
  ...{ id, contactId, outcomeId: 'call-spoke', body },
  next: { kind: 'task', channel: 'call', dueOn: '2026-11-30', purpose: id, minutes: 5 },
});

/** Several people log, each one call after the other, until it is enough; every call that was answered with success is acknowledged. */
export class Logging {
  readonly acknowledged: string[] = [];
  private isEnough = false;
  private readonly running: Promise<void>[];

  constructor(client: Client, contactIds: readonly string[], people = 6) {
    this.running = Array.from({ length: people }, async (_, n) => {
      const one = client.like();
      for (let at = n; !this.isEnough; at += people) {
        const id = randomUUID();
        await one.call('POST', '/api/journal/log', logOf(id, contactIds[at % contactIds.length]!));
        this.acknowledged.push(id);
      }
    });
  }

  async enough(): Promise<void> {
    this.isEnough = true;
    await Promise.all(this.running);
  }

  /** Each acknowledged log and its task against what is in the database. */
  async outcome(world: World, seen: string): Promise<Outcome> {
    const entries = await world.rows<{ id: string }>(
      "SELECT LOWER(INSERT(INSERT(INSERT(INSERT(HEX(id), 9, 0, '-'), 14, 0, '-'), 19, 0, '-'), 24, 0, '-')) AS id FROM journal_entry WHERE outcome_id = 'call-spoke'",
    );
    const tasks = await world.rows<{ purpose: string }>(
      'SELECT purpose FROM task WHERE LENGTH(purpose) = 36',
    );
    return compare(
      this.acknowledged,
      [entries.map(({ id }) => id), tasks.map(({ purpose }) => purpose)],
      seen,
    );
  }
}

/** Acknowledged ids against lists that must hold each of them once. */
export function compare(
  acknowledged: readonly string[],
  lists: readonly (readonly string[])[],
  seen: string,
): Outcome {
  const sets = lists.map((list) => new Set(list));
  return {
    acknowledged: acknowledged.length,
    stored: sets[0]!.size,
    lost: acknowledged.filter((id) => sets.some((set) => !set.has(id))).length,
    doubled: lists.reduce((sum, list, n) => sum + list.length - sets[n]!.size, 0),
    seen,
  };
}

export const until = async (
  what: string,
  isSo: () => Promise<boolean>,
  mostMillis = 240_000,
): Promise<void> => {
  const end = Date.now() + mostMillis;
  while (!(await isSo().catch(() => false))) {
    if (Date.now() > end) throw new Error(`${what}: not within ${mostMillis / 1000} s`);
    await pause(250);
  }
};

const importedRows = 5000;

/** A file of people that is being imported. */
export class Importing {
  private constructor(
    private readonly client: Client,
    private readonly id: string,
    readonly newByPreview: number,
  ) {}

  static async start(client: Client): Promise<Importing> {
    const lines = Array.from(
      { length: importedRows },
      (_, n) => `Person,Wells${n},Firm ${n},person${n}@firm${n}.example`,
    );
    const text = ['given name,family name,company,email', ...lines].join('\n');
    const uploaded = await client.call<{ id: string; version: number; counts: { new: number } }>(
      'POST',
      '/api/imports',
      { fileName: 'people.csv', contentBase64: Buffer.from(text).toString('base64') },
    );
    await client.call('POST', `/api/imports/${uploaded.id}/confirm`, {
      version: uploaded.version,
      withLikely: true,
    });
    return new Importing(client, uploaded.id, uploaded.counts.new);
  }

  async isDone(): Promise<boolean> {
    return (await this.client.call<{ state: string }>('GET', `/api/imports/${this.id}`)).state === 'done';
  }

  async outcome(world: World, seen: string): Promise<Outcome> {
    await until('the import is done', () => this.isDone());
    const emails = await world.rows<{ email: string }>(
      "SELECT email FROM contact WHERE family_name LIKE 'Wells%' AND email LIKE 'person%'",
    );
    const asked = Array.from({ length: importedRows }, (_, n) => `person${n}@firm${n}.example`);
    return compare(asked, [emails.map(({ email }) => email)], seen);
  }
}

/** A cadence whose first step sends a mail by itself, begun with these people. */
export class Mailing {
  private constructor(
    private readonly sink: Awaited<ReturnType<typeof aMailServer>>,
    private readonly people: number,
  ) {}

  static async start(
    client: Client,
    sink: Awaited<ReturnType<typeof aMailServer>>,
    contactIds: readonly string[],
  ): Promise<Mailing> {
    const settings = await client.call<object>('GET', '/api/mail-settings');
    await client.call('PUT', '/api/mail-settings', { ...settings, paceSeconds: 0, dailyLimit: 2000 });
    const template = await client.call<{ id: string }>('POST', '/api/templates', {
      ...{ name: 'Hello', channel: 'email', subject: 'Hello', body: 'Hello' },
    });
    const step = {
      ...{ channel: 'email', offsetDays: 0, windowStart: 540, windowEnd: 1020, minutes: 4, purpose: 'hello' },
    };
    const cadence = await client.call<{ id: string; versionId: string }>('POST', '/api/cadences', {
      name: 'Hello',
      definition: { steps: [{ ...step, mode: 'by-itself', templateIds: [template.id] }] },
    });
    await client.call('POST', `/api/cadences/${cadence.id}/runs`, {
      ...{ requestId: randomUUID(), versionId: cadence.versionId, contactIds },
    });
    return new Mailing(sink, contactIds.length);
  }

  async outcome(world: World, seen: string): Promise<Outcome> {
    await until(
      'every mail is sent or held',
      async () =>
        (await world.count("mail WHERE subject = 'Hello' AND state IN ('sent', 'held', 'failed')")) ===
        this.people,
    );
    const mails = await world.rows<{ message_id: string; state: string }>(
      "SELECT message_id, state FROM mail WHERE subject = 'Hello'",
    );
    const arrived = this.sink.got
      .filter(({ subject }) => subject === 'Hello')
      .map(({ messageId }) => messageId ?? '');
    const there = new Set(arrived);
    const held = mails.filter(({ state }) => state === 'held').length;
    return {
      acknowledged: mails.filter(({ state }) => state === 'sent').length,
      stored: there.size,
      // Sent by what we say, and never arrived.
      lost:
        mails.filter(({ state, message_id }) => state === 'sent' && !there.has(message_id)).length +
        this.people -
        mails.length,
      doubled: arrived.length - there.size,
      seen: `${seen}, ${held} held for a person to decide`,
    };
  }
}

/** Several outcomes as one. */
export function together(outcomes: readonly Outcome[], seen: string): Outcome {
  const sum = (name: 'acknowledged' | 'stored' | 'lost' | 'doubled') =>
    outcomes.reduce((total, each) => total + each[name], 0);
  return {
    ...{ acknowledged: sum('acknowledged'), stored: sum('stored') },
    ...{ lost: sum('lost'), doubled: sum('doubled') },
    seen: [
      seen,
      ...outcomes.map(
        (each) => `${each.seen}: ${each.acknowledged}, ${each.lost} lost, ${each.doubled} doubled`,
      ),
    ].join('; '),
  };
}
