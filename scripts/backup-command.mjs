// npm run backup and npm run restore: a copy of the data, also while people work, and the way back into an empty place.
import { existsSync } from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { dumpTo, restoreFrom } from './backup.mjs';
import {
  checkNode,
  dataFolder,
  ensureDebian,
  ensureFolder,
  ensurePackages,
  giveUp,
  say,
} from './machine.mjs';
import { withDatabase } from './with-database.mjs';

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
  await withDatabase(name, (from) => dumpTo(from, file));
  say(`Kept in ${file}`);
}

async function restore() {
  const [file] = positionals;
  if (file === undefined || !existsSync(file)) giveUp(`Say which copy to load. ${usage}`);
  if (process.env.KETTLE_DATABASE_URL === undefined && existsSync(path.join(dataFolder, name, 'mysql')))
    giveUp(
      `There is a database in ${path.join(dataFolder, name)} already. Move that folder away, then restore again.`,
    );
  await withDatabase(name, (into) => restoreFrom(file, into));
  say(`Restored. Start it with: npm start${asked.demo ? '' : ' -- --empty'}`);
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
