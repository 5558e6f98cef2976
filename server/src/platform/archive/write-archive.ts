import { createHash, type Hash } from 'node:crypto';
import { createWriteStream, existsSync, mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Readable } from 'node:stream';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import mysql from 'mysql2';
import { openDatabase } from '../database/database';
import { idOf } from '../ids';
import { archivedTables, archiveSchema, leftOut, type ArchivedTable } from './tables';

/** Bytes that lie as files of their own beside the lines: a table of their parts in their order. */
export interface Beside {
  readonly table: string;
  readonly id: string;
  readonly order: string;
  readonly bytes: string;
}

export interface ArchiveMade {
  readonly tables: number;
  readonly rows: number;
  readonly files: number;
}

export const archiveFormat = 'ash-kettle archive, version 1';

/** What an archive says of itself. Nothing in it depends on when or where it was made: the same data is the same bytes. */
export interface ArchiveManifest {
  readonly format: string;
  /** The upgrade its database was at. */
  readonly database: number;
  /** Rows of each table. */
  readonly tables: Readonly<Record<string, number>>;
  readonly files: number;
  readonly leftOut: Readonly<Record<string, string>>;
}

/**
 * Writes everything in a database into a new folder, as of one moment, also while people work: `tables/NAME.jsonl` with a row a line, ordered by
 * its key; `files/ID` with the bytes of each file; `schema.json`, `manifest.json`, and `SHA256SUMS` as `sha256sum -c` reads it. What is in memory
 * at once does not grow with the data.
 * @throws Error in one sentence when the folder is there already
 */
export async function writeArchive(url: string, folder: string, beside: Beside): Promise<ArchiveMade> {
  if (existsSync(folder)) throw new Error(`${folder} is there already. Say another folder.`);
  const partial = `${folder}.part`;
  rmSync(partial, { recursive: true, force: true });
  for (const name of ['tables', 'files'])
    mkdirSync(path.join(partial, name), { recursive: true, mode: 0o700 });
  const database = openDatabase(url, { connections: 1 });
  const connection = mysql.createConnection({
    ...{ uri: url, timezone: 'Z', charset: 'utf8mb4', dateStrings: true, jsonStrings: true },
    ...{ supportBigNumbers: true },
  });
  try {
    const { tables } = await archivedTables(database, [beside.table]);
    const [version] = await database.rows<{ at: number }>('SELECT MAX(version) AS at FROM schema_version');
    const sums = new Sums(partial);
    await connection.promise().query('SET SESSION TRANSACTION ISOLATION LEVEL REPEATABLE READ');
    await connection.promise().query('START TRANSACTION WITH CONSISTENT SNAPSHOT');
    const counts: Record<string, number> = {};
    for (const table of tables) counts[table.name] = await writeTable(connection, table, sums);
    const files = await writeFiles(connection, beside, sums);
    const manifest: ArchiveManifest = {
      ...{ format: archiveFormat, database: Number(version?.at ?? 0), tables: counts, files, leftOut },
    };
    sums.write('manifest.json', manifest);
    sums.write('schema.json', archiveSchema(tables));
    sums.end();
    renameSync(partial, folder);
    const rows = Object.values(counts).reduce((sum, count) => sum + count, 0);
    return { tables: tables.length, rows, files };
  } finally {
    connection.destroy();
    await database.close();
  }
}

/** Files below a folder, and what each of them comes to. */
class Sums {
  private readonly lines: string[] = [];

  constructor(private readonly folder: string) {}

  /** What comes through it goes into a file. */
  async take(name: string, from: Readable, ...by: Transform[]): Promise<void> {
    const hash = createHash('sha256');
    await pipeline([
      from,
      ...by,
      tap(hash),
      createWriteStream(path.join(this.folder, name), { mode: 0o600 }),
    ]);
    this.say(name, hash);
  }

  write(name: string, value: unknown): void {
    const text = `${JSON.stringify(value, null, 2)}\n`;
    writeFileSync(path.join(this.folder, name), text, { mode: 0o600 });
    this.say(name, createHash('sha256').update(text));
  }

  end(): void {
    writeFileSync(path.join(this.folder, 'SHA256SUMS'), `${this.lines.sort().join('\n')}\n`, { mode: 0o600 });
  }

  private say(name: string, hash: Hash): void {
    this.lines.push(`${hash.digest('hex')}  ${name}`);
  }
}

const tap = (hash: Hash) =>
  new Transform({
    transform(chunk: Buffer, _encoding, done) {
      hash.update(chunk);
      done(null, chunk);
    },
  });

const named = (names: readonly string[]) => names.map((name) => `\`${name}\``).join(', ');
const rowsAtOnce = 100;

/** Two more characters end a line for some readers: they are written by their numbers. */
const oneLine = (value: unknown): string =>
  JSON.stringify(value)
    .replaceAll('\u2028', String.raw`\u2028`)
    .replaceAll('\u2029', String.raw`\u2029`);

async function writeTable(connection: mysql.Connection, table: ArchivedTable, sums: Sums): Promise<number> {
  const { name, columns, keys } = table;
  let count = 0;
  const rows = connection
    .query(`SELECT ${named(columns.map((column) => column.name))} FROM \`${name}\` ORDER BY ${named(keys)}`)
    .stream({ highWaterMark: rowsAtOnce });
  const asLines = new Transform({
    writableObjectMode: true,
    transform(row: Record<string, never>, _encoding, done) {
      count += 1;
      const line = Object.fromEntries(columns.map((column) => [column.name, column.out(row[column.name]!)]));
      done(null, `${oneLine(line)}\n`);
    },
  });
  await sums.take(path.posix.join('tables', `${name}.jsonl`), rows, asLines);
  return count;
}

async function writeFiles(
  connection: mysql.Connection,
  { table, id, order, bytes }: Beside,
  sums: Sums,
): Promise<number> {
  const [ids] = await connection
    .promise()
    .query<mysql.RowDataPacket[]>(`SELECT DISTINCT ${named([id])} AS id FROM \`${table}\` ORDER BY 1`);
  for (const { id: file } of ids as { id: Buffer }[]) {
    const parts = connection
      .query(
        `SELECT ${named([bytes])} AS bytes FROM \`${table}\` WHERE ${named([id])} = ? ORDER BY ${named([order])}`,
        [file],
      )
      .stream({ highWaterMark: 1 });
    const asBytes = new Transform({
      writableObjectMode: true,
      transform: (row: { bytes: Buffer }, _encoding, done) => done(null, row.bytes),
    });
    await sums.take(path.posix.join('files', idOf(file)), parts, asBytes);
  }
  return ids.length;
}
