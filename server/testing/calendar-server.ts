import { spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';

/** A server of calendars that answers on loopback. */
export interface CalendarServer {
  /** Where whoever signs in begins. */
  readonly url: string;
  /** `127.0.0.1:port`. */
  readonly host: string;
  readonly password: string;
  /** The calendar that somebody has, ready to be used. */
  calendarOf(login: string): Promise<string>;
  close(): Promise<void>;
}

const patienceMillis = 20_000;

/** Debian's server of calendars, with the accounts that are asked for. */
export async function radicale(logins: readonly string[]): Promise<CalendarServer> {
  const folder = mkdtempSync(path.join(tmpdir(), 'kettle-calendars-'));
  const port = await freePort();
  const password = 'radishes';
  mkdirSync(path.join(folder, 'kept'));
  writeFileSync(path.join(folder, 'users'), logins.map((login) => `${login}:${password}\n`).join(''));
  const setting = path.join(folder, 'config');
  writeFileSync(
    setting,
    `[server]\nhosts = 127.0.0.1:${port}\n[auth]\ntype = htpasswd\nhtpasswd_filename = ${folder}/users\nhtpasswd_encryption = plain\ndelay = 0
[rights]\ntype = owner_only\n[storage]\nfilesystem_folder = ${folder}/kept\n[web]\ntype = none\n[logging]\nlevel = warning\n`,
  );
  const child = spawn('/usr/bin/python3', ['-m', 'radicale', '--config', setting], {
    stdio: ['ignore', 'ignore', 'pipe'],
  });
  let words = '';
  child.stderr.on('data', (chunk: Buffer) => (words += String(chunk)));
  const url = `http://127.0.0.1:${port}/`;
  for (const until = Date.now() + patienceMillis; ;) {
    if (child.exitCode !== null || Date.now() > until) throw new Error(`no calendar server: ${words}`);
    if (
      await fetch(url).then(
        () => true,
        () => false,
      )
    )
      break;
    await sleep(50);
  }
  return {
    ...{ url, host: `127.0.0.1:${port}`, password },
    calendarOf: async (login) => {
      const address = `${url}${login}/work/`;
      await fetch(address, {
        method: 'MKCALENDAR',
        headers: { authorization: `Basic ${Buffer.from(`${login}:${password}`).toString('base64')}` },
      });
      return address;
    },
    close: async () => {
      const ended = new Promise((resolve) => child.once('exit', resolve));
      child.kill('SIGTERM');
      await ended;
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

async function freePort(): Promise<number> {
  const server = createServer();
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const { port } = server.address() as AddressInfo;
  await new Promise((resolve) => server.close(resolve));
  return port;
}
