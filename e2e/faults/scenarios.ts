import { randomUUID } from 'node:crypto';
import { setTimeout as pause } from 'node:timers/promises';
import { aMailServer } from '../../server/testing/mail-server';
import { Client, Refused } from './client';
import { addPeople, atNow, Importing, logOf, Logging, Mailing, until, type Outcome } from './work';
import { OneDatabase } from './world';

async function withWorld(
  options: readonly string[],
  run: (world: OneDatabase, client: Client) => Promise<Outcome>,
  environment: Readonly<Record<string, string>> = {},
): Promise<Outcome> {
  const world = await OneDatabase.make('faults', options);
  try {
    await world.server({ ...atNow, ...environment });
    const client = new Client(() => world.servers.map(({ url }) => url));
    await client.beFirstAdmin();
    return await run(world, client);
  } finally {
    await world.close();
  }
}

/** The faults by name. */
export const scenarios: Readonly<Record<string, () => Promise<Outcome>>> = {
  'server killed during logs': () =>
    withWorld([], async (world, client) => {
      const logging = new Logging(client, await addPeople(client, 20));
      for (let n = 0; n < 5; n += 1) {
        await pause(2000);
        await world.servers[0]!.kill();
        await world.servers[0]!.start();
      }
      await pause(1000);
      await logging.enough();
      return logging.outcome(world, '5 kills');
    }),

  'server killed during a bulk change': () =>
    withWorld([], async (world, client) => {
      const ids = await addPeople(client, 1500);
      const bulk = randomUUID();
      await client.call('POST', '/api/bulk', {
        id: bulk,
        selection: { ids },
        act: { kind: 'add-tag', tag: 'spa' },
      });
      let kills = 0;
      for (let n = 0; n < 3; n += 1) {
        await pause(250);
        if ((await client.call<{ state: string }>('GET', `/api/bulk/${bulk}`)).state === 'done') break;
        await world.servers[0]!.kill();
        kills += 1;
        await world.servers[0]!.start();
      }
      await until(
        'the bulk change is done',
        async () => (await client.call<{ state: string }>('GET', `/api/bulk/${bulk}`)).state === 'done',
      );
      const tagged = await world.rows<{ n: number }>(
        "SELECT COUNT(*) AS n FROM contact_tag WHERE tag = 'spa' GROUP BY contact_id",
      );
      return {
        acknowledged: ids.length,
        stored: tagged.length,
        lost: ids.length - tagged.length,
        doubled: tagged.filter(({ n }) => Number(n) > 1).length,
        seen: `${kills} kills`,
      };
    }),

  'server killed during an import': () =>
    withWorld([], async (world, client) => {
      const importing = await Importing.start(client);
      let kills = 0;
      for (let n = 0; n < 3; n += 1) {
        await pause(700);
        if (await importing.isDone()) break;
        await world.servers[0]!.kill();
        kills += 1;
        await world.servers[0]!.start();
      }
      return importing.outcome(world, `${kills} kills, ${importing.newByPreview} new by the preview`);
    }),

  'server killed while it sends': async () => {
    const sink = await aMailServer();
    try {
      return await withWorld(
        [],
        async (world, client) => {
          const mailing = await Mailing.start(client, sink, await addPeople(client, 120));
          for (let n = 0; n < 4; n += 1) {
            await pause(600);
            await world.servers[0]!.kill();
            await world.servers[0]!.start();
          }
          return mailing.outcome(world, '4 kills');
        },
        { KETTLE_SMTP_URL: sink.url },
      );
    } finally {
      await sink.close();
    }
  },

  'database killed during logs': () =>
    withWorld([], async (world, client) => {
      const logging = new Logging(client, await addPeople(client, 20));
      for (let n = 0; n < 3; n += 1) {
        await pause(2000);
        const ended = world.database.ended();
        world.database.kill();
        await ended;
        await world.database.restart();
      }
      await pause(1500);
      await logging.enough();
      return logging.outcome(world, '3 kills');
    }),

  'database held for 30 s during logs': () =>
    withWorld([], async (world, client) => {
      const logging = new Logging(client, await addPeople(client, 20));
      await pause(2000);
      world.database.signal('SIGSTOP');
      const [server] = world.servers;
      await pause(12_000);
      const health = await client.once(server!.url, 'GET', '/api/health', {}).then(
        ({ status }) => status,
        () => 0,
      );
      await pause(18_000);
      world.database.signal('SIGCONT');
      await pause(3000);
      await logging.enough();
      return logging.outcome(world, `health answered ${health} meanwhile`);
    }),

  'database stopped and started again during logs': () =>
    withWorld([], async (world, client) => {
      const logging = new Logging(client, await addPeople(client, 20));
      await pause(2000);
      const ended = world.database.ended();
      world.database.signal('SIGTERM');
      await ended;
      await pause(5000);
      await world.database.restart();
      await pause(2000);
      await logging.enough();
      return logging.outcome(world, 'away for 5 s');
    }),

  'disk full': () => {
    const room = (most: number) => [
      '--innodb-file-per-table=0',
      `--innodb-data-file-path=ibdata1:12M:autoextend:max:${most}M`,
    ];
    return withWorld(room(96), async (world, client) => {
      const contactIds = await addPeople(client, 20);
      const { url } = world.servers[0]!;
      const acknowledged: string[] = [];
      const refused = new Map<number, number>();
      let asked = 0;
      while ([...refused.values()].reduce((sum, n) => sum + n, 0) < 20 && asked < 20_000) {
        asked += 1;
        const id = randomUUID();
        const body = logOf(id, contactIds[asked % 20]!, 'x'.repeat(9000));
        const { status } = await client.once(url, 'POST', '/api/journal/log', {
          body,
          changeId: randomUUID(),
        });
        if (status === 200) acknowledged.push(id);
        else refused.set(status, (refused.get(status) ?? 0) + 1);
      }
      const reading = await client.once(url, 'GET', '/api/round', {});
      const ended = world.database.ended();
      world.database.signal('SIGTERM');
      await ended;
      await world.database.restart(room(400));
      const logging = new Logging(client, contactIds, 2);
      await pause(3000);
      await logging.enough();
      logging.acknowledged.push(...acknowledged);
      const answers = [...refused].map(([status, n]) => `${n} x ${status}`).join(', ') || 'nothing refused';
      return logging.outcome(
        world,
        `${answers} while full, reading answered ${reading.status}, logs go on with room`,
      );
    });
  },

  'two servers, one killed again and again': () =>
    withWorld([], async (world, client) => {
      const contactIds = await addPeople(client, 20);
      const second = await world.server(atNow);
      const logging = new Logging(client, contactIds);
      for (let n = 0; n < 4; n += 1) {
        await pause(1500);
        await second.kill();
        await pause(500);
        await second.start();
      }
      await logging.enough();
      return logging.outcome(world, '4 kills');
    }),

  'a server whose clock is an hour ahead': () =>
    withWorld([], async (world, client) => {
      const logging = new Logging(client, await addPeople(client, 20));
      const ahead = `const D = Date; globalThis.Date = class extends D { constructor(...a) { if (a.length) super(...a); else super(D.now() + 3600000); } static now() { return D.now() + 3600000; } };`;
      let said = 'it started';
      try {
        // Its own clock is wrong, so none is given to it.
        await world.server({
          KETTLE_NOW: undefined,
          NODE_OPTIONS: `--import=data:text/javascript,${encodeURIComponent(ahead)}`,
        });
      } catch (error) {
        said =
          (error as Error).message.split('\n').find((line) => /clock/i.test(line)) ??
          (error as Error).message.slice(0, 200);
        world.servers.pop();
      }
      await pause(1500);
      await logging.enough();
      const outcome = await logging.outcome(world, said.trim());
      if (!/ahead of the database/.test(said))
        throw new Error(`a server whose clock is an hour ahead must say so: ${said}`);
      return outcome;
    }),

  'the same request three times at once': () =>
    withWorld([], async (world, client) => {
      const contactIds = await addPeople(client, 20);
      const { url } = world.servers[0]!;
      const acknowledged: string[] = [];
      let other = 0;
      for (let n = 0; n < 200; n += 1) {
        const id = randomUUID();
        const asked = { body: logOf(id, contactIds[n % 20]!), changeId: randomUUID() };
        const replies = await Promise.all(
          [1, 2, 3].map(() => client.once(url, 'POST', '/api/journal/log', asked)),
        );
        const texts = await Promise.all(replies.map((reply) => reply.text()));
        if (replies.every(({ status }) => status === 200)) acknowledged.push(id);
        if (new Set(texts).size > 1) other += 1;
      }
      const logging = new Logging(client, contactIds, 0);
      logging.acknowledged.push(...acknowledged);
      const outcome = await logging.outcome(world, `${other} of 200 answered differently`);
      return { ...outcome, lost: outcome.lost + 200 - acknowledged.length };
    }),

  '150 open streams': () =>
    withWorld([], async (world, client) => {
      const contactIds = await addPeople(client, 20);
      const { url } = world.servers[0]!;
      const opened = await Promise.allSettled(Array.from({ length: 150 }, () => client.stream(url)));
      const streams = opened.flatMap((each) => (each.status === 'fulfilled' ? [each.value] : []));
      const refused = opened.flatMap((each) =>
        each.status === 'rejected' && each.reason instanceof Refused ? [each.reason.status] : [],
      );
      const logging = new Logging(client, contactIds, 2);
      await pause(5000);
      await logging.enough();
      await pause(3000);
      const told = streams.filter((stream) => stream.events() > 0).length;
      for (const stream of streams) stream.end();
      const outcome = await logging.outcome(
        world,
        `${streams.length} open${refused.length > 0 ? `, ${refused.length} answered ${[...new Set(refused)].join()}` : ''}, ${told} were told`,
      );
      return { ...outcome, lost: outcome.lost + streams.length - told };
    }),
};
