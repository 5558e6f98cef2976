import '@angular/localize/init';
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import mysql from 'mysql2/promise';
import { copyScript } from '../../scripts/copy-schema.mjs';
import { startDatabase } from '../../scripts/database.mjs';
import { dataFolder, ensureFolder } from '../../scripts/machine.mjs';

/** One database server for all route tests, with one migrated schema on it that every installation is a copy of. */
export default async function start() {
  if (process.env.KETTLE_TEST_DATABASE) return;
  const database = await startDatabase('test', { isForTests: true });
  process.env.KETTLE_TEST_DATABASE = database.urlOf('');
  globalThis.kettleTestDatabase = database;
  process.env.KETTLE_TEST_SCHEMA = await writeTemplate(database);
}

async function writeTemplate(database) {
  const { register } = await import('tsx/esm/api');
  const unregister = register();
  const { migrate } = await import('../src/platform/database/migrate.ts');
  const { openDatabase } = await import('../src/platform/database/database.ts');
  const { installCapture } = await import('../src/platform/work/capture.ts');
  await unregister();
  const connection = await mysql.createConnection({ uri: database.urlOf('') });
  await connection.query('CREATE DATABASE kettle_pool');
  await connection.query('CREATE TABLE kettle_pool.emptied (name VARCHAR(64) PRIMARY KEY) ENGINE = InnoDB');
  await connection.query('CREATE DATABASE kettle_template');
  await migrate(
    database.urlOf('kettle_template'),
    path.join(import.meta.dirname, '..', 'src', 'platform', 'database', 'migrations'),
  );
  const template = openDatabase(database.urlOf('kettle_template'), 2);
  await installCapture(template);
  await template.close();
  const file = path.join(dataFolder, 'test-schema.sql');
  ensureFolder(dataFolder);
  writeFileSync(file, await copyScript(connection, 'kettle_template'));
  await connection.end();
  return file;
}
