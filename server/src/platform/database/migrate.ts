import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import mysql from 'mysql2/promise';
import { newId } from '../ids';
import { isConflict } from './database';
import { foreignKeysOf, restoreForeignKeys, type ForeignKey } from './foreign-keys';
import { Nodes } from './nodes';
import { statementsOf } from './statements';

const leaseSeconds = 60;
const renewMillis = 15_000;
const waitMillis = 500;

/**
 * Brings the database to the program's version: numbered files, each once, statement by statement, under a leased row so that two servers
 * that start together do not meet. A server or database that dies in the middle goes on with the statement it was at: each statement is one
 * atomic step, and how many of a file are done stands in `migration_step`.
 * @returns the version the database is at
 * @throws Error in one sentence when the database is newer than the program or a file was edited after it ran.
 */
export async function migrate(url: string, folder: string): Promise<number> {
  const connection = await connect(url);
  const token = newId<string>();
  try {
    const lease = await takeLease(connection, url, token);
    try {
      return await runFiles(connection, folder);
    } finally {
      await lease.end();
    }
  } finally {
    await connection.query('DELETE FROM migration_lease WHERE token = ?', [token]).catch(() => undefined);
    await connection.end();
  }
}

/** To the first node of a cluster that answers. */
async function connect(url: string): Promise<mysql.Connection> {
  const nodes = new Nodes(url);
  if (!nodes.isCluster) return mysql.createConnection({ uri: nodes.uri, timezone: 'Z' });
  for (let left = nodes.count - 1; ; left -= 1)
    try {
      const connection = await mysql.createConnection({
        ...{ uri: nodes.uri, timezone: 'Z' },
        stream: nodes.stream,
        connectTimeout: 5_000,
      });
      // A statement waits for what another server did at another node.
      await connection.query('SET SESSION wsrep_sync_wait = 15');
      return connection;
    } catch (error) {
      if (left === 0) throw error;
    }
}

async function takeLease(
  connection: mysql.Connection,
  url: string,
  token: string,
): Promise<{ end(): Promise<void> }> {
  await connection.query(
    'CREATE TABLE IF NOT EXISTS migration_lease (only_one TINYINT PRIMARY KEY, token CHAR(36) NOT NULL, lease_until DATETIME(3) NOT NULL) ENGINE = InnoDB',
  );
  for (;;) {
    try {
      await connection.query('DELETE FROM migration_lease WHERE lease_until < NOW(3)');
      const [result] = await connection.query<mysql.ResultSetHeader>(
        `INSERT IGNORE INTO migration_lease (only_one, token, lease_until) VALUES (1, ?, NOW(3) + INTERVAL ${leaseSeconds} SECOND)`,
        [token],
      );
      if (result.affectedRows === 1) break;
    } catch (error) {
      // Another server took it at the same moment, at another node.
      if (!isConflict(error)) throw error;
    }
    await new Promise((resolve) => setTimeout(resolve, waitMillis));
  }
  // On a connection of its own: a long statement must not let the lease run out.
  const keeper = await connect(url);
  const timer = setInterval(() => {
    keeper
      .query(
        `UPDATE migration_lease SET lease_until = NOW(3) + INTERVAL ${leaseSeconds} SECOND WHERE token = ?`,
        [token],
      )
      .catch(() => undefined);
  }, renewMillis);
  return {
    end: async () => {
      clearInterval(timer);
      await keeper.end().catch(() => undefined);
    },
  };
}

interface MigrationFile {
  readonly version: number;
  readonly name: string;
  readonly md5: string;
  readonly statements: readonly string[];
}

function readFiles(folder: string): MigrationFile[] {
  return readdirSync(folder)
    .flatMap((file) => {
      const found = /^(\d+)\.do\.(.+)\.sql$/.exec(file);
      if (!found) return [];
      const text = readFileSync(path.join(folder, file), 'utf8');
      return [
        {
          version: Number(found[1]),
          name: found[2]!,
          md5: createHash('md5').update(text).digest('hex'),
          statements: statementsOf(text),
        },
      ];
    })
    .sort((one, other) => one.version - other.version);
}

