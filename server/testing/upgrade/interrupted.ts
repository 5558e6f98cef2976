import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { gunzipSync } from 'node:zlib';
import { build } from 'esbuild';
import mysql from 'mysql2/promise';
import { nodeBundle } from '../../../scripts/build.mjs';
import { startDatabase, type RunningDatabase } from '../../../scripts/database.mjs';
import { dataFolder } from '../../../scripts/machine.mjs';

/**
 * Upgrades a database of version 13 with demo data in it, again and again, with the migrating server killed at another moment each time, and
 * every second time the database with it; then starts again and says whether it holds the rows that an upgrade without a kill holds.
 * Prints one line of JSON for each try.
 * @example node --import tsx interrupted.ts 10
 */
const points = Number(process.argv[2]);
const dump = gunzipSync(readFileSync(path.join(import.meta.dirname, 'demo-at-version-13.sql.gz')));
const migrations = path.join(import.meta.dirname, '..', '..', 'src', 'platform', 'database', 'migrations');

let database: RunningDatabase = await startDatabase('upgrade-test', { isInMemory: true });

function load(schema: string): string {
  const done = spawnSync('mariadb', ['--no-defaults', `--socket=${database.socket}`], {
    input: Buffer.concat([
      Buffer.from(
        `DROP DATABASE IF EXISTS ${schema}; CREATE DATABASE ${schema}; USE ${schema}; SET foreign_key_checks = 0;\n`,
      ),
      dump,
    ]),
  });
  if (done.status !== 0) throw new Error(String(done.stderr));
  return schema;
}

/** Bundled once: it is started twice for each point. */
const program = path.join(dataFolder, 'upgrade-test', 'migrate.mjs');
await build({
  stdin: {
    contents: `import { migrate } from './migrate';
      process.stdout.write('begun\\n'); await migrate(process.env.URL!, ${JSON.stringify(migrations)}); process.exit(0);`,
    resolveDir: path.dirname(migrations),
    loader: 'ts',
  },
  ...nodeBundle,
  outfile: program,
});

/** The server as far as it migrates, in a process of its own. */
function migrating(schema: string) {
  return spawn(process.execPath, [program], {
    env: { ...process.env, URL: database.urlOf(schema) },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
}

async function finish(schema: string): Promise<string> {
  const child = migrating(schema);
  let words = '';
  child.stderr.on('data', (chunk: Buffer) => (words += String(chunk)));
  const code = await new Promise((resolve) => child.once('exit', resolve));
  return code === 0 ? '' : words;
}

/** Every row of every table, as one digest for each; what says when something ran is left out. */
async function digest(schema: string): Promise<Record<string, string>> {
  const connection = await mysql.createConnection({ uri: database.urlOf(schema) });
  const [tables] = await connection.query<mysql.RowDataPacket[]>(
    "SELECT table_name AS name FROM information_schema.tables WHERE table_schema = ? AND table_type = 'BASE TABLE' ORDER BY table_name",
    [schema],
  );
  const digests: Record<string, string> = {};
  for (const { name } of tables) {
    if (['schema_version', 'migration_lease', 'migration_step', 'migration_report'].includes(String(name)))
      continue;
    const [rows] = await connection.query<mysql.RowDataPacket[]>(`SELECT * FROM \`${name}\``);
    const lines = rows.map((row) => JSON.stringify(row)).sort();
    const [[made]] = await connection.query<mysql.RowDataPacket[]>(`SHOW CREATE TABLE \`${name}\``);
    digests[String(name)] = createHash('sha256')
      .update(`${String(made?.['Create Table'])}\n${lines.join('\n')}`)
      .digest('hex');
  }
  await connection.end();
  return digests;
}

try {
  const start = performance.now();
  const words = await finish(load('kettle_whole'));
  if (words !== '') throw new Error(words);
  const whole = await digest('kettle_whole');
  // The child's own start is not part of what can be interrupted.
  const wholeMillis = performance.now() - start;
  for (let point = 1; point <= points; point += 1) {
    const schema = load('kettle_cut');
    const child = migrating(schema);
    await new Promise((resolve) => child.stdout.once('data', resolve));
    await new Promise((resolve) => setTimeout(resolve, (wholeMillis * point) / (points * 2)));
    const withDatabase = point % 2 === 0;
    if (withDatabase) database.kill();
    child.kill('SIGKILL');
    await new Promise((resolve) =>
      child.exitCode === null && child.signalCode === null ? child.once('exit', resolve) : resolve(null),
    );
    if (withDatabase) database = await startDatabase('upgrade-test', { isInMemory: true });
    const connection = await mysql.createConnection({ uri: database.urlOf(schema) });
    const [[at]] = await connection.query<mysql.RowDataPacket[]>(
      'SELECT MAX(version) AS version, (SELECT SUM(done) FROM migration_step) AS step FROM schema_version',
    );
    // The dead server's lease would end in a minute.
    await connection.query('DELETE FROM migration_lease').catch(() => undefined);
    await connection.end();
    const said = await finish(schema);
    const now = said === '' ? await digest(schema) : {};
    const different = Object.keys(whole).filter((name) => whole[name] !== now[name]);
    process.stdout.write(
      `${JSON.stringify({ point, withDatabase, killedAt: `${String(at?.version)}.${String(at?.step ?? 0)}`, said, different })}\n`,
    );
  }
} finally {
  await database.stop();
}
process.exit(0);
