import mysql from 'mysql2/promise';
import type {
  Pool,
  PoolConnection,
  PoolOptions,
  QueryValues,
  ResultSetHeader,
  RowDataPacket,
} from 'mysql2/promise';
import { Problem } from '../problem';
import type { Keys } from './keys';
import { Nodes } from './nodes';
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

/** The same with what opens the values that lie sealed in the database. */
export interface WithKeys extends Queryable {
  readonly keys: Keys;
}

/** What statements of one transaction run on. */
export interface Transaction extends WithKeys {
  /**
   * Runs a change together with the next statement or the commit: one trip to the database less. For a change that cannot fail by what
   * somebody asked, since it is the next statement that throws then.
   */
  later(sql: string, parameters?: SqlParameters): Promise<void>;
}

export interface TransactionOptions {
  /** Rows written are captured under this change set; left out, nothing is captured. */
  readonly setId?: string;
}

export interface Database extends WithKeys {
  /**
   * Runs `work` in one transaction and commits. A deadlock, lock time-out or certification failure runs the whole of it
   * again, so `work` must do nothing outside the transaction; so does a node of a cluster that goes away before the commit was asked for.
   * @throws Problem `database-away`; when the commit was on its way nobody knows whether it is done: asked again under the same ids it is
   *   done once
   */
  transaction<Result>(
    work: (tx: Transaction) => Promise<Result>,
    options?: TransactionOptions,
  ): Promise<Result>;
  /**
   * Reads for one screen: what `read` asks for at the same time goes to the database in one call and on one connection. Nothing can be
   * written there.
   * @example await database.together((db) => Promise.all([readContact(db, id), openTasks(db, { contactId: id })]))
   */
  together<Result>(read: (db: Queryable) => Promise<Result>): Promise<Result>;
  readonly pool: Pool;
  /** The schema's name. */
  readonly name: string;
  close(): Promise<void>;
}

const statementTooLong = 1969;
/** What the driver says when too many wait for a connection; it has no code. */
const queueIsFull = 'Queue limit reached.';
const retriedErrors = new Set([1213, 1205, 1020]);
const mostAttempts = 6;

export interface DatabaseLimits {
  readonly connections?: number;
  /** The longest that one statement may take; 0 for as long as it needs. */
  readonly statementSeconds?: number;
  /** How many may wait for a connection; 0 for any number. */
  readonly queueLimit?: number;
}

export interface DatabaseOptions extends DatabaseLimits {
  /** Left out where nothing sealed is read or written. */
  readonly keys?: Keys;
}

export function openDatabase(
  url: string,
  { connections = 10, statementSeconds = 0, queueLimit = 0, keys }: DatabaseOptions = {},
): Database {
  const limits = { connectionLimit: connections, queueLimit };
  const nodes = new Nodes(url);
  const pool = openPool(nodes, statementSeconds, limits);
  // Several statements at once may be sent only in a transaction, or where nothing can be written.
  const writers = openPool(nodes, statementSeconds, { ...limits, multipleStatements: true });
  const readers = openPool(nodes, statementSeconds, { ...limits, multipleStatements: true });
  readers.pool.on('connection', (connection) => {
    connection.query('SET SESSION TRANSACTION READ ONLY');
  });
  const watch = nodes.isCluster ? watchNode(nodes) : null;
  return {
    ...queryable(pool, nodes),
    get keys() {
      return keysOf(keys);
    },
    pool,
    name: new URL(url).pathname.slice(1),
    transaction: (work, options) => runTransaction({ pool: writers, nodes, keys }, work, options),
    together: (read) => read(gathering(readers, nodes)),
    close: async () => {
      watch?.stop();
      await Promise.all([pool.end(), writers.end(), readers.end()]);
    },
  };
}

/**
 * Asks the node in use, now and then, whether it still works, and leaves one that does not answer: a machine that stands still keeps every
 * connection to it waiting, and none of them would end by itself.
 */
function watchNode(nodes: Nodes): { stop(): void } {
  let connection: mysql.Connection | null = null;
  let isStopped = false;
  const ask = async () => {
    try {
      if (connection === null) {
        const { uri, stream } = nodes;
        connection = await mysql.createConnection({ uri, stream, connectTimeout: silentMillis });
        // One that ends between two questions is noticed by the next.
        connection.on('error', () => undefined);
      }
      await connection.query({ sql: 'SELECT 1', timeout: silentMillis });
    } catch {
      const wasThere = connection !== null;
      connection?.destroy();
      connection = null;
      if (wasThere && !isStopped) nodes.leave();
    }
    if (isStopped) connection?.destroy();
    else timer = setTimeout(() => void ask(), askMillis).unref();
  };
  let timer = setTimeout(() => void ask(), askMillis).unref();
  return {
    stop: () => {
      isStopped = true;
      clearTimeout(timer);
      connection?.destroy();
    },
  };
}