async function runFiles(connection: mysql.Connection, folder: string): Promise<number> {
  await connection.query(
    'CREATE TABLE IF NOT EXISTS schema_version (version BIGINT PRIMARY KEY, name TEXT, md5 TEXT, run_at TIMESTAMP NULL)',
  );
  await connection.query(
    'CREATE TABLE IF NOT EXISTS migration_step (version INT PRIMARY KEY, done INT NOT NULL) ENGINE = InnoDB',
  );
  await connection.query('ALTER TABLE migration_step ADD COLUMN IF NOT EXISTS keys_before LONGTEXT NULL');
  const files = readFiles(folder);
  const [ran] = await connection.query<mysql.RowDataPacket[]>(
    'SELECT version, md5 FROM schema_version WHERE version > 0 ORDER BY version',
  );
  const program = files.at(-1)?.version ?? 0;
  const database = Number(ran.at(-1)?.version ?? 0);
  if (database > program)
    throw new Error(
      `The database is at version ${database}, this program knows only ${program}. Start the newer program, or restore an older backup.`,
    );
  for (const file of files) {
    const known = ran.find(({ version }) => Number(version) === file.version);
    if (known && known.md5 !== file.md5)
      throw new Error(
        `Migration ${file.version} was edited after it had run. Put the file back as it was and add a new one instead.`,
      );
    if (!known) await runFile(connection, file);
  }
  return program;
}

async function runFile(connection: mysql.Connection, file: MigrationFile): Promise<void> {
  await connection.query('INSERT IGNORE INTO migration_step (version, done) VALUES (?, 0)', [file.version]);
  const [[step]] = await connection.query<mysql.RowDataPacket[]>(
    'SELECT done, keys_before FROM migration_step WHERE version = ?',
    [file.version],
  );
  const done = Number(step?.done ?? 0);
  const keysBefore = JSON.parse(String(step?.keys_before ?? '[]')) as ForeignKey[];
  for (let at = done; at < file.statements.length; at += 1)
    try {
      await runStatement(connection, file, at, at === done ? keysBefore : undefined);
    } catch (error) {
      const words = error instanceof Error ? error.message : String(error);
      throw new Error(
        `The database could not be brought up to date (migration ${file.version}, step ${at + 1}): ${words}`,
        { cause: error },
      );
    }
  await connection.beginTransaction();
  await connection.query('REPLACE INTO schema_version (version, name, md5, run_at) VALUES (?, ?, ?, NOW())', [
    file.version,
    file.name,
    file.md5,
  ]);
  await connection.query('DELETE FROM migration_step WHERE version = ?', [file.version]);
  await connection.commit();
}

/**
 * Rows are written in one transaction with the counter. A statement that changes tables commits by itself: the counter follows it.
 * @param keysBefore when the statement may have been begun already: the foreign keys that were there before it
 */
async function runStatement(
  connection: mysql.Connection,
  { version, statements }: MigrationFile,
  at: number,
  keysBefore: readonly ForeignKey[] | undefined,
): Promise<void> {
  const sql = statements[at]!;
  const count = () =>
    connection.query('UPDATE migration_step SET done = ?, keys_before = NULL WHERE version = ?', [
      at + 1,
      version,
    ]);
  if (/^(INSERT|UPDATE|DELETE|REPLACE)\b/i.test(sql)) {
    await connection.beginTransaction();
    await connection.query(sql);
    await count();
    await connection.commit();
    return;
  }
  if (/^ALTER\b/i.test(sql) && !keysBefore?.length)
    await connection.query('UPDATE migration_step SET keys_before = ? WHERE version = ?', [
      JSON.stringify(await foreignKeysOf(connection)),
      version,
    ]);
  await connection.query(sql).catch((error: { errno?: number }) => {
    // Killed between the statement and the counter: what the statement makes is there already, or what it drops has gone.
    if (!keysBefore || !doneAlready.has(error.errno ?? 0)) throw error;
  });
  if (keysBefore) await restoreForeignKeys(connection, keysBefore, sql);
  await count();
}

/** Table, column, key or constraint that exists already or does not exist any more. */
const doneAlready = new Set([1050, 1051, 1054, 1060, 1061, 1091, 1826, 4161]);
