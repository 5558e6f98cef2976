// Copies of a database, whole while it is in use, and the way back.
import { spawn, spawnSync } from 'node:child_process';
import {
  createReadStream,
  createWriteStream,
  mkdtempSync,
  readdirSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGunzip, createGzip } from 'node:zlib';
import { dataFolder, ensureDebian, ensureFolder, findProgram, giveUp, root } from './machine.mjs';

const migrations = path.join(root, 'server', 'src', 'platform', 'database', 'migrations');

/** One moment of the database, without holding anybody up; bytes as hex, so that the file is text whatever is in it. */
const dumpWords = [
  '--single-transaction',
  '--quick',
  '--skip-lock-tables',
  '--hex-blob',
  '--triggers',
  '--no-tablespaces',
  '--order-by-primary',
  '--default-character-set=utf8mb4',
];
/** The last line of a whole dump: one that was cut off looks fine without it. */
const lastLine = '-- Dump completed';

/**
 * Writes a copy of a database into a gzipped file of SQL. The file has another name until it is whole.
 * @param from `{ socket }` of a private database, or `{ url }`
 * @throws Error with what the program said
 */
export async function dumpTo(from, file) {
  const { words, schema, forget } = connectionOf(from);
  try {
    const dump = spawn(findProgram('mariadb-dump'), [...words, ...dumpWords, schema], {
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    let said = '';
    dump.stderr.on('data', (chunk) => (said += String(chunk)));
    const ended = new Promise((resolve) => dump.once('close', resolve));
    let tail = '';
    const watch = new Transform({
      transform(chunk, _encoding, done) {
        tail = (tail + String(chunk)).slice(-400);
        done(null, chunk);
      },
    });
    await pipeline(
      dump.stdout,
      watch,
      createGzip({ level: 1 }),
      createWriteStream(`${file}.part`, { mode: 0o600 }),
    );
    if ((await ended) !== 0 || !tail.includes(lastLine))
      throw new Error(said.trim() || 'the copy ended before it was whole');
    renameSync(`${file}.part`, file);
  } finally {
    forget();
  }
}

/**
 * Loads a copy into an empty database.
 * @throws Error when there are tables in it already, or with what the program said
 */
export async function restoreFrom(file, into) {
  const { words, schema, forget } = connectionOf(into);
  try {
    const ask = spawnSync(findProgram('mariadb'), [...words, '--skip-column-names', schema], {
      input: 'SHOW TABLES;',
    });
    if (ask.status !== 0) throw new Error(String(ask.stderr).trim());
    if (String(ask.stdout).trim() !== '')
      throw new Error('There are tables in it already: a copy is loaded into an empty database only.');
    const load = spawn(findProgram('mariadb'), [...words, '--default-character-set=utf8mb4', schema], {
      stdio: ['pipe', 'ignore', 'pipe'],
    });
    let said = '';
    load.stderr.on('data', (chunk) => (said += String(chunk)));
    const ended = new Promise((resolve) => load.once('close', resolve));
    // When the program ends early, what it said is the reason, not the broken pipe.
    await pipeline(createReadStream(file), createGunzip(), load.stdin).catch((error) => {
      if (error.code !== 'EPIPE') throw error;
    });
    if ((await ended) !== 0) throw new Error(said.trim());
  } finally {
    forget();
  }
}

/** How a program is told where the database is: a password stands in a file that only we can read, never in the list of processes. */
function connectionOf({ socket, url }) {
  if (socket !== undefined)
    return { words: ['--no-defaults', `--socket=${socket}`], schema: 'kettle', forget: () => undefined };
  const { hostname, port, username, password, pathname } = new URL(url);
  const folder = mkdtempSync(path.join(os.tmpdir(), 'kettle-backup-'));
  const file = path.join(folder, 'options');
  const options = {
    host: hostname,
    port: port || 3306,
    user: decodeURIComponent(username),
    password: decodeURIComponent(password),
  };
  const lines = Object.entries(options).map(
    ([name, value]) => `${name}="${String(value).replace(/["\\]/g, '\\$&')}"`,
  );
  writeFileSync(file, `[client]\nprotocol=tcp\n${lines.join('\n')}\n`, { mode: 0o600 });
  return {
    words: [`--defaults-file=${file}`],
    schema: pathname.slice(1),
    forget: () => rmSync(folder, { recursive: true, force: true }),
  };
}

/**
 * Dumps the database `name` into its folder when the program would upgrade it. Answers with the file, or null when there is nothing to keep:
 * a new database, or one that is of the program's version.
 */
export async function backupBeforeUpgrade(name, { socket }) {
  const version = versionOf(socket);
  const program = Math.max(...readdirSync(migrations).map((file) => Number.parseInt(file, 10)));
  if (version === 0 || version >= program) return null;
  ensureDebian(['mariadb-client']);
  const folder = path.join(dataFolder, name, 'backups');
  ensureFolder(folder);
  const file = path.join(folder, `before-${program}-from-${version}.sql.gz`);
  await dumpTo({ socket }, file).catch((error) =>
    giveUp(`The database could not be kept before the upgrade: ${error.message}`),
  );
  return path.relative(root, file);
}

function versionOf(socket) {
  const asked = spawnSync(
    findProgram('mariadb'),
    ['--no-defaults', `--socket=${socket}`, '--skip-column-names', 'kettle'],
    { input: 'SELECT COALESCE(MAX(version), 0) FROM schema_version;' },
  );
  // A database without that table has never been set up.
  return asked.status === 0 ? Number(String(asked.stdout).trim()) : 0;
}
