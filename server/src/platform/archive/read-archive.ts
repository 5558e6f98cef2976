import { createHash } from 'node:crypto';
import { createReadStream, existsSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { createInterface } from 'node:readline';
import mysql from 'mysql2/promise';
import * as z from 'zod';
import { openDatabase } from '../database/database';
import type { Reference } from '../database/schema';
import { archivedTables, type ArchivedTable } from './tables';
import { archiveFormat, type ArchiveMade, type Beside } from './write-archive';

const manifestForm = z.object({
  format: z.literal(archiveFormat, `is not “${archiveFormat}”`),
  database: z.int(),
  tables: z.record(z.string(), z.int().min(0)),
  files: z.int().min(0),
});

/** Tables whose rows say that a database is in use: defaults are written into every new one, these are not. */
const inUse = ['app_user', 'contact', 'company', 'deal', 'sales_lead', 'journal_entry'] as const;
const rowsAtOnce = 500;
const mostBytesAtOnce = 8 * 1024 * 1024;
const partBytes = 1024 * 1024;

/**
 * Reads an archive into a database that nobody has used yet, in one transaction: all of it is there afterwards, or nothing.
 * @throws Error in one sentence that names the file, and the line where there is one: what is missing, changed since, of another version, not as
 *   the schema says, or names a record that is not there; or what is in the database already
 */
export async function readArchive(url: string, folder: string, beside: Beside): Promise<ArchiveMade> {
  const manifest = readManifest(folder);
  await checkSums(folder);
  const database = openDatabase(url, { connections: 1 });
  const connection = await mysql.createConnection({ uri: url, timezone: 'Z', charset: 'utf8mb4' });
  try {
    const { tables, references } = await archivedTables(database, [beside.table]);
    await checkVersion(connection, manifest.database);
    await checkUnused(connection);
    const missing = tables.find(({ name }) => !(name in manifest.tables));
    const unknown = Object.keys(manifest.tables).find((name) => tables.every((table) => table.name !== name));
    if (missing !== undefined || unknown !== undefined)
      throw new Error(
        `manifest.json and the database do not have the same tables: ${missing?.name ?? unknown}.`,
      );
    // Rows come table after table: what they name may come later, and is looked for at the end.
    await connection.query('SET SESSION foreign_key_checks = 0');
    await connection.beginTransaction();
    for (const { name } of [...tables, { name: beside.table }])
      await connection.query(`DELETE FROM \`${name}\``);
    let rows = 0;
    for (const table of tables) {
      const count = await readTable(connection, folder, table);
      if (count !== manifest.tables[table.name])
        throw new Error(
          `tables/${table.name}.jsonl has ${count} lines, manifest.json says ${manifest.tables[table.name]}.`,
        );
      rows += count;
    }
    const files = await readFiles(connection, folder, beside);
    if (files !== manifest.files)
      throw new Error(`There are ${files} files, manifest.json says ${manifest.files}.`);
    for (const reference of references) await checkReference(connection, reference);
    await connection.commit();
    return { tables: tables.length, rows, files };
  } finally {
    connection.destroy();
    await database.close();
  }
}

function readManifest(folder: string): z.infer<typeof manifestForm> {
  const file = path.join(folder, 'manifest.json');
  if (!existsSync(file)) throw new Error(`${folder} is not an archive: it has no manifest.json.`);
  const read = manifestForm.safeParse(jsonIn(readFileSync(file, 'utf8'), 'manifest.json'));
  if (!read.success) throw new Error(`manifest.json is not as it should be: ${sentenceOf(read.error)}.`);
  return read.data;
}

function jsonIn(text: string, where: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    throw new Error(`${where} is not JSON.`);
  }
}

const sentenceOf = ({ issues: [first] }: z.ZodError): string =>
  `${first!.path.join('.')} ${first!.message}`.trim();

