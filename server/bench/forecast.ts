import path from 'node:path';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import type { UserId } from '@kettle/contract';
import { addDays } from '@kettle/core/time';
import type { Database } from '../src/platform/database/database';
import { sqlInstant } from '../src/platform/database/values';
import type { Environment } from '../src/platform/environment';
import { bytesOf, newId } from '../src/platform/ids';
import type { Services } from '../src/platform/services';
import { readPipelines } from '../src/records/pipelines/index';
import { readSignedIn } from '../src/records/users/session';
import { readForecast } from '../src/screens/numbers/forecast';
import { startThread } from '../src/thread';
import { insert } from './load';
import { compare, print } from './measure';

const dealCount = 5000;
const aimMillis = 200;
const times = 9;

interface Bench {
  readonly database: Database;
  readonly services: Services;
  readonly environment: Environment;
  readonly ownerId: UserId;
  readonly now: string;
}

/** What a quarter may bring with 5,000 open deals, against the time it may take, and how long it holds up the thread that answers. */
export async function benchForecast(bench: Bench): Promise<void> {
  const { database, services: made, environment, ownerId, now } = bench;
  await load(bench);
  const who = await readSignedIn(database, ownerId, now);
  const quick = startThread('quick', environment, made, path.join(import.meta.dirname, 'main.mjs'));
  await quick.loaded;
  const services = { ...made, quick };
  const asked = {
    whose: 'mine',
    from: `${now.slice(0, 7)}-01`,
    months: 3,
    pipelineId: null,
    whatIf: [],
  } as const;
  const ours = () => readForecast(services, who, { ...asked, whatIf: [] });
  const bare = () =>
    database.rows(
      `SELECT d.id, d.name, d.home_minor, d.expected_close_on, COALESCE(d.win_probability, s.win_probability) AS chance
         FROM deal d JOIN stage s ON s.id = d.stage_id WHERE d.status = 'open' AND d.owner_id = :me`,
      { me: bytesOf(ownerId) },
    );
  const { ours: millis } = await compare(times, ours, bare);
  print({
    name: `forecast: a quarter with ${dealCount.toLocaleString('en')} open deals, against ${aimMillis} ms`,
    ...{ value: millis, unit: 'ms', baseline: aimMillis, ratio: millis / aimMillis, aim: 1 },
    note: 'with its percentiles, its curve and what it hangs on; no week before was kept',
  });
  const held = { ours: await holdUp(ours), bare: await holdUp(bare) };
  print({
    name: 'forecast: longest hold-up of the thread that answers, against the bare query’s',
    ...{ value: held.ours, unit: 'ms', baseline: held.bare, ratio: held.ours / held.bare },
    note: `${times} in a row`,
  });
  await quick.stop();
}

/** The longest time that nothing else was answered, in milliseconds. */
async function holdUp(act: () => Promise<unknown>): Promise<number> {
  const delay = monitorEventLoopDelay({ resolution: 1 });
  delay.enable();
  for (let n = 0; n < times; n += 1) await act();
  delay.disable();
  return delay.max / 1e6;
}

async function load({ database, ownerId, now }: Bench): Promise<void> {
  const stages = (await readPipelines(database))[0]!.stages;
  const day = now.slice(0, 10);
  await insert(
    database,
    'deal (id, name, stage_id, owner_id, amount_minor, currency, home_minor, expected_close_on, type, priority, stage_since, changed_at, created_at)',
    dealCount,
    (n) => [
      ...[bytesOf(newId()), `Deal ${n}`, bytesOf(stages[n % stages.length]!.id), bytesOf(ownerId)],
      // Amounts to the penny: without a common measure, which is the dearest case.
      ...[100_000 + ((n * 7919) % 900_001), 'GBP', 100_000 + ((n * 7919) % 900_001)],
      ...[addDays(day, (n * 13) % 90), 'new', 'usual', sqlInstant(now), sqlInstant(now), sqlInstant(now)],
    ],
  );
}
