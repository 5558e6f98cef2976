import mysql from 'mysql2/promise';
import type { Pool, PoolConnection, QueryValues, ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import { Problem } from '../problem';
import { bytesOf } from '../ids';

export type SqlValue =
  string | number | boolean | null | Buffer | readonly (string | number | Buffer)[] | readonly SqlValue[][];
export type SqlParameters = Readonly<Record<string, SqlValue>>;

/** What statements run on: the pool, or the connection of a transaction. */
export interface Queryable {
  /** Rows of a SELECT (or RETURNING), typed by the caller, who names the columns in the statement. */
  rows<Row>(sql: string, parameters?: SqlParameters): Promise<Row[]>;
  /** Runs a change and tells how many rows it met. */
  change(sql: string, parameters?: SqlParameters): Promise<number>;
}

export interface TransactionOptions {
  /** Rows written are captured under this change set; left out, nothing is captured. */
  readonly setId?: string;
}

export interface Database extends Queryable {
  /**
   * Runs `work` in one transaction and commits. A deadlock, lock time-out or certification failure runs the whole of it
   * again, so `work` must do nothing outside the transaction.
   */
  transaction<Result>(
    work: (tx: Queryable) => Promise<Result>,
    options?: TransactionOptions,
  ): Promise<Result>;
  readonly pool: Pool;
  /** The schema's name. */
  readonly name: string;
  close(): Promise<void>;
}

const retriedErrors = new Set([1213, 1205, 1020]);
const mostAttempts = 6;

export function openDatabase(url: string, connectionLimit = 10): Database {
  const pool = mysql.createPool({
    uri: url.replace(/^mariadb:/, 'mysql:'),
    connectionLimit,
    timezone: 'Z',
    namedPlaceholders: true,
    supportBigNumbers: true,
    dateStrings: true,
    jsonStrings: true,
    charset: 'utf8mb4',
    connectTimeout: 5_000,
  });
  pool.pool.on('connection', (connection) => {
    connection.query("SET time_zone = '+00:00', NAMES utf8mb4 COLLATE utf8mb4_uca1400_ai_ci");
    // A statement after a lock must see what the holder before committed: use cases lock a row and then read around it.
    connection.query('SET SESSION TRANSACTION ISOLATION LEVEL READ COMMITTED');
  });
  return {
    ...queryable(pool),
    pool,
    name: new URL(url).pathname.slice(1),
    transaction: (work, options) => runTransaction(pool, work, options),
    close: () => pool.end(),
  };
}

function queryable(on: Pool | PoolConnection): Queryable {
  return {
    async rows<Row>(sql: string, parameters: SqlParameters = {}) {
      const [rows] = await reachable(() => on.query<RowDataPacket[]>(sql, checked(sql, parameters)));
      return rows as Row[];
    },
    async change(sql, parameters = {}) {
      const [result] = await reachable(() => on.query<ResultSetHeader>(sql, checked(sql, parameters)));
      return result.affectedRows;
    },
  };
}

/** The driver sends a forgotten parameter as NULL without a word; here it is a fault. */
function checked(sql: string, parameters: SqlParameters): QueryValues {
  for (const [name, value] of Object.entries(parameters))
    if (value === undefined) throw new Error(`parameter ${name} is missing in: ${sql.slice(0, 80)}`);
  // The driver's type wants mutable values; it only reads them.
  return parameters as QueryValues;
}

async function runTransaction<Result>(
  pool: Pool,
  work: (tx: Queryable) => Promise<Result>,
  { setId }: TransactionOptions = {},
): Promise<Result> {
  for (let attempt = 1; ; attempt += 1) {
    const connection = await reachable(() => pool.getConnection());
    try {
      if (setId !== undefined)
        // Without autocommit the next statement begins the transaction.
        await reachable(() =>
          connection.query('SET @kettle_set = ?, @kettle_at = 0, autocommit = 0', [bytesOf(setId)]),
        );
      else await connection.beginTransaction();
      const result = await work(queryable(connection));
      await connection.commit();
      if (setId !== undefined) await endCapture(connection);
      connection.release();
      return result;
    } catch (error) {
      await connection
        .rollback()
        .then(() => (setId === undefined ? undefined : endCapture(connection)))
        .then(
          () => connection.release(),
          () => connection.destroy(),
        );
      if (attempt >= mostAttempts || !retriedErrors.has(errnoOf(error))) throw error;
      await new Promise((resolve) => setTimeout(resolve, 10 * 2 ** attempt * Math.random()));
    }
  }
}

/** What the next user of the connection writes is not part of this set. */
async function endCapture(connection: PoolConnection): Promise<void> {
  await connection.query('SET @kettle_set = NULL, autocommit = 1');
}

async function reachable<Result>(work: () => Promise<Result>): Promise<Result> {
  try {
    return await work();
  } catch (error) {
    if (isConnectionLost(error)) throw new Problem('database-away', {}, { cause: error });
    throw error;
  }
}

export function errnoOf(error: unknown): number {
  return typeof error === 'object' && error !== null && 'errno' in error ? Number(error.errno) : 0;
}

/** MariaDB's error for a key that is there already. */
export const isDuplicateKey = (error: unknown) => errnoOf(error) === 1062;

const lostCodes = new Set([
  'PROTOCOL_CONNECTION_LOST',
  'ECONNREFUSED',
  'ECONNRESET',
  'ETIMEDOUT',
  'EPIPE',
  'ENOENT',
]);

function isConnectionLost(error: unknown): boolean {
  if (typeof error !== 'object' || error === null || !('code' in error)) return false;
  return lostCodes.has(String(error.code)) || errnoOf(error) === 1047;
}