/** Every file is named with its sum, and is as it was written. */
async function checkSums(folder: string): Promise<void> {
  const listed = new Map(
    readFileSync(path.join(folder, 'SHA256SUMS'), 'utf8')
      .split('\n')
      .filter((line) => line !== '')
      .map((line) => [line.slice(66), line.slice(0, 64)]),
  );
  const found = [
    'manifest.json',
    'schema.json',
    ...['tables', 'files'].flatMap((name) => namesIn(folder, name)),
  ];
  for (const name of found)
    if (!listed.has(name)) throw new Error(`${name} is in the folder and not in SHA256SUMS: take it away.`);
  for (const [name, sum] of listed) {
    if (!found.includes(name)) throw new Error(`${name} is missing.`);
    const hash = createHash('sha256');
    for await (const chunk of createReadStream(path.join(folder, name))) hash.update(chunk as Buffer);
    if (hash.digest('hex') !== sum) throw new Error(`${name} was changed after it had been written.`);
  }
}

const namesIn = (folder: string, name: string): string[] =>
  existsSync(path.join(folder, name))
    ? readdirSync(path.join(folder, name)).map((file) => `${name}/${file}`)
    : [];

async function checkVersion(connection: mysql.Connection, version: number): Promise<void> {
  const [[row]] = await connection.query<mysql.RowDataPacket[]>(
    'SELECT MAX(version) AS at FROM schema_version',
  );
  if (Number(row?.at) !== version)
    throw new Error(
      `The archive was made at version ${version} of the database, this program is at ${Number(row?.at)}. Read it with the program that made it, then upgrade.`,
    );
}

async function checkUnused(connection: mysql.Connection): Promise<void> {
  for (const table of inUse) {
    const [rows] = await connection.query<mysql.RowDataPacket[]>(`SELECT 1 FROM \`${table}\` LIMIT 1`);
    if (rows.length > 0)
      throw new Error(
        `The database is in use: there are rows in ${table}. An archive is read into an empty one only.`,
      );
  }
}

/** How many rows of a table were read. */
async function readTable(
  connection: mysql.Connection,
  folder: string,
  table: ArchivedTable,
): Promise<number> {
  const { name, columns, schema } = table;
  const file = `tables/${name}.jsonl`;
  const lines = createInterface({ input: createReadStream(path.join(folder, file)), crlfDelay: Infinity });
  const insert = `INSERT INTO \`${name}\` (${columns.map((column) => `\`${column.name}\``).join(', ')}) VALUES ?`;
  let [waiting, bytes, count]: [unknown[][], number, number] = [[], 0, 0];
  const flush = async () => {
    if (waiting.length > 0) await connection.query(insert, [waiting]);
    [waiting, bytes] = [[], 0];
  };
  for await (const line of lines) {
    count += 1;
    const where = `Line ${count} of ${file}`;
    const read = schema.safeParse(jsonIn(line, where));
    if (!read.success) throw new Error(`${where} is not as the schema says: ${sentenceOf(read.error)}.`);
    waiting.push(columns.map((column) => column.in(read.data[column.name])));
    bytes += line.length;
    if (waiting.length >= rowsAtOnce || bytes >= mostBytesAtOnce) await flush();
  }
  await flush();
  return count;
}

async function readFiles(
  connection: mysql.Connection,
  folder: string,
  { table, id, order, bytes }: Beside,
): Promise<number> {
  const names = namesIn(folder, 'files');
  for (const name of names) {
    const key = Buffer.from(path.basename(name).replaceAll('-', ''), 'hex');
    if (key.length !== 16) throw new Error(`${name} is not called by an id.`);
    let number = 0;
    for await (const chunk of createReadStream(path.join(folder, name), { highWaterMark: partBytes }))
      await connection.query(
        `INSERT INTO \`${table}\` (\`${id}\`, \`${order}\`, \`${bytes}\`) VALUES (?, ?, ?)`,
        [...[key, (number += 1) - 1, chunk]],
      );
  }
  return names.length;
}

/** What a row names must be there. */
async function checkReference(
  connection: mysql.Connection,
  { table, column, parent, parentColumn }: Reference,
): Promise<void> {
  const [rows] = await connection.query<mysql.RowDataPacket[]>(
    `SELECT 1 FROM \`${table}\` t LEFT JOIN \`${parent}\` p ON p.\`${parentColumn}\` = t.\`${column}\`
      WHERE t.\`${column}\` IS NOT NULL AND p.\`${parentColumn}\` IS NULL LIMIT 1`,
  );
  if (rows.length > 0) throw new Error(`${table} names something in ${column} that is not in ${parent}.`);
}
