// npm run backup and npm run restore: a copy of the data, also while people work, and the way back into an empty place.
import { existsSync } from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { dumpTo, restoreFrom } from './backup.mjs';
import { runningSocketOf, startDatabase } from './database.mjs';
import {
  checkNode,
  dataFolder,
  ensureDebian,
  ensureFolder,
  ensurePackages,
  giveUp,
  say,
} from './machine.mjs';

const usage = 'npm run backup [-- --demo] [-- --to FILE], or npm run restore -- FILE [--demo]';
const [act, ...words] = process.argv.slice(2);
const { values: asked, positionals } = readArguments();

checkNode();
ensurePackages();
ensureDebian(['mariadb-server-core', 'mariadb-client-core', 'mariadb-client']);
const name = asked.demo ? 'demo' : 'empty';

try {
  if (act === 'backup') await backup();
  else await restore();
} catch (error) {
  giveUp(error instanceof Error ? error.message : String(error));
}

async function backup() {
  if (positionals.length > 0)
    giveUp(`Say where it is kept with --to: npm run backup -- --to ${positionals[0]}`);
  const folder = path.join(dataFolder, name, 'backups');
  const day = new Date().toISOString().slice(0, 19).replaceAll(':', '');
  const file = path.resolve(asked.to ?? path.join(folder, `${day}.sql.gz`));
  ensureFolder(path.dirname(file));
  if (process.env.KETTLE_DATABASE_URL === undefined && !existsSync(path.join(dataFolder, name, 'mysql')))
    giveUp(`There is no database in ${path.join(dataFolder, name)} yet. ${usage}`);
  await withDatabase((from) => dumpTo(from, file));
  say(`Kept in ${file}`);
}

async function restore() {
  const [file] = positionals;
  if (file === undefined || !existsSync(file)) giveUp(`Say which copy to load. ${usage}`);
  if (process.env.KETTLE_DATABASE_URL === undefined && existsSync(path.join(dataFolder, name, 'mysql')))
    giveUp(
      `There is a database in ${path.join(dataFolder, name)} already. Move that folder away, then restore again.`,
    );
  await withDatabase((into) => restoreFrom(file, into));
  say(`Restored. Start it with: npm start${asked.demo ? '' : ' -- --empty'}`);
}

/** The database that is set, the private one that runs, or the private one started for as long as this takes. */
async function withDatabase(work) {
  if (process.env.KETTLE_DATABASE_URL !== undefined) return work({ url: process.env.KETTLE_DATABASE_URL });
  const socket = await runningSocketOf(name);
  if (socket !== null) return work({ socket });
  const database = await startDatabase(name);
  try {
    return await work({ socket: database.socket });
  } finally {
    await database.stop();
  }
}

function readArguments() {
  try {
    return parseArgs({
      args: words,
      allowPositionals: true,
      options: { demo: { type: 'boolean', default: false }, to: { type: 'string' } },
    });
  } catch (error) {
    return giveUp(`${error.message} ${usage}`);
  }
}
