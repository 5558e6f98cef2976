import { type ChildProcess, spawn } from 'node:child_process';
import { rmSync } from 'node:fs';
import path from 'node:path';
import mysql from 'mysql2/promise';
import { startCluster, type RunningCluster } from '../../scripts/cluster.mjs';
import { startDatabase, type RunningDatabase } from '../../scripts/database.mjs';
import { dataFolder, keyFileOf } from '../../scripts/machine.mjs';

const dist = path.resolve(import.meta.dirname, '..', '..', 'server', 'dist');

/** A server of the application in a process of its own, at an address that it keeps. */
export class Server {
  private child: ChildProcess | undefined;
  url = '';

  constructor(
    private readonly databaseUrl: string,
    private readonly environment: Readonly<Record<string, string | undefined>> = {},
  ) {}

  /** @throws Error with what it said when it ended before it listened */
  async start(): Promise<void> {
    const child = spawn(process.execPath, [path.join(dist, 'main.mjs')], {
      env: {
        ...process.env,
        KETTLE_DATABASE_URL: this.databaseUrl,
        KETTLE_KEY_FILE: keyFileOf('faults'),
        KETTLE_LOG: 'silent',
        KETTLE_PORT: this.url === '' ? '0' : new URL(this.url).port,
        ...this.environment,
      },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    this.child = child;
    let words = '';
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (chunk: Buffer) => (words += String(chunk)));
    await new Promise<void>((resolve, reject) => {
      child.stdout.on('data', () => {
        const found = /^listening (\S+)/m.exec(words);
        if (found) {
          this.url = found[1]!;
          resolve();
        }
      });
      child.once('exit', () => reject(new Error(words.trim())));
    });
  }

  /** As by a power cut. */
  async kill(): Promise<void> {
    await this.end('SIGKILL');
  }

  async stop(): Promise<void> {
    await this.end('SIGTERM');
  }

  private async end(signal: 'SIGKILL' | 'SIGTERM'): Promise<void> {
    const { child } = this;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    child.kill(signal);
    await new Promise((resolve) => child.once('exit', resolve));
  }
}

/** Servers of the application over one database, which may be a cluster, with its files on disk, as safe as that of an installation. */
export abstract class World {
  readonly servers: Server[] = [];

  /** The address of the database for the server `n`, from 0. */
  protected abstract addressOf(n: number): string;
  /** Where a node by itself is asked; the one there is, where there is no cluster. */
  abstract get nodes(): readonly string[];
  protected abstract stop(): Promise<void>;

  async server(environment: Readonly<Record<string, string | undefined>> = {}): Promise<Server> {
    const server = new Server(this.addressOf(this.servers.length), environment);
    this.servers.push(server);
    await server.start();
    return server;
  }

  /** What the database holds, asked past the application. */
  async rows<Row>(sql: string, values: readonly unknown[] = [], node = 0): Promise<Row[]> {
    const connection = await mysql.createConnection({ uri: this.nodes[node]!, timezone: 'Z' });
    try {
      if (this.nodes.length > 1) await connection.query('SET SESSION wsrep_sync_wait = 1');
      const [rows] = await connection.query(sql, values as unknown[]);
      return rows as Row[];
    } finally {
      await connection.end();
    }
  }

  async count(what: string, values: readonly unknown[] = []): Promise<number> {
    const [row] = await this.rows<{ n: number }>(`SELECT COUNT(*) AS n FROM ${what}`, values);
    return Number(row!.n);
  }

  async close(): Promise<void> {
    for (const server of this.servers) await server.kill();
    await this.stop();
  }
}

const emptied = (name: string) => rmSync(path.join(dataFolder, name), { recursive: true, force: true });

export class OneDatabase extends World {
  private constructor(readonly database: RunningDatabase) {
    super();
  }

  static async make(name: string, options: readonly string[] = []): Promise<OneDatabase> {
    emptied(name);
    return new OneDatabase(await startDatabase(name, { options }));
  }

  get nodes(): readonly string[] {
    return [this.database.url];
  }
  protected addressOf(): string {
    return this.database.url;
  }
  protected stop(): Promise<void> {
    return this.database.stop();
  }
}

/** Three databases that hold the same; each further server works with the next of them. */
export class OnCluster extends World {
  private constructor(readonly cluster: RunningCluster) {
    super();
  }

  static async make(name: string): Promise<OnCluster> {
    emptied(name);
    return new OnCluster(await startCluster(name));
  }

  get nodes(): readonly string[] {
    return this.cluster.nodes.map(({ url }) => url);
  }
  protected addressOf(n: number): string {
    return this.cluster.urlFrom(n % this.nodes.length);
  }
  protected stop(): Promise<void> {
    return this.cluster.stop();
  }

  /** Kills a node as by a power cut, and starts it again after a while. */
  async killNode(n: number, awayMillis: number): Promise<void> {
    const node = this.cluster.nodes[n]!;
    const ended = node.ended();
    node.kill();
    await ended;
    await new Promise((resolve) => setTimeout(resolve, awayMillis));
    await node.restart();
  }
}
