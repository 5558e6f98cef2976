// A copy of a private database before it is upgraded, and the way back.
import { spawn, spawnSync } from 'node:child_process';
import { createWriteStream, readdirSync, renameSync } from 'node:fs';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import { createGzip } from 'node:zlib';
import { dataFolder, ensureDebian, ensureFolder, findProgram, giveUp, root } from './machine.mjs';

const migrations = path.join(root, 'server', 'src', 'platform', 'database', 'migrations');

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
  const words = [
    '--no-defaults',
    `--socket=${socket}`,
    '--single-transaction',
    '--quick',
    '--hex-blob',
    '--triggers',
  ];
  const dump = spawn(findProgram('mariadb-dump'), [...words, 'kettle'], {
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let said = '';
  dump.stderr.on('data', (chunk) => (said += String(chunk)));
  const ended = new Promise((resolve) => dump.once('close', resolve));
  // Under another name until it is whole: a copy that was cut off must not look like one.
  await pipeline(dump.stdout, createGzip({ level: 1 }), createWriteStream(`${file}.part`));
  if ((await ended) !== 0) giveUp(`The database could not be kept before the upgrade: ${said.trim()}`);
  renameSync(`${file}.part`, file);
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
