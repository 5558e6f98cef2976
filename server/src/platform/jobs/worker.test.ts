import { spawn, type ChildProcess } from 'node:child_process';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { pino } from 'pino';
import { fromSources } from '../../../../scripts/machine.mjs';
import { install, makeSchema, type Installation } from '../../../testing/installation';
import { openDatabase } from '../database/database';
import { claim, enqueue, reap } from './job-table';
import { Worker, type JobKinds } from './worker';

let installation: Installation;
beforeEach(async () => {
  installation = await install();
});
afterEach(() => installation.close());

const now = '2026-11-24T09:10:00.000Z';
const add = (kind: string, dedupeKey: string, payload: object = {}) =>
  enqueue(installation.services.database, { kind, dedupeKey, payload, dueAt: now });
const workerOf = (kinds: JobKinds) =>
  new Worker({ services: { ...installation.services, log: pino({ level: 'silent' }) }, kinds });
const states = async () =>
  (
    await installation.services.database.rows<{ state: string }>('SELECT state FROM job ORDER BY dedupe_key')
  ).map((row) => row.state);
const endLeases = () =>
  installation.services.database.change(
    'UPDATE job SET lease_until = NOW(3) - INTERVAL 1 SECOND WHERE lease_until IS NOT NULL',
  );

describe('background work', () => {
  test('the same work asked for twice is done once', async () => {
    let done = 0;
    await add('count', 'once');
    await add('count', 'once');
    await workerOf({
      count: { words: 'work', effect: 'database', run: async () => void (done += 1) },
    }).round();
    expect([done, await states()]).toEqual([1, ['done']]);
  });

  test('work that is not due yet waits', async () => {
    await enqueue(installation.services.database, {
      kind: 'count',
      dedupeKey: 'later',
      payload: {},
      dueAt: '2026-11-24T09:11:00.000Z',
    });
    expect(
      await workerOf({ count: { words: 'work', effect: 'database', run: async () => undefined } }).round(),
    ).toBe(false);
  });

  test('a job that fails is tried again later, and after five tries kept as failed with what went wrong', async () => {
    await add('break', 'broken');
    const worker = workerOf({
      break: { words: 'work', effect: 'database', run: () => Promise.reject(new Error('no salt')) },
    });
    for (let n = 0; n < 5; n += 1) {
      installation.clock.set(new Date(Date.parse(now) + n * 3_600_000).toISOString());
      await worker.round();
    }
    const [job] = await installation.services.database.rows('SELECT state, attempts, last_error FROM job');
    expect(job).toEqual({ state: 'failed', attempts: 5, last_error: 'no salt' });
  });

  test('what a failed job wrote is gone with it', async () => {
    await add('half', 'half');
    await workerOf({
      half: {
        words: 'work',
        effect: 'database',
        run: async (tx) => {
          await tx.change("INSERT INTO setting (name, value) VALUES ('half', '{}')");
          throw new Error('stopped in the middle');
        },
      },
    }).round();
    expect(await installation.services.database.rows("SELECT name FROM setting WHERE name = 'half'")).toEqual(
      [],
    );
  });

  test('a job whose server died after claiming is due again, and done once', async () => {
    let done = 0;
    await add('count', 'orphan');
    for (let shard = 0; shard < 16; shard += 1)
      await claim(installation.services.database, shard, installation.clock.ahead(), ['count']);
    const worker = workerOf({
      count: { words: 'work', effect: 'database', run: async () => void (done += 1) },
    });
    await worker.round();
    expect(done).toBe(0);
    await endLeases();
    await worker.round();
    expect([done, await states()]).toEqual([1, ['done']]);
  });

  test('a server that lost its lease writes nothing', async () => {
    await add('slow', 'slow');
    let reached = false;
    const [job] = (
      await Promise.all(
        Array.from({ length: 16 }, (_, shard) =>
          claim(installation.services.database, shard, installation.clock.ahead(), ['slow']),
        ),
      )
    ).flat();
    await endLeases();
    await reap(installation.services.database);
    const other = workerOf({
      slow: { words: 'work', effect: 'database', run: async () => void (reached = true) },
    });
    await other.round();
    expect([job!.kind, reached, await states()]).toEqual(['slow', true, ['done']]);
  });

  test('an act outside that was interrupted is held for a person, never repeated', async () => {
    let sent = 0;
    await add('send', 'letter');
    const dying = workerOf({
      send: {
        words: 'work',
        effect: 'outside',
        run: () => {
          sent += 1;
          return new Promise(() => undefined);
        },
      },
    });
    void dying.round();
    while (sent === 0) await new Promise((resolve) => setTimeout(resolve, 10));
    await endLeases();
    await workerOf({ send: { words: 'work', effect: 'outside', run: async () => void (sent += 1) } }).round();
    expect([sent, await states()]).toEqual([1, ['review']]);
  });
});

/** A server of its own in another process, killed without warning. */
function startProcess(url: string): ChildProcess {
  const file = path.join(__dirname, '..', '..', '..', 'testing', 'counting-worker.ts');
  return spawn(process.execPath, [...fromSources, file], {
    env: {
      ...process.env,
      KETTLE_DATABASE_URL: url,
      KETTLE_KEY_FILE: path.join(tmpdir(), 'kettle-tests.keys'),
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
}

test('two servers share the work; one is killed in the middle; every job is done exactly once', async () => {
  const schema = await makeSchema('tables');
  const database = openDatabase(schema.url);
  const jobs = 400;
  for (let n = 0; n < jobs; n += 1)
    await enqueue(database, {
      kind: 'mark',
      dedupeKey: `mark:${n}`,
      payload: { n },
      dueAt: '2020-01-01T00:00:00.000Z',
    });
  const [first, second] = [startProcess(schema.url), startProcess(schema.url)];
  const doneCount = async () =>
    Number((await database.rows<{ n: string }>("SELECT COUNT(*) AS n FROM job WHERE state = 'done'"))[0]!.n);
  while ((await doneCount()) < jobs / 8) await new Promise((resolve) => setTimeout(resolve, 20));
  first.kill('SIGKILL');
  await new Promise((resolve) => first.once('exit', resolve));
  expect(await doneCount()).toBeLessThan(jobs);
  // The dead server's leases would end in a minute; the test ends them early, and the living one's with them, which
  // must do no harm either.
  const until = Date.now() + 40_000;
  while ((await doneCount()) < jobs && Date.now() < until) {
    await database.change("UPDATE job SET lease_until = NOW(3) - INTERVAL 1 SECOND WHERE state = 'claimed'");
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  second.kill('SIGTERM');
  const marks = await database.rows<{ n: string; d: string }>(
    "SELECT COUNT(*) AS n, COUNT(DISTINCT payload) AS d FROM job WHERE kind = 'mark' AND state = 'done'",
  );
  const written = await database.rows<{ n: string }>(
    "SELECT COUNT(*) AS n FROM event WHERE topic = 'setting'",
  );
  expect([Number(marks[0]!.n), Number(written[0]!.n)]).toEqual([jobs, jobs]);
  await database.close();
  await schema.drop();
}, 90_000);