const askMillis = 1000;
/** A node that is silent for so long is taken for gone. */
const silentMillis = 4000;

function keysOf(keys: Keys | undefined): Keys {
  if (!keys) throw new Error('This database was opened without a key file.');
  return keys;
}

function openPool(nodes: Nodes, statementSeconds: number, options: PoolOptions): Pool {
  const pool = mysql.createPool({
    uri: nodes.uri,
    ...(nodes.isCluster ? { stream: nodes.stream } : {}),
    timezone: 'Z',
    namedPlaceholders: true,
    supportBigNumbers: true,
    dateStrings: true,
    jsonStrings: true,
    charset: 'utf8mb4',
    connectTimeout: 5_000,
    ...options,
  });
  pool.pool.on('connection', (connection) => {
    connection.query("SET time_zone = '+00:00', NAMES utf8mb4 COLLATE utf8mb4_uca1400_ai_ci");
    // A statement after a lock must see what the holder before committed: use cases lock a row and then read around it.
    connection.query('SET SESSION TRANSACTION ISOLATION LEVEL READ COMMITTED');
    // What another server wrote at another node is waited for before anything is read.
    if (nodes.isCluster) connection.query('SET SESSION wsrep_sync_wait = 1');
    if (statementSeconds > 0) connection.query('SET SESSION max_statement_time = ?', [statementSeconds]);
  });
  return pool;
}

function queryable(on: Pool, nodes: Nodes): Queryable {
  return {
    async rows<Row>(sql: string, parameters: SqlParameters = {}) {
      const ask = () => on.query<RowDataPacket[]>(sql, checked(sql, parameters));
      const isReading = /^\s*(SELECT|WITH)\b/i.test(sql);
      const [rows] = await again(ask, nodes, (error) => isConflict(error) || (isReading && isAway(error)));
      return rows as Row[];
    },
    // A statement of its own is a transaction: one that lost against another node is done again.
    async change(sql, parameters = {}) {
      const write = () => on.query<ResultSetHeader>(sql, checked(sql, parameters));
      const [result] = await again(write, nodes, isConflict);
      return result.affectedRows;
    },
  };
}

/** Keeps what is asked for within one turn of the program and sends it as one call. */
function gathering(pool: Pool, nodes: Nodes): Queryable {
  interface Asked {
    readonly sql: string;
    readonly parameters: SqlParameters;
    readonly answer: (rows: never) => void;
    readonly fail: (error: unknown) => void;
  }
  let waiting: Asked[] = [];
  const send = async (asked: readonly Asked[]) => {
    const connection = await pool.getConnection();
    try {
      const statements = asked.map(({ sql, parameters }) => connection.format(sql, checked(sql, parameters)));
      const [results] = await connection.query<Results>(statements.join(';\n'));
      for (const [index, { answer }] of asked.entries())
        answer((asked.length === 1 ? results : results[index]) as never);
    } finally {
      connection.release();
    }
  };
  return {
    rows: async <Row>(sql: string, parameters: SqlParameters = {}) =>
      new Promise<Row[]>((answer, fail) => {
        if (waiting.length === 0)
          setImmediate(() => {
            const asked = waiting;
            waiting = [];
            again(() => send(asked), nodes, isAway).catch((error: unknown) => {
              for (const each of asked) each.fail(error);
            });
          });
        waiting.push({ sql, parameters, answer, fail });
      }),
    change: (sql) => Promise.reject(new Error(`Nothing is written here: ${sql.slice(0, 80)}`)),
  };
}

/** The driver sends a forgotten parameter as NULL without a word; here it is a fault. */
function checked(sql: string, parameters: SqlParameters): QueryValues {
  for (const [name, value] of Object.entries(parameters))
    if (value === undefined) throw new Error(`parameter ${name} is missing in: ${sql.slice(0, 80)}`);
  // The driver's type wants mutable values; it only reads them.
  return parameters as QueryValues;
}

/** Does it, and does it again while it fails in a way that asks for that. */
async function again<Result>(
  act: () => Promise<Result>,
  nodes: Nodes,
  isForAgain: (error: unknown) => boolean,
): Promise<Result> {
  for (let attempt = 1; ; attempt += 1)
    try {
      return await reachable(act, nodes);
    } catch (error) {
      // Where there is one node only, whoever asked is told at once that it is away.
      if (attempt >= mostAttempts || !isForAgain(error) || (isAway(error) && !nodes.isCluster)) throw error;
      await (isAway(error) ? pause(regroupMillis / mostAttempts) : pause(10 * 2 ** attempt * Math.random()));
    }
}

/** Within so long the nodes that are left agree that they go on; until then they answer nobody. */
const regroupMillis = 6000;
const pause = (millis: number) => new Promise((resolve) => setTimeout(resolve, millis));

interface Transactions {
  readonly pool: Pool;
  readonly nodes: Nodes;
  readonly keys: Keys | undefined;
}

