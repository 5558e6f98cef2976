// npm run archive: everything as lines of JSON with files beside them, and the way back into an empty place.
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { buildArchive, built } from './build.mjs';
import { checkNode, dataFolder, ensureDebian, ensurePackages, giveUp, root } from './machine.mjs';
import { withDatabase } from './with-database.mjs';

const usage = 'npm run archive -- out FOLDER [--demo], or npm run archive -- in FOLDER [--demo]';

checkNode();
ensurePackages();
ensureDebian(['mariadb-server-core', 'mariadb-client-core']);
const { act, folder, name } = readArguments();

try {
  const mayBegin = act === 'in' || process.env.KETTLE_DATABASE_URL !== undefined;
  if (!mayBegin && !existsSync(path.join(dataFolder, name, 'mysql')))
    giveUp(`There is no database in ${path.join(dataFolder, name)} yet. ${usage}`);
  await buildArchive();
  process.exitCode = await withDatabase(name, ({ url }) => run(url));
} catch (error) {
  giveUp(error instanceof Error ? error.message : String(error));
}

function run(url) {
  const { status } = spawnSync(
    process.execPath,
    ['--enable-source-maps', built.archive, act, path.resolve(folder)],
    {
      cwd: root,
      env: {
        ...process.env,
        KETTLE_DATABASE_URL: url,
        KETTLE_MIGRATIONS: path.join(root, 'server', 'src', 'platform', 'database', 'migrations'),
      },
      stdio: 'inherit',
    },
  );
  return status ?? 1;
}

function readArguments() {
  try {
    const { values, positionals } = parseArgs({
      allowPositionals: true,
      options: { demo: { type: 'boolean', default: false } },
    });
    const [said, where, ...more] = positionals;
    if ((said !== 'out' && said !== 'in') || where === undefined || more.length > 0)
      giveUp(`Say what to do. ${usage}`);
    return { act: said, folder: where, name: values.demo ? 'demo' : 'empty' };
  } catch (error) {
    return giveUp(`${error.message} ${usage}`);
  }
}
