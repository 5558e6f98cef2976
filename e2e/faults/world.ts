import { type ChildProcess, spawn } from 'node:child_process';
import { rmSync } from 'node:fs';
import path from 'node:path';
import mysql from 'mysql2/promise';
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

/** A database with its files on disk, as safe as that of an installation, and the servers over one schema of it. */
export class World {
  readonly servers: Server[] = [];

  private constructor(
    readonly database: RunningDatabase,
    readonly databaseUrl: string,
  ) {}

  static async make(name: string, options: readonly string[] = []): Promise<World> {
    rmSync(path.join(dataFolder, name), { recursive: true, force: true });
    const database = await startDatabase(name, { options });
    return new World(database, database.url);
  }

  async server(environment: Readonly<Record<string, string | undefined>> = {}): Promise<Server> {
    const server = new Server(this.databaseUrl, environment);
    this.servers.push(server);
    await server.start();
    return server;
  }

  /** What the database holds, asked past the application. */
  async rows<Row>(sql: string, values: readonly unknown[] = []): Promise<Row[]> {
    const connection = await mysql.createConnection({ uri: this.databaseUrl, timezone: 'Z' });
    try {
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
    await this.database.stop();
  }
}
