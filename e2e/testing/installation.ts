import { type ChildProcess, spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import path from 'node:path';
import mysql from 'mysql2/promise';

const root = path.resolve(import.meta.dirname, '..', '..');
const dist = path.join(root, 'server', 'dist');

/** A Tuesday, ten past nine in London. */
export const now = '2026-11-24T09:10:00.000Z';

/** The built application in a process of its own, over a schema of its own; it can be stopped and started again. */
export class Installation {
  private server: ChildProcess | undefined;
  url = '';
  private constructor(private readonly databaseUrl: string) {}

  static async make({ demo = false } = {}): Promise<Installation> {
    const base = process.env.KETTLE_E2E_DATABASE ?? '';
    const name = `kettle_e2e_${randomBytes(6).toString('hex')}`;
    const connection = await mysql.createConnection({ uri: base });
    await connection.query(`CREATE DATABASE ${name}`);
    await connection.end();
    const installation = new Installation(`${base}${name}`);
    if (demo) await installation.run('seed.mjs', /demo clock/);
    await installation.start();
    return installation;
  }

  async start(): Promise<void> {
    const port = this.url === '' ? '0' : new URL(this.url).port;
    const { child, words } = await this.launch('main.mjs', /^listening (\S+)/m, { KETTLE_PORT: port });
    this.server = child;
    this.url = /^listening (\S+)/m.exec(words)![1]!;
  }

  async stop(): Promise<void> {
    const { server } = this;
    if (!server || server.exitCode !== null) return;
    server.kill('SIGTERM');
    await new Promise((resolve) => server.once('exit', resolve));
  }

  private async run(file: string, until: RegExp): Promise<void> {
    const { child } = await this.launch(file, until, {});
    if (child.exitCode === null) await new Promise((resolve) => child.once('exit', resolve));
  }

  private launch(
    file: string,
    until: RegExp,
    environment: Record<string, string>,
  ): Promise<{ child: ChildProcess; words: string }> {
    const env = {
      ...process.env,
      KETTLE_DATABASE_URL: this.databaseUrl,
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
      child.stdout.on('data', (chunk: Buffer) => {
        words += String(chunk);
        if (until.test(words)) resolve({ child, words });
      });
      child.once('exit', (code) => reject(new Error(`${file} ended with ${code}: ${words}`)));
    });
  }
}
