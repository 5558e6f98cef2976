import { once } from 'node:events';
import http from 'node:http';
import type { AddressInfo } from 'node:net';
import path from 'node:path';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import { Worker } from 'node:worker_threads';
import express from 'express';
import type { UserId } from '@kettle/contract';
import { makeApp } from '../src/app';
import type { Environment } from '../src/platform/environment';
import { startThread } from '../src/thread';
import { bytesOf, idOf, newId } from '../src/platform/ids';
import { sqlInstant } from '../src/platform/database/values';
import type { Services } from '../src/platform/services';
import { writingAt } from '../src/platform/work/work';
import { readStandings } from '../src/records/settings/standings';
import { openSession, sessionCookieName } from '../src/records/users/session';
import { addUser } from '../src/records/users/users';
import type { Crowd, CrowdFigures } from './crowd-client';
import { insert } from './load';
import { compareAtOnce, percentile, print } from './measure';

const crowdSize = 50;
const contactsEach = 500;
const tasksEach = 60;
const seconds = 120;
/** One alone logs more often, so that there are enough of theirs to take a percentile of. */
const everySeconds = { one: 3, all: 30 };
const mostHoldUp = 50;

/** Fifty people with open pages, each logging every half a minute, against one of them alone. */
export async function benchCrowd(made: Services, environment: Environment, now: string): Promise<void> {
  const people = await makeCrowd(made, now);
  // As it is served: Rounds are computed beside the thread that answers.
  const quick = startThread('quick', environment, made, path.join(import.meta.dirname, 'main.mjs'));
  await quick.loaded;
  const services = { ...made, quick };
  const [server, port] = await listening(makeApp(services));
  await benchUnchanged(services, port, people[0]!);
  const one = await run({ port, people: people.slice(0, 1), seconds, everySeconds: everySeconds.one });
  const all = await run({ port, people, seconds, everySeconds: everySeconds.all });
  server.close();
  server.closeAllConnections();
  await quick.stop();
  const note = `${all.logs.length} logs, ${all.rounds.length} Rounds (${Math.round(all.bytes / all.logs.length / 1024)} kB a log), ${all.unchanged} unchanged, ${all.failed} failed`;
  const figure = (name: string, value: number, baseline: number, aim: number, unit: string) =>
    print({ name, value, baseline, ratio: value / baseline, aim, unit, note });
  figure(
    `Rounds computed for each log, ${crowdSize} at work`,
    all.rounds.length,
    all.logs.length,
    1.5,
    'readings',
  );
  figure(
    `p95 of the Round, ${crowdSize} at work against one`,
    percentile(all.rounds, 0.95),
    percentile(one.rounds, 0.95),
    3,
    'ms',
  );
  figure(
    `p95 of a log, ${crowdSize} at work against one`,
    percentile(all.logs, 0.95),
    percentile(one.logs, 0.95),
    3,
    'ms',
  );
  figure(`longest hold-up of the thread that answers, ${crowdSize} at work`, all.holdUp, mostHoldUp, 1, 'ms');
}

/** A Round that its reader has already, against one look-up by key over HTTP. */
async function benchUnchanged(services: Services, port: number, { cookie }: Crowd['people'][number]) {
  const app = express();
  app.get('/api/round', async (_, response) => {
    const sql = 'SELECT revision FROM round_revision WHERE user_id = :id';
    response.json(await services.database.rows(sql, { id: Buffer.alloc(16) }));
  });
  const [bare, barePort] = await listening(app);
  const agent = new http.Agent({ keepAlive: true });
  const get = (to: number, headers: object) =>
    new Promise<http.IncomingMessage>((resolve, reject) =>
      http
        .get(
          { host: '127.0.0.1', port: to, path: '/api/round', agent, headers: { ...headers } },
          (response) => response.resume().on('end', () => resolve(response)),
        )
        .on('error', reject),
    );
  const tag = (await get(port, { Cookie: cookie })).headers.etag!;
  const { ours, bare: baseline } = await compareAtOnce(
    { people: 8, each: 20, rounds: 5 },
    () => get(port, { Cookie: cookie, 'If-None-Match': tag }),
    () => get(barePort, {}),
  );
  const { statusCode } = await get(port, { Cookie: cookie, 'If-None-Match': tag });
  bare.close();
  agent.destroy();
  print({
    name: 'Round, unchanged, against one look-up by key over HTTP, p95 of 8 at once',
    value: ours,
    unit: 'ms',
    baseline,
    ratio: ours / baseline,
    aim: 2,
    note: `answered ${statusCode}; ours also asks who it is, and whether their session still stands`,
  });
}

