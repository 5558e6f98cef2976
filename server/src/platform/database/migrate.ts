import path from 'node:path';
import mysql from 'mysql2/promise';
import Postgrator from 'postgrator';
import { newId } from '../ids';

const leaseSeconds = 120;
const waitMillis = 500;

/**
 * Brings the database to the program's version: numbered files, each once, under a leased row so that two servers that
 * start together do not meet.
 * @throws Error in one sentence when the database is newer than the program or a file was edited after it ran.
 */
export async function migrate(url: string, folder: string): Promise<number> {
  const connection = await mysql.createConnection({
    uri: url.replace(/^mariadb:/, 'mysql:'),
    multipleStatements: true,
    timezone: 'Z',
  });
  const token = newId<string>();
  try {
    await takeLease(connection, token);
    return await runFiles(connection, folder);
  } finally {
    await connection.query('DELETE FROM migration_lease WHERE token = ?', [token]).catch(() => undefined);
    await connection.end();
  }
}

async function takeLease(connection: mysql.Connection, token: string): Promise<void> {
  await connection.query(
    'CREATE TABLE IF NOT EXISTS migration_lease (only_one TINYINT PRIMARY KEY, token CHAR(36) NOT NULL, lease_until DATETIME(3) NOT NULL) ENGINE = InnoDB',
  );
  for (;;) {
    await connection.query('DELETE FROM migration_lease WHERE lease_until < NOW(3)');
    const [result] = await connection.query<mysql.ResultSetHeader>(
      `INSERT IGNORE INTO migration_lease (only_one, token, lease_until) VALUES (1, ?, NOW(3) + INTERVAL ${leaseSeconds} SECOND)`,
      [token],
    );
    if (result.affectedRows === 1) return;
    await new Promise((resolve) => setTimeout(resolve, waitMillis));
  }
}

async function runFiles(connection: mysql.Connection, folder: string): Promise<number> {
  const [[row]] = await connection.query<mysql.RowDataPacket[]>('SELECT DATABASE() AS name');
  const files = new Postgrator({
    migrationPattern: path.join(folder, '*.sql'),
    driver: 'mysql',
    database: String(row?.name),
    schemaTable: 'schema_version',
    validateChecksums: true,
    execQuery: async (query: string) => {
      const [rows, fields] = await connection.query(query);
      return { rows: rows as never[], fields };
    },
  });
  const program = await files.getMaxVersion();
  const database = await files.getDatabaseVersion();
  if (database > program)
    throw new Error(
      `The database is at version ${database}, this program knows only ${program}. Start the newer program, or restore an older backup.`,
    );
  try {
    await files.migrate();
  } catch (error) {
    const words = error instanceof Error ? error.message : String(error);
    const edited = /MD5 checksum failed for migration \[(\d+)\]/.exec(words);
    if (!edited) throw new Error(`The database could not be brought up to date: ${words}`, { cause: error });
    throw new Error(
      `Migration ${edited[1]} was edited after it had run. Put the file back as it was and add a new one instead.`,
      { cause: error },
    );
  }
  return program;
}
