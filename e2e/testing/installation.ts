import { type ChildProcess, spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { createServer, type AddressInfo, type Server } from 'node:net';
import path from 'node:path';
import mysql from 'mysql2/promise';
import { copyScript } from '../../scripts/copy-schema.mjs';
import { keyFileOf } from '../../scripts/machine.mjs';

const root = path.resolve(import.meta.dirname, '..', '..');
const dist = path.join(root, 'server', 'dist');

/** Seeding the demo on a slow machine takes the longest. */
const patienceMillis = 180_000;

/** A Tuesday, ten past nine in London. */
export const now = '2026-11-24T09:10:00.000Z';

/** The built application in a process of its own, over a schema of its own; it can be stopped and started again. */
export class Installation {
  private server: ChildProcess | undefined;
  private standins: ChildProcess | undefined;
  private environment: Record<string, string> = {};
  url = '';
  /** Where the people outside tell what reached them. */
  outside = '';
  private constructor(readonly databaseUrl: string) {}

  /** `web` is another folder than the built interface's. With `imap`, the people outside put what they write into that mailbox, and the application reads it there. */
  static async make({ demo = false, outside = false, imap = '', web = '' } = {}): Promise<Installation> {
    const base = process.env.KETTLE_E2E_DATABASE ?? '';
    const name = `kettle_e2e_${randomBytes(6).toString('hex')}`;
    const connection = await mysql.createConnection({ uri: base, multipleStatements: true });
    await connection.query(`CREATE DATABASE ${name}; USE ${name}`);
    await connection.query(await scriptOf(demo ? 'demo' : 'empty', base));
    await connection.end();
    const installation = new Installation(`${base}${name}`);
    if (web !== '') installation.environment.KETTLE_WEB_ROOT = web;
    if (outside) await installation.openOutside(imap);
    await installation.start();
    return installation;
  }

  /** Writes the demo into an empty schema. */
  static async seed(databaseUrl: string): Promise<void> {
    const { child } = await new Installation(databaseUrl).launch('seed.mjs', /demo clock/, {});
    if (child.exitCode === null) await new Promise((resolve) => child.once('exit', resolve));
  }

  async start(): Promise<void> {
    const port = this.url === '' ? String((await freePorts(1))[0]) : new URL(this.url).port;
    const { child, words } = await this.launch('main.mjs', /^listening (\S+)/m, {
      KETTLE_PORT: port,
      ...this.environment,
    });
    this.server = child;
    this.url = /^listening (\S+)/m.exec(words)![1]!;
  }

  /** Stopped and started again with its clock at another instant; whoever is signed in was at work in between. */
  async goTo(instant: string): Promise<void> {
    await end(this.server);
    this.environment.KETTLE_NOW = instant;
    const connection = await mysql.createConnection({ uri: this.databaseUrl, timezone: 'Z' });
    const at = new Date(instant);
    await connection.query('UPDATE session SET seen_at = ?, expires_at = ? + INTERVAL 14 DAY', [at, at]);
    await connection.end();
    await this.start();
  }

  /** The server's process ends as by a power cut. What it had claimed is free at once, not when its lease of a minute ends. */
  async kill(): Promise<void> {
    const { server } = this;
    if (!server || server.exitCode !== null || server.signalCode !== null) return;
    server.kill('SIGKILL');
    await new Promise((resolve) => server.once('exit', resolve));
    const connection = await mysql.createConnection({ uri: this.databaseUrl });
    await connection.query('UPDATE job SET lease_until = NOW(3) WHERE lease_until IS NOT NULL');
    await connection.end();
  }

  async stop(): Promise<void> {
    await end(this.server);
    await end(this.standins);
  }

  /** People outside with habits, whose day passes in a second. */
  private async openOutside(imap: string): Promise<void> {
    const [port, page, smtp, mailIn] = await freePorts(4);
    const shared = {
      KETTLE_MAIL_IN_PORT: String(mailIn),
      KETTLE_MAIL_AUTHSERV: 'mx.outside.localhost',
      KETTLE_GATEWAY_SECRET: randomBytes(16).toString('hex'),
    };
    const { child } = await this.launch('standins.mjs', /^standing in/m, {
      ...shared,
      STANDINS_PORT: String(page),
      STANDINS_SMTP_PORT: String(smtp),
      STANDINS_SPEED: '1440',
      KETTLE_HOOK_URL: `http://127.0.0.1:${port}/out/hooks`,
      ...(imap === '' ? {} : { STANDINS_IMAP_URL: imap }),
    });
    this.standins = child;
    this.url = `http://127.0.0.1:${port}`;
    this.outside = `http://127.0.0.1:${page}`;
    this.environment = {
      ...shared,
      ...(imap === '' ? {} : { KETTLE_IMAP_URL: imap, KETTLE_IMAP_SECONDS: '1' }),
      KETTLE_SMTP_URL: `smtp://127.0.0.1:${smtp}?starttls=no`,
      KETTLE_PHONE_URL: this.outside,
      KETTLE_TEXT_URL: this.outside,
      KETTLE_INSIDE_ALLOWED: new URL(this.outside).host,
    };
  }

  private launch(
    file: string,
    until: RegExp,
    environment: Record<string, string>,
  ): Promise<{ child: ChildProcess; words: string }> {
    const env = {
      ...process.env,
      KETTLE_DATABASE_URL: this.databaseUrl,
      KETTLE_KEY_FILE: keyFileOf('journeys'),
      KETTLE_NOW: now,
      KETTLE_LOG: 'error',
      KETTLE_WEB_ROOT: path.join(root, 'web', 'dist', 'browser'),
      KETTLE_CHECK_REPLIES: 'true',
      ...environment,
    };
    const child = spawn(process.execPath, [path.join(dist, file)], {
      env,
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    let words = '';
    return new Promise((resolve, reject) => {
      const late = setTimeout(
        () => reject(new Error(`${file} was not ready in ${patienceMillis / 1000} s: ${words}`)),
        patienceMillis,
      );
      child.stdout.on('data', (chunk: Buffer) => {
        words += String(chunk);
        if (!until.test(words)) return;
        clearTimeout(late);
        resolve({ child, words });
      });
      child.once('exit', (code) => {
        clearTimeout(late);
        reject(new Error(`${file} ended with ${code}: ${words}`));
      });
    });
  }
}

/** How an installation begins: with the demo, or with nothing but its tables, as a first start leaves them. */
export interface Beginnings {
  readonly demo: string;
  readonly empty: string;
}

/** Both are written once for each database server; what copies them is kept beside the reports. */
async function scriptOf(which: keyof Beginnings, base: string): Promise<string> {
  const known = { demo: process.env.KETTLE_E2E_DEMO, empty: process.env.KETTLE_E2E_EMPTY }[which];
  return known ? readFileSync(known, 'utf8') : (await writeBeginnings(base))[which];
}

/** Seeds the demo into a schema of its own and returns the scripts that copy it, and its tables alone: migrating takes minutes where all are at it. */
export async function writeBeginnings(base: string): Promise<Beginnings> {
  const name = 'kettle_demo';
  const connection = await mysql.createConnection({ uri: base });
  await connection.query(`CREATE DATABASE ${name}`);
  await Installation.seed(`${base}${name}`);
  const demo = await copyScript(connection, name);
  const empty = await copyScript(connection, name, { rowsOf: ['schema_version', 'migration_step'] });
  await connection.end();
  return { demo, empty };
}

async function end(child: ChildProcess | undefined): Promise<void> {
  if (!child || child.exitCode !== null || child.signalCode !== null) return;
  child.kill('SIGTERM');
  await new Promise((resolve) => child.once('exit', resolve));
}

/** Ports that were free a moment ago. */
async function freePorts(count: number): Promise<number[]> {
  const servers = await Promise.all(
    Array.from(
      { length: count },
      () =>
        new Promise<Server>((resolve) => {
          const server = createServer().listen(0, '127.0.0.1', () => resolve(server));
        }),
    ),
  );
  const ports = servers.map((server) => (server.address() as AddressInfo).port);
  await Promise.all(servers.map((server) => new Promise((resolve) => server.close(resolve))));
  return ports;
}