async function listening(answer: http.RequestListener): Promise<[http.Server, number]> {
  const server = http.createServer(answer).listen(0, '127.0.0.1');
  await once(server, 'listening');
  return [server, (server.address() as AddressInfo).port];
}

async function run(crowd: Crowd): Promise<CrowdFigures & { holdUp: number }> {
  const delay = monitorEventLoopDelay({ resolution: 5 });
  const client = new Worker(path.join(import.meta.dirname, 'crowd-client.mjs'), { workerData: crowd });
  const figures = await new Promise<CrowdFigures>((resolve, reject) => {
    client.on('message', (said: 'open' | CrowdFigures) => {
      if (said === 'open') delay.enable();
      else resolve(said);
    });
    client.on('error', reject);
  });
  delay.disable();
  await client.terminate();
  return { ...figures, holdUp: delay.max / 1e6 };
}

/** Reps of whom each has hundreds of quiet contacts and some late tasks. */
async function makeCrowd(services: Services, now: string): Promise<Crowd['people']> {
  const { database } = services;
  const standing = (await readStandings(database)).find((each) => each.name === 'Customer')!;
  const w = writingAt(database, now);
  const at = (daysAgo: number) => sqlInstant(new Date(Date.parse(now) - daysAgo * 86_400_000).toISOString());
  const day = (daysAgo: number) => at(daysAgo)!.slice(0, 10);
  const person = {
    role: 'rep',
    password: 'a long enough password',
    zone: 'Europe/London',
    country: 'GB',
  } as const;
  const made: { cookie: string; contactIds: string[] }[] = [];
  for (let n = 0; n < crowdSize; n += 1) {
    const ownerId: UserId = await addUser(w, {
      ...person,
      name: `Rep ${n}`,
      email: `rep${n}-${newId<string>()}@hollinbeck.example`,
    });
    const ids = Array.from({ length: contactsEach }, () => bytesOf(newId()));
    await insert(
      database,
      'contact (id, given_name, family_name, sort_name, country, zone, standing_id, standing_set_at, owner_id, last_touch_at, last_touch_kind, last_touch_counts, next_touch_due, next_step_on, next_step_channel, search_text, created_at)',
      contactsEach,
      (k) => [
        ids[k]!,
        'Maud',
        `Crowd ${n} ${k}`,
        `crowd ${n} ${k} maud`,
        'GB',
        'Europe/London',
        bytesOf(standing.id),
        at(400),
        bytesOf(ownerId),
        at(70 + (k % 50)),
        'call',
        'conversation',
        day(1 + (k % 40)),
        k < tasksEach ? day(k % 5) : null,
        k < tasksEach ? 'call' : null,
        `maud crowd ${n} ${k}`,
        at(500),
      ],
    );
    await insert(
      database,
      'task (id, channel, purpose, due_on, minutes, owner_id, contact_id, created_at)',
      tasksEach,
      (k) => [bytesOf(newId()), 'call', 'ask', day(k % 5), 6, bytesOf(ownerId), ids[k]!, at(9)],
    );
    const token = await openSession(services, ownerId);
    made.push({
      cookie: `${sessionCookieName(services)}=${token}`,
      contactIds: ids.map((id) => idOf<string>(id)),
    });
  }
  await database.change('ANALYZE TABLE contact, task');
  return made;
}
