import { setTimeout as pause } from 'node:timers/promises';
import { aMailServer, handOver } from '../../server/testing/mail-server';
import { freePort } from '../../scripts/database.mjs';
import { Client } from './client';
import {
  addPeople,
  atNow,
  compare,
  Importing,
  Logging,
  Mailing,
  together,
  until,
  type Outcome,
} from './work';
import { OnCluster } from './world';

/** Two servers, each at a node of its own of three; mail goes out through `sink` and comes in at a port of each. */
async function withCluster(
  run: (world: OnCluster, client: Client, mailIn: readonly number[]) => Promise<Outcome>,
  environment: Readonly<Record<string, string>> = {},
): Promise<Outcome> {
  const world = await OnCluster.make('fault-cluster');
  try {
    const ports = [await freePort(), await freePort()];
    for (const port of ports)
      await world.server({ ...atNow, ...environment, KETTLE_MAIL_IN_PORT: String(port) });
    const client = new Client(() => world.servers.map(({ url }) => url));
    await client.beFirstAdmin();
    return await run(world, client, ports);
  } finally {
    await world.close();
  }
}

/** Writes mails to us as other mail servers do: what was not taken is sent again, to whichever of ours answers. */
class WritingToUs {
  readonly acknowledged: string[] = [];
  private isEnough = false;
  private readonly running: Promise<void>;

  constructor(ports: readonly number[]) {
    this.running = this.write(ports);
  }

  private async write(ports: readonly number[]): Promise<void> {
    for (let n = 0; !this.isEnough; n += 1) {
      const messageId = `<in-${n}@elsewhere.example>`;
      for (let tries = 0; ; tries += 1) {
        const port = ports[(n + tries) % ports.length]!;
        const sent = await handOver(port, {
          ...{ from: `person${n % 20}@firm${n % 20}.example`, to: 'petra@hollinbeck.example' },
          ...{ subject: `Question ${n}`, text: 'When do you come?', messageId },
        });
        if (sent) break;
        await pause(200);
      }
      this.acknowledged.push(messageId);
      await pause(100);
    }
  }

  async outcome(world: OnCluster): Promise<Outcome> {
    this.isEnough = true;
    await this.running;
    await until(
      'every mail that came is read',
      async () =>
        (await world.count(
          'mail_arrival a WHERE NOT EXISTS (SELECT 1 FROM mail m WHERE m.arrival_id = a.id)',
        )) === 0,
    );
    const mails = await world.rows<{ message_id: string }>(
      "SELECT message_id FROM mail WHERE direction = 'in'",
    );
    return compare(this.acknowledged, [mails.map(({ message_id }) => message_id)], 'mails to us');
  }
}

/** @throws Error when the nodes do not hold the same rows, or one of them does not come back to the others */
async function assertSame(world: OnCluster): Promise<void> {
  for (const [node] of world.nodes.entries())
    await until(
      `node ${node + 1} works with the others again`,
      async () => (await world.rows('SELECT 1', [], node)).length === 1,
      60_000,
    );
  const tables = ['journal_entry', 'task', 'contact', 'mail', 'event', 'job', 'change_row'];
  const sums = [];
  for (const [node] of world.nodes.entries()) {
    const rows = await world.rows<{ Checksum: string }>(`CHECKSUM TABLE ${tables.join(', ')}`, [], node);
    sums.push(rows.map(({ Checksum }) => Checksum).join());
  }
  if (new Set(sums).size > 1) throw new Error(`the nodes do not hold the same: ${sums.join(' / ')}`);
}

/** Faults of a cluster, by name. */
export const clusterScenarios: Readonly<Record<string, () => Promise<Outcome>>> = {
  'cluster: each node killed in turn during logs': () =>
    withCluster(async (world, client) => {
      const logging = new Logging(client, await addPeople(client, 20));
      for (const node of world.nodes.keys()) {
        await pause(2000);
        await world.killNode(node, 2000);
      }
      await pause(1500);
      await logging.enough();
      await assertSame(world);
      return logging.outcome(world, '3 kills, the nodes hold the same');
    }),

  'cluster: a node held for 20 s during logs': () =>
    withCluster(async (world, client) => {
      const logging = new Logging(client, await addPeople(client, 20));
      await pause(2000);
      const node = world.cluster.nodes[0]!;
      node.signal('SIGSTOP');
      await pause(20_000);
      const meanwhile = logging.acknowledged.length;
      node.signal('SIGCONT');
      await pause(5000);
      await logging.enough();
      await assertSame(world);
      return logging.outcome(world, `${meanwhile} acknowledged before it went on`);
    }),

  'cluster: nodes and servers killed during logs, mails, an import': async () => {
    const sink = await aMailServer();
    try {
      return await withCluster(
        async (world, client, mailIn) => {
          // Who is called is not written to on the same day: they are others.
          const contactIds = await addPeople(client, 60);
          const logging = new Logging(client, contactIds.slice(0, 20), 3);
          const writing = new WritingToUs(mailIn);
          const mailing = await Mailing.start(client, sink, contactIds.slice(20));
          const importing = await Importing.start(client);
          await pause(1500);
          await world.killNode(1, 1500);
          await world.servers[1]!.kill();
          await pause(1500);
          await world.servers[1]!.start();
          await world.killNode(0, 1500);
          await world.servers[0]!.kill();
          await pause(1500);
          await world.servers[0]!.start();
          const outcomes = [
            await importing.outcome(world, 'imported'),
            await mailing.outcome(world, 'sent'),
            await writing.outcome(world),
          ];
          await logging.enough();
          outcomes.push(await logging.outcome(world, 'logs'));
          await assertSame(world);
          return together(outcomes, '2 nodes and 2 servers killed');
        },
        { KETTLE_SMTP_URL: sink.url },
      );
    } finally {
      await sink.close();
    }
  },
};