async function runTransaction<Result>(
  { pool, nodes, keys }: Transactions,
  work: (tx: Transaction) => Promise<Result>,
  { setId }: TransactionOptions = {},
): Promise<Result> {
  return again(
    async () => {
      const connection = await pool.getConnection();
      const { transaction, commit, rollBack } = statementsOn(connection, nodes, keys, setId ?? null);
      try {
        const result = await work(transaction);
        await commit();
        connection.release();
        return result;
      } catch (error) {
        await rollBack().then(
          () => connection.release(),
          () => connection.destroy(),
        );
        throw error;
      }
    },
    nodes,
    (error) => isConflict(error) || (isAway(error) && !maybeDone.has(error as Problem)),
  );
}

/** Lost while the commit was on its way. */
const maybeDone = new WeakSet<Problem>();

/** The statements of one transaction; those that nothing waits for go with the next one, in one call. */
function statementsOn(
  connection: PoolConnection,
  nodes: Nodes,
  keys: Keys | undefined,
  setId: string | null,
) {
  let waiting: string[] = [];
  let waitingLength = 0;
  let isOpen = false;
  const format = (sql: string, parameters: SqlParameters = {}) =>
    connection.format(sql, checked(sql, parameters));
  /** @returns the last statement's result */
  const send = async (last: string): Promise<unknown> => {
    const statements = [...waiting, last];
    waiting = [];
    waitingLength = 0;
    isOpen = true;
    const [results] = await reachable(() => connection.query<Results>(statements.join(';\n')), nodes);
    return statements.length === 1 ? results : results.at(-1);
  };
  // Without autocommit the next statement begins the transaction.
  waiting.push(format('SET @kettle_set = :set, @kettle_at = 0, autocommit = 0', { set: bytesOf(setId) }));
  const transaction: Transaction = {
    get keys() {
      return keysOf(keys);
    },
    rows: async <Row>(sql: string, parameters?: SqlParameters) =>
      (await send(format(sql, parameters))) as Row[],
    change: async (sql, parameters) =>
      ((await send(format(sql, parameters))) as ResultSetHeader).affectedRows,
    later: async (sql, parameters) => {
      const statement = format(sql, parameters);
      if (waitingLength + statement.length > longestCall) await send(statement);
      else {
        waiting.push(statement);
        waitingLength += statement.length;
      }
    },
  };
  return {
    transaction,
    commit: async () => {
      // Nothing was asked: there is nothing to end.
      if (!isOpen && waiting.length === 1) return;
      waiting.push('COMMIT');
      try {
        await send(endOfSet);
      } catch (error) {
        if (error instanceof Problem) maybeDone.add(error);
        throw error;
      }
    },
    rollBack: async () => {
      waiting = ['ROLLBACK'];
      await send(endOfSet);
    },
  };
}

/** Characters of statements that wait to be sent; one call may take 16 MB. */
const longestCall = 1_000_000;

/** One result for each statement. */
type Results = (RowDataPacket[] & ResultSetHeader)[];

/** What the next user of the connection writes is not part of this set. */
const endOfSet = 'SET @kettle_set = NULL, autocommit = 1';

/** A file that could not be written, a disk that is full, a table that is: 3, 1021, 1114. */
const noRoom = new Set([3, 1021, 1114]);

async function reachable<Result>(work: () => Promise<Result>, nodes: Nodes): Promise<Result> {
  try {
    return await work();
  } catch (error) {
    if (hasLostOthers(error)) nodes.leave();
    if (isConnectionLost(error)) throw new Problem('database-away', {}, { cause: error });
    if (noRoom.has(errnoOf(error))) throw new Problem('database-full', {}, { cause: error });
    if (errnoOf(error) === statementTooLong) throw new Problem('too-slow', {}, { cause: error });
    if (error instanceof Error && error.message === queueIsFull)
      throw new Problem('busy', {}, { cause: error });
    throw error;
  }
}

/** A deadlock, a wait that was too long, or a change that came second at another node: done again it may well do. */
export const isConflict = (error: unknown) => retriedErrors.has(errnoOf(error));
const isAway = (error: unknown) => error instanceof Problem && error.code === 'database-away';

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
  'ERR_STREAM_DESTROYED',
  'ENOENT',
]);

function isConnectionLost(error: unknown): boolean {
  if (typeof error !== 'object' || error === null || !('code' in error)) return false;
  return lostCodes.has(String(error.code)) || hasLostOthers(error);
}

/** A node that has lost the others: it reads and writes nothing until it has found them. */
const notInCluster = 1047;
/** What a node says that loses them while it writes, under several codes. */
const withoutProvider = /provider status/;

function hasLostOthers(error: unknown): boolean {
  return errnoOf(error) === notInCluster || (error instanceof Error && withoutProvider.test(error.message));
}
