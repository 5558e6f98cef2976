import { cpSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { makeSchema, migrations } from '../../../testing/installation';
import { openDatabase } from './database';
import { migrate } from './migrate';

let schema: Awaited<ReturnType<typeof makeSchema>>;
const begin = async (...holds: Parameters<typeof makeSchema>) => {
  schema = await makeSchema(...holds);
};
/** As the migrations left it. */
const beginMigrated = () => begin('tables of its own');
afterEach(() => schema.drop());

const latest = readdirSync(migrations).length;

/** A copy of the migrations that a test may change. */
function copyFolder(): string {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'kettle-migrations-'));
  cpSync(migrations, folder, { recursive: true });
  return folder;
}

test('two servers that start together bring the database up once', async () => {
  await begin();
  expect(await Promise.all([migrate(schema.url, migrations), migrate(schema.url, migrations)])).toEqual([
    latest,
    latest,
  ]);
  const database = openDatabase(schema.url);
  const versions = await database.rows<{ version: number }>(
    'SELECT version FROM schema_version WHERE version > 0 ORDER BY version',
  );
  expect(versions.map((row) => Number(row.version))).toEqual(
    Array.from({ length: latest }, (_, index) => index + 1),
  );
  await database.close();
});

test('a second start changes nothing', async () => {
  await beginMigrated();
  expect(await migrate(schema.url, migrations)).toBe(latest);
});

test('a foreign key that a killed ALTER lost is there again after the next start', async () => {
  await beginMigrated();
  const folder = copyFolder();
  const next = latest + 1;
  writeFileSync(
    path.join(folder, `${String(next).padStart(3, '0')}.do.more.sql`),
    `CREATE TABLE parent (id INT PRIMARY KEY) ENGINE = InnoDB;
     CREATE TABLE child (id INT PRIMARY KEY, parent_id INT NULL, other_id INT NULL,
       CONSTRAINT kept FOREIGN KEY (parent_id) REFERENCES parent (id) ON DELETE CASCADE,
       CONSTRAINT given_up FOREIGN KEY (other_id) REFERENCES parent (id)) ENGINE = InnoDB;
     ALTER TABLE child DROP FOREIGN KEY given_up, ADD COLUMN IF NOT EXISTS n INT NULL, ADD CONSTRAINT IF NOT EXISTS n_range CHECK (n > 0);
     ALTER TABLE no_such_table ADD COLUMN n INT;`,
  );
  const database = openDatabase(schema.url);
  const keys = () =>
    database.rows(
      "SELECT constraint_name AS name, delete_rule AS rule FROM information_schema.referential_constraints WHERE constraint_schema = DATABASE() AND table_name = 'child'",
    );
  await expect(migrate(schema.url, folder)).rejects.toThrow(`migration ${next}, step 4`);
  const kept = [{ name: 'kept', rule: 'CASCADE' }];
  expect(await keys()).toEqual(kept);
  // As a database comes back that was killed while it copied the table: the statement has run, its counter has not, and a key is gone.
  const before = [
    {
      table: 'child',
      name: 'kept',
      columns: '`parent_id`',
      parent: 'parent',
      parentColumns: '`id`',
      onDelete: 'CASCADE',
      onUpdate: 'RESTRICT',
    },
    {
      table: 'child',
      name: 'given_up',
      columns: '`other_id`',
      parent: 'parent',
      parentColumns: '`id`',
      onDelete: 'RESTRICT',
      onUpdate: 'RESTRICT',
    },
  ];
  await database.change('ALTER TABLE child DROP FOREIGN KEY kept');
  await database.change('UPDATE migration_step SET done = 2, keys_before = :before', {
    before: JSON.stringify(before),
  });
  await expect(migrate(schema.url, folder)).rejects.toThrow(`migration ${next}, step 4`);
  expect(await keys()).toEqual(kept);
  await database.close();
});

test('a database that is newer than the program is refused', async () => {
  await beginMigrated();
  const folder = copyFolder();
  writeFileSync(
    path.join(folder, `${String(latest + 1).padStart(3, '0')}.do.newer.sql`),
    'CREATE TABLE newer (id INT PRIMARY KEY) ENGINE = InnoDB;',
  );
  await migrate(schema.url, folder);
  await expect(migrate(schema.url, migrations)).rejects.toThrow(
    `The database is at version ${latest + 1}, this program knows only ${latest}.`,
  );
});

test('a file edited after it ran is refused by its number', async () => {
  await beginMigrated();
  const folder = copyFolder();
  const file = path.join(folder, '002.do.people.sql');
  writeFileSync(file, `${readFileSync(file, 'utf8')}\n-- a late thought\n`);
  await expect(migrate(schema.url, folder)).rejects.toThrow('Migration 2 was edited after it had run.');
});

test('every table is InnoDB with a primary key', async () => {
  await beginMigrated();
  const database = openDatabase(schema.url);
  const tables = await database.rows<{ table_name: string; engine: string; keys: string }>(
    `SELECT t.table_name AS table_name, t.engine AS engine,
            (SELECT COUNT(*) FROM information_schema.statistics s WHERE s.table_schema = t.table_schema AND s.table_name = t.table_name AND s.index_name = 'PRIMARY') AS \`keys\`
       FROM information_schema.tables t WHERE t.table_schema = DATABASE() AND t.table_name <> 'schema_version'`,
  );
  expect(tables.length).toBeGreaterThan(15);
  expect(tables.filter((table) => table.engine !== 'InnoDB' || Number(table.keys) === 0)).toEqual([]);
  await database.close();
});

describe('the database’s door', () => {
  beforeEach(() => begin());

  test('a forgotten parameter is a fault, not a NULL', async () => {
    const database = openDatabase(schema.url);
    await expect(database.rows('SELECT :one', { one: undefined as never })).rejects.toThrow(
      'parameter one is missing',
    );
    await database.close();
  });

  test('a deadlock runs the whole transaction again', async () => {
    const database = openDatabase(schema.url);
    await database.change('CREATE TABLE pair (id INT PRIMARY KEY, n INT NOT NULL) ENGINE = InnoDB');
    await database.change('INSERT INTO pair VALUES (1, 0), (2, 0)');
    const addBoth = (first: number, second: number) =>
      database.transaction(async (tx) => {
        await tx.change('UPDATE pair SET n = n + 1 WHERE id = :first', { first });
        await new Promise((resolve) => setTimeout(resolve, 80));
        await tx.change('UPDATE pair SET n = n + 1 WHERE id = :second', { second });
      });
    await Promise.all([addBoth(1, 2), addBoth(2, 1)]);
    expect(await database.rows('SELECT n FROM pair ORDER BY id')).toEqual([{ n: 2 }, { n: 2 }]);
    await database.close();
  });

  test('a database that is away is told as such', async () => {
    const database = openDatabase('mysql://nobody:x@127.0.0.1:9/kettle');
    await expect(database.rows('SELECT 1')).rejects.toMatchObject({ code: 'database-away', status: 503 });
    await database.close();
  });
});
