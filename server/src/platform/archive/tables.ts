import * as z from 'zod';
import type { Queryable } from '../database/database';
import { readSchema, type Reference } from '../database/schema';
import { idOf } from '../ids';

/** What of a table is this program's own at one place, and means nothing at another. */
export const leftOut: Readonly<Record<string, string>> = {
  migration_lease: 'which server is upgrading the database',
  migration_report: 'what upgrades did to this database',
  migration_step: 'how far an upgrade is',
  rate_limit: 'tries of the last hour',
  schema_version: 'which upgrades this database has had',
  session: 'who is signed in',
};

/** A value as the driver gives and takes it. */
type Sql = string | number | Buffer | null;
type Json = unknown;

interface Codec {
  readonly schema: z.ZodType;
  out(value: Exclude<Sql, null>): Json;
  in(value: Json): Sql;
}

export interface ArchivedColumn {
  readonly name: string;
  readonly schema: z.ZodType;
  out(value: Sql): Json;
  in(value: Json): Sql;
}

export interface ArchivedTable {
  readonly name: string;
  /** In the order of their names, which is that of the keys of a line. */
  readonly columns: readonly ArchivedColumn[];
  readonly keys: readonly string[];
  /** A line of its file. */
  readonly schema: z.ZodType<Record<string, Json>>;
}

interface Told {
  readonly table: string;
  readonly name: string;
  readonly type: string;
  readonly whole: string;
  readonly nullable: string;
}

const text: Codec = { schema: z.string(), out: String, in: (value) => value as string };
const number: Codec = { schema: z.number(), out: Number, in: (value) => value as number };
/** Whole numbers beyond what JSON readers keep are written as text. */
const whole: Codec = {
  schema: z.union([z.int(), z.string().regex(/^-?\d+$/)]),
  out: (value) => (Number.isSafeInteger(Number(value)) ? Number(value) : String(value)),
  in: (value) => value as string | number,
};
const yesNo: Codec = {
  schema: z.boolean(),
  out: (value) => Number(value) === 1,
  in: (value) => (value === true ? 1 : 0),
};
const idForm = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;
const id: Codec = {
  schema: z.string().regex(idForm),
  out: (value) => idOf(value as Buffer),
  in: (value) => Buffer.from((value as string).replaceAll('-', ''), 'hex'),
};
const bytes: Codec = {
  schema: z.base64(),
  out: (value) => (value as Buffer).toString('base64'),
  in: (value) => Buffer.from(value as string, 'base64'),
};
const moment: Codec = {
  schema: z.iso.datetime({ precision: 3 }),
  out: (value) => `${String(value).replace(' ', 'T')}Z`,
  in: (value) => (value as string).slice(0, -1).replace('T', ' '),
};
const day: Codec = { ...text, schema: z.iso.date() };
const json: Codec = {
  schema: z.json(),
  out: (value) => JSON.parse(String(value)) as Json,
  in: (value) => JSON.stringify(value),
};

function codecOf({ type, whole: said }: Told, isJson: boolean): Codec {
  if (isJson) return json;
  if (said === 'tinyint(1)') return yesNo;
  if (said === 'binary(16)') return id;
  if (/binary|blob/.test(type)) return bytes;
  if (/int$/.test(type)) return whole;
  if (type === 'datetime') return moment;
  if (type === 'date') return day;
  return type === 'double' ? number : text;
}

function columnOf(told: Told, isJson: boolean): ArchivedColumn {
  const codec = codecOf(told, isJson);
  const mayBeEmpty = told.nullable === 'YES';
  return {
    name: told.name,
    schema: mayBeEmpty ? codec.schema.nullable() : codec.schema,
    out: (value) => (value === null ? null : codec.out(value)),
    // In JSON that must be there, null is a value.
    in: (value) => (value === null && (mayBeEmpty || codec !== json) ? null : codec.in(value)),
  };
}

/** The tables of an archive in the order of their names, and how their rows hang together. Columns that follow from others are not in it. */
export async function archivedTables(
  db: Queryable,
  without: readonly string[],
): Promise<{ tables: readonly ArchivedTable[]; references: readonly Reference[] }> {
  const [{ columns, references }, told, checks] = await Promise.all([
    readSchema(db),
    db.rows<Told>(
      `SELECT table_name AS \`table\`, column_name AS name, data_type AS type, column_type AS whole, is_nullable AS nullable
         FROM information_schema.columns WHERE table_schema = DATABASE()`,
    ),
    db.rows<{ table: string; clause: string }>(
      `SELECT table_name AS \`table\`, check_clause AS clause FROM information_schema.check_constraints
        WHERE constraint_schema = DATABASE() AND check_clause LIKE 'json_valid(%'`,
    ),
  ]);
  const isJson = new Set(
    checks.map(({ table, clause }) => `${table}.${clause.slice("json_valid('".length, -2)}`),
  );
  const toldOf = new Map(told.map((each) => [`${each.table}.${each.name}`, each]));
  const names = [...columns.keys()].filter((name) => !(name in leftOut) && !without.includes(name));
  const tables = names.sort().map((name): ArchivedTable => {
    const own = columns.get(name)!.filter(({ isGenerated }) => !isGenerated);
    const sorted = [...own].sort((one, other) => (one.name < other.name ? -1 : 1));
    const archived = sorted.map((column) =>
      columnOf(toldOf.get(`${name}.${column.name}`)!, isJson.has(`${name}.${column.name}`)),
    );
    return {
      name,
      columns: archived,
      keys: columns.get(name)!.flatMap((column) => (column.isKey ? [column.name] : [])),
      schema: z.strictObject(Object.fromEntries(archived.map((column) => [column.name, column.schema]))),
    };
  });
  const kept = new Set([...names, ...without]);
  return {
    tables,
    references: references.filter(({ table, parent }) => kept.has(table) && kept.has(parent)),
  };
}

/** The published schema of an archive: a definition for the lines of each table's file (JSON Schema, 2020-12). */
export function archiveSchema(tables: readonly ArchivedTable[]): unknown {
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    title: 'Lines of an archive, one definition for each file below tables/',
    $defs: Object.fromEntries(
      tables.map(({ name, schema }) => {
        const { $schema: _, ...definition } = z.toJSONSchema(schema) as Record<string, unknown>;
        return [name, definition];
      }),
    ),
  };
}
