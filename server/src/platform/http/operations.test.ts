import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import request from 'supertest';
import { makeApp } from '../../app';
import { openDatabase } from '../database/database';
import { bytesOf, newId } from '../ids';
import { install, type Installation } from '../../../testing/installation';
import { closeGently } from './close-gently';
import { readHealth } from './health';

let installation: Installation;
beforeEach(async () => {
  installation = await install();
});
afterEach(() => installation.close());

describe('health', () => {
  const health = () => request(installation.app).get('/api/health');

  test('is ready; live answers without asking the database', async () => {
    expect((await health()).body).toEqual({ state: 'ready', because: [] });
    const gone = { ...installation.services, database: openDatabase('mysql://nobody:x@127.0.0.1:9/kettle') };
    const app = makeApp(gone);
    expect((await request(app).get('/api/health/live')).status).toBe(200);
    expect((await request(app).get('/api/health')).body).toMatchObject({
      status: 503,
      code: 'database-away',
    });
    await gone.database.close();
  });

  test('is answered to somebody who is signed in too while the database does not say a word', async () => {
    const never = new Promise<never>(() => undefined);
    const held = {
      ...installation.services,
      database: { ...installation.services.database, rows: () => never, change: () => never },
    };
    const asked = (path: string) => request(makeApp(held)).get(path).set('Cookie', 'kettle_session=abc');
    expect((await asked('/api/health/live')).status).toBe(200);
    expect((await asked('/api/health')).status).toBe(503);
  });

  test('is degraded while background work is late', async () => {
    await installation.services.database.change(
      `INSERT INTO job (id, dedupe_key, kind, payload, shard, due_at) VALUES (:id, 'x', 'x', '{}', 0, '2026-11-20 09:00:00')`,
      { id: bytesOf(newId<string>()) },
    );
    expect((await health()).body).toMatchObject({
      state: 'degraded',
      because: [expect.stringContaining('minutes late')],
    });
  });

  test('is not ready when the database answers late', async () => {
    const slow = {
      ...installation.services,
      database: {
        ...installation.services.database,
        rows: async <Row>() => {
          await new Promise((resolve) => setTimeout(resolve, 300));
          return [] as Row[];
        },
      },
    };
    await expect(readHealth(slow, 30)).rejects.toMatchObject({ code: 'database-away' });
  });
});

test('a statement that takes too long is stopped and said to be; the connection goes on', async () => {
  const database = openDatabase(installation.url, { connections: 1, statementSeconds: 1 });
  await expect(database.rows('SELECT SLEEP(20)')).rejects.toMatchObject({ code: 'too-slow', status: 503 });
  await expect(database.transaction((tx) => tx.rows('SELECT SLEEP(20)'))).rejects.toMatchObject({
    code: 'too-slow',
  });
  expect(await database.rows('SELECT 1 AS one')).toEqual([{ one: 1 }]);
  await database.close();
});

test('who finds no place to wait is told at once that the server is busy', async () => {
  const database = openDatabase(installation.url, { connections: 1, queueLimit: 1 });
  const asked = await Promise.allSettled([1, 2, 3].map(() => database.rows('SELECT SLEEP(0.2) AS x')));
  expect(asked.map(({ status }) => status)).toEqual(['fulfilled', 'fulfilled', 'rejected']);
  expect(asked[2]).toMatchObject({ reason: { code: 'busy', status: 503 } });
  await database.close();
});

describe('stopping', () => {
  const listening = async (millis: number): Promise<{ server: Server; url: string }> => {
    const server = createServer((_request, response) =>
      setTimeout(() => response.end('done'), millis).unref(),
    );
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    return { server, url: `http://127.0.0.1:${(server.address() as AddressInfo).port}` };
  };
  /** Asked, and on its way. */
  const underWay = async ({ server, url }: { server: Server; url: string }) => {
    const arrived = new Promise((resolve) => server.once('request', resolve));
    const answer = fetch(url).then((response) => response.text());
    await arrived;
    return answer.catch((error: unknown) => error);
  };

  test('answers what is on its way, and takes nothing new', async () => {
    const running = await listening(150);
    const answer = underWay(running);
    await new Promise((resolve) => running.server.once('request', resolve));
    const closed = closeGently(running.server, 5000);
    await expect(fetch(running.url)).rejects.toThrow();
    expect(await answer).toBe('done');
    expect(await closed).toEqual({ wasCut: false });
  });

  test('cuts what does not end', async () => {
    const running = await listening(60_000);
    const answer = underWay(running);
    await new Promise((resolve) => running.server.once('request', resolve));
    expect(await closeGently(running.server, 50)).toEqual({ wasCut: true });
    expect(String(await answer)).toContain('fetch failed');
  });
});

describe('figures for an operator', () => {
  const token = 'a token that nobody guesses';
  test('are for whoever knows the token, and count requests by route without ids', async () => {
    const app = makeApp(installation.services, { metricsToken: token });
    await request(app).get('/api/health');
    await request(app).get(`/api/contacts/${newId()}`);
    const get = (sent: string) => request(app).get('/metrics').set('Authorization', sent);
    expect((await get('Bearer wrong')).status).toBe(401);
    const { status, text } = await get(`Bearer ${token}`);
    expect(status).toBe(200);
    expect(text).toMatch(/kettle_request_seconds_count\{route="health",status="200"\} 1/);
    expect(text).toMatch(/kettle_request_seconds_count\{route="getContact",status="401"\} 1/);
    expect(text).toMatch(/^kettle_streams 0$/m);
    expect(text).toMatch(/^process_cpu_seconds_total/m);
  });

  test('are nowhere without a token', async () => {
    expect((await request(installation.app).get('/metrics')).status).toBe(404);
  });
});
