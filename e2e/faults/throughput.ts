import { setTimeout as pause } from 'node:timers/promises';
import { print } from '../../server/bench/measure';
import { Client } from './client';
import { addPeople, atNow, Logging } from './work';
import { OnCluster, OneDatabase, type World } from './world';

/**
 * How many logs a minute two servers over three databases take, beside one server over one, as safe on disk as an installation, in turn.
 * Prints a line as `npm run bench` does. All of it runs on this machine: what is measured is what agreeing costs, not what more machines bring.
 */
const people = 12;
const turns = 3;
const turnMillis = 15_000;

async function begin(world: World, servers: number): Promise<() => Promise<number>> {
  for (let n = 0; n < servers; n += 1) await world.server(atNow);
  const client = new Client(() => world.servers.map(({ url }) => url));
  await client.beFirstAdmin();
  const contactIds = await addPeople(client, 120);
  return async () => {
    const logging = new Logging(client, contactIds, people);
    await pause(turnMillis);
    await logging.enough();
    return logging.acknowledged.length / (turnMillis / 60_000);
  };
}

const middle = (values: readonly number[]) =>
  [...values].sort((one, other) => one - other)[Math.floor(values.length / 2)]!;

const worlds: World[] = [];
try {
  const one = await OneDatabase.make('throughput-one');
  worlds.push(one);
  const three = await OnCluster.make('throughput-three');
  worlds.push(three);
  const measures = [await begin(one, 1), await begin(three, 2)];
  const found: number[][] = [[], []];
  // The first turn warms them up.
  for (let turn = 0; turn <= turns; turn += 1)
    for (const [which, measure] of measures.entries()) {
      const perMinute = await measure();
      if (turn > 0) found[which]!.push(perMinute);
    }
  const [baseline, value] = found.map(middle) as [number, number];
  print({
    name: 'logs: two servers on three databases, against one on one',
    ...{ value, unit: 'logs a minute', baseline, ratio: value / baseline, aim: 0.6 },
    note: 'more is better',
  });
} finally {
  for (const world of worlds) await world.close();
}
process.exit(0);
