import { randomUUID } from 'node:crypto';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { jobKinds, makeWorker } from '../../features';
import { checkClock, clockDifference } from '../../platform/check-clock';
import { enqueue } from '../../platform/jobs/job-table';
import { work } from '../../platform/work/work';
import { readSignedIn } from '../users/index';

let installation: Installation;
let admin: Caller;
let rep: Caller;
beforeEach(async () => {
  installation = await install();
  admin = await installation.as('admin');
  rep = await installation.as('rep', 'Imogen Thorne');
});
afterEach(() => installation.close());

/** An import that is not there: its part fails, however often it is tried. */
async function askedInVain(by: Caller | null): Promise<void> {
  const { services } = installation;
  const who = by === null ? null : await readSignedIn(services.database, by.id, services.clock.now());
  await work(services, who, (w) =>
    enqueue(w, {
      kind: 'import-chunk',
      dedupeKey: randomUUID(),
      payload: { importId: randomUUID(), from: 0, setId: randomUUID() },
      dueAt: w.now,
    }),
  );
}

async function tryToTheEnd(): Promise<void> {
  const { clock } = installation;
  for (let tries = 0; tries < 6; tries += 1) {
    await installation.work();
    clock.set(new Date(clock.millis() + 60_000).toISOString());
  }
}

const listed = () => admin.ok('failedJobs');
const told = async (caller: Caller) => (await caller.ok('listNotifications')).notifications;

test('what failed for good is listed for admins, told to who asked for it, and tried again', async () => {
  await askedInVain(rep);
  await installation.work();
  expect([(await listed()).total, (await told(rep)).length]).toEqual([0, 0]);
  await tryToTheEnd();
  const { jobs, total } = await listed();
  expect([total, jobs]).toEqual([
    1,
    [
      expect.objectContaining({
        words: 'one part of an import',
        state: 'failed',
        askedByName: 'Imogen Thorne',
        tries: 5,
      }),
    ],
  ]);
  expect((await told(rep)).map(({ words }) => words)).toEqual([
    'Background work failed for good: one part of an import. An admin can try it again.',
  ]);
  expect(await told(admin)).toEqual([]);
  const params = { id: jobs[0]!.id };
  expect((await rep.call('retryJob', { params })).status).toBe(403);
  await admin.ok('retryJob', { params });
  expect((await listed()).total).toBe(0);
  // It is due no more than once: the second click finds nothing that failed.
  expect((await admin.call('retryJob', { params })).body).toMatchObject({ code: 'not-found' });
  await tryToTheEnd();
  expect((await listed()).total).toBe(1);
});

test('what nobody asked for is told to the admins', async () => {
  await askedInVain(null);
  await tryToTheEnd();
  expect((await told(admin)).map(({ words, path }) => [words, path])).toEqual([
    [
      'Background work failed for good: one part of an import. Try it again here.',
      '/settings?part=background',
    ],
  ]);
});

test('every kind of background work has words of its own', () => {
  const words = Object.values(jobKinds(installation.services)).map((kind) => kind.words);
  expect(new Set(words).size).toBe(words.length);
});

describe('a clock that differs from the database’s', () => {
  const off = (millis: number) => {
    const machine = () => Date.now() + millis;
    return { now: () => new Date(machine()).toISOString(), millis: machine, ahead: () => 0 };
  };

  test('by more than a minute is refused in words', async () => {
    const { database } = installation.services;
    await expect(checkClock(database, off(180_000))).rejects.toThrow(/18\d seconds|179 seconds/);
    await expect(checkClock(database, off(-180_000))).rejects.toThrow('behind the database');
  });

  test('by less is not, and the demo’s shift is no difference', async () => {
    const { database, clock } = installation.services;
    await checkClock(database, off(30_000));
    expect(Math.abs(await clockDifference(database, clock))).toBeLessThan(30_000);
  });

  test('stops the work of a server', async () => {
    await askedInVain(rep);
    const { services } = installation;
    const worker = makeWorker({ ...services, clock: off(180_000) });
    await expect(worker.round()).rejects.toThrow('ahead of the database');
    expect(await services.database.rows("SELECT attempts FROM job WHERE kind = 'import-chunk'")).toEqual([
      { attempts: 0 },
    ]);
  });
});
