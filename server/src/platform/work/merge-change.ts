import { isDeepStrictEqual } from 'node:util';
import type { Resolved } from '@kettle/contract';
import type { Queryable } from '../database/database';
import { Problem } from '../problem';
import { bytesOf, idOf } from '../ids';
import { idOfHex, readWritten, rowKeyOf, type Image, type WrittenRow } from './written';
import type { Row } from '../database/schema.generated';

/**
 * Where a field of a body is kept: a column of the record, read as the body has it where that differs from the column's text; rows that
 * hang on it, told apart by their keys where these say all of them; or values by id, each in a row of its own.
 */
export type FieldAt<Item = unknown> =
  | { readonly column: string; read?(text: string | null): unknown }
  | { readonly rows: string; readonly of: string; item?(key: Image): Item }
  | ValuesAt;

/** Values by id, each met on its own: the one of `by` conflicts as `field.id`. */
export interface ValuesAt {
  readonly values: string;
  readonly of: string;
  /** The column that says whose value it is. */
  readonly by: string;
  valueOf(row: Image): unknown;
}

interface Versioned {
  readonly version: number;
}

/**
 * Where each field of a body is kept, none forgotten; `not kept` for one that is not the record's: a tick, a deed, a new version of it.
 */
export type FieldsAt<Body> = Readonly<
  Record<Exclude<keyof Body, 'version' | 'resolved'>, FieldAt | 'not kept'>
>;

/** A change that was asked for over the version a person saw. */
export interface AskedChange<Body extends Versioned> {
  readonly table: string;
  readonly id: string;
  readonly fields: NoInfer<FieldsAt<Body>>;
  /** What was sent, whole or in part. */
  readonly asked: Body;
  /** The record as it is now, locked. */
  readonly record: Versioned;
  /** The same in the words of the body; left out, the record has its names. */
  readonly current?: Partial<Body>;
}

/**
 * What a person means to change, also when others changed the record since the version they saw. A field they left as they saw it keeps what
 * it is now; one that only they changed is theirs; one that both changed is a conflict, until `asked.resolved` says whose value holds.
 * @throws Problem `stale` with each field that both changed and by whom, and the record as it is now
 * @example
 * // seen: { priority: 'usual', amountMinor: 100 }; a rep raised the amount to 200; a manager sends { priority: 'high', amountMinor: 100 }
 * await mergeChange(w, { table: 'deal', id, fields, asked, record }); // { priority: 'high', amountMinor: 200 }
 */
export async function mergeChange<Body extends Versioned>(
  db: Queryable,
  { table, id, fields, asked, record, current = record as unknown as Partial<Body> }: AskedChange<Body>,
): Promise<Body> {
  if (asked.version === record.version) return asked;
  const seen = { table, id, version: asked.version };
  const since = await readSince(db, seen);
  const plain = new Map<string, FieldAt>();
  const byId = new Map<string, ValuesAt>();
  for (const [name, at] of Object.entries<FieldAt | 'not kept'>(fields))
    if (at === 'not kept') continue;
    else if ('values' in at) byId.set(name, at);
    else plain.set(name, at);
  const flat = spread(asked, [...byId.keys()]);
  const merged = mergeFields<Flat>({
    asked: flat,
    current: spread({ ...record, ...current }, [...byId.keys()]),
    record,
    names: Object.keys(flat).filter((name) => plain.has(name) || name.includes('.')),
    isKnown: since.isKnown,
    beforeOf: (path) => {
      const [name, key] = path.split('.') as [string, string?];
      if (key !== undefined) return since.value(seen, byId.get(name)!, key);
      const at = plain.get(name) as Exclude<FieldAt, ValuesAt>;
      return 'column' in at ? since.column(at) : since.rows(seen, at, current[name as keyof Body]);
    },
  });
  return gathered(merged, [...byId.keys()]) as Body;
}

type Flat = Record<string, unknown>;

/** Values by id as fields of their own: `custom: { one: 3 }` as `custom.one: 3`. */
function spread(body: object, names: readonly string[]): Flat {
  const parts = Object.entries(body).flatMap(([name, value]): [string, unknown][] =>
    names.includes(name)
      ? Object.entries((value ?? {}) as Flat).map(([key, each]) => [`${name}.${key}`, each])
      : [[name, value]],
  );
  return Object.fromEntries(parts);
}

/** The other way round; a field without values is left out, as it was. */
function gathered(flat: Flat, names: readonly string[]): Flat {
  const body: Flat = {};
  for (const [path, value] of Object.entries(flat)) {
    const [name, key] = path.split('.') as [string, string?];
    if (key === undefined || !names.includes(name)) body[path] = value;
    else body[name] = { ...(body[name] as Flat | undefined), [key]: value };
  }
  return body;
}

/** What a field was when it was seen, and who changed it since. */
export interface Before {
  /** Undefined when it is not known. */
  readonly value: unknown;
  readonly by: string;
}

/** The decision behind `mergeChange`, whatever keeps the history. @throws Problem `stale` */
export function mergeFields<Body extends object>({
  asked,
  current,
  record,
  names,
  isKnown,
  beforeOf,
}: {
  readonly asked: Body;
  readonly current: Partial<Body>;
  readonly record: Versioned;
  readonly names: readonly (keyof Body & string)[];
  /** Whether the history reaches back to what was seen. */
  readonly isKnown: boolean;
  /** Null when nobody changed the field since. */
  beforeOf(name: keyof Body & string): Before | null;
}): Body {
  const choice = choiceOver(asked, record);
  const merged = { ...asked };
  const conflicts: { path: string; message: string }[] = [];
  for (const name of names) {
    if (asked[name] === undefined || isSame(asked[name], current[name])) continue;
    const before = beforeOf(name);
    // Nobody else changed it since: it is the person's own change.
    if (before === null) continue;
    if (before.value !== undefined && isSame(asked[name], before.value))
      merged[name] = current[name] as Body[typeof name];
    else if (choice?.theirs.includes(name)) merged[name] = current[name] as Body[typeof name];
    else if (!choice?.mine.includes(name))
      conflicts.push({ path: name, message: $localize`was changed by ${before.by}:by: meanwhile` });
  }
  // Whoever was shown the record as it is now, and sends it again, means it.
  if (conflicts.length > 0 || (!isKnown && choice === null))
    throw new Problem('stale', {}, { current: record, fields: conflicts });
  return merged;
}

/** The choice between both, if it was made over the record as it is now: what was changed after it is another conflict. */
function choiceOver(body: object, record: Versioned): NonNullable<Resolved> | null {
  const { resolved } = body as { resolved?: Resolved };
  return resolved && resolved.version === record.version ? resolved : null;
}

/** Equal as a person sees it: numbers by value, lists in any order. */
export function isSame(one: unknown, other: unknown): boolean {
  if (Array.isArray(one) && Array.isArray(other))
    return isDeepStrictEqual([...one].map(textOf).sort(), [...other].map(textOf).sort());
  return textOf(one) === textOf(other);
}

/** A value as the database writes it: ids in hex, booleans as digits, decimals without trailing zeros. */
function textOf(value: unknown): string {
  if (value === null || value === undefined) return '';
  if (typeof value === 'boolean') return value ? '1' : '0';
  if (typeof value === 'object')
    return JSON.stringify(Object.entries(value).sort(([one], [other]) => (one < other ? -1 : 1)));
  const text = String(value);
  if (/^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i.test(text))
    return text.replaceAll('-', '').toUpperCase();
  return /^-?\d+\.\d+$/.test(text) ? String(Number(text)) : text;
}

/** What one change wrote, and who made it. */
export interface WrittenBy {
  readonly by: string;
  readonly rows: readonly WrittenRow[];
}

interface SeenRecord {
  readonly table: string;
  readonly id: string;
  /** The version the person saw. */
  readonly version: number;
}

class Since {
  constructor(
    private readonly sets: readonly WrittenBy[],
    private readonly key: string,
    private readonly table: string,
    /** False when the history does not reach back to the version that was seen. */
    readonly isKnown: boolean,
  ) {}

  /** What a column was when it was seen, if others wrote it since. */
  column({ column: name, read }: Extract<FieldAt, { column: string }>): Before | null {
    for (const { by, rows } of this.sets)
      for (const { table, key, was } of rows)
        if (table === this.table && key === this.key && was !== null && name in was) {
          const text = was[name] ?? null;
          return { value: read ? read(text) : text, by };
        }
    return null;
  }

  /** The value of one id when it was seen, if others wrote it since. */
  value(seen: SeenRecord, at: ValuesAt, key: string): Before | null {
    const isOf = (hex: string | null | undefined, id: string) => Boolean(hex) && idOfHex(hex!) === id;
    for (const { by, rows } of this.sets)
      for (const { table, refs, was } of rows)
        if (table === at.values && isOf(refs[at.of], seen.id) && isOf(refs[at.by], key))
          return { value: was === null ? null : at.valueOf(was), by };
    return null;
  }

  /** What rows hung on the record when it was seen, if others wrote some since. */
  rows(seen: SeenRecord, at: Extract<FieldAt, { rows: string }>, current: unknown): Before | null {
    const own = this.sets.flatMap(({ by, rows }) =>
      rows
        .filter(({ table, refs }) => {
          const hex = refs[at.of];
          return table === at.rows && hex !== null && hex !== undefined && idOfHex(hex) === seen.id;
        })
        .map((row) => ({ by, row })),
    );
    const last = own.at(-1);
    if (last === undefined) return null;
    // What else such a row holds is not in its key: the field counts as changed by both.
    if (!at.item) return { value: undefined, by: last.by };
    let items = (Array.isArray(current) ? current : []) as unknown[];
    for (const { row } of [...own].reverse()) {
      const item = at.item?.(JSON.parse(row.key) as Image);
      if (row.op === 'insert') items = items.filter((each) => !isDeepStrictEqual(each, item));
      if (row.op === 'delete' && !items.some((each) => isDeepStrictEqual(each, item)))
        items = [...items, item];
    }
    // Written again as they were, they were not changed.
    return isSame(items, current) ? null : { value: items, by: last.by };
  }
}

async function readSince(db: Queryable, seen: SeenRecord): Promise<Since> {
  const { sets, isKnown } = await changesSince(db, seen);
  return new Since(sets, rowKeyOf(seen.id), seen.table, isKnown);
}

/**
 * What was written since a record had a version, change by change, the oldest first, and whether the history reaches back to it. Relies on
 * change_row_of.
 */
export async function changesSince(
  db: Queryable,
  { table, id, version }: SeenRecord,
): Promise<{ readonly sets: readonly WrittenBy[]; readonly isKnown: boolean }> {
  const key = rowKeyOf(id);
  const sets = await db.rows<Row<'change_set', 'id'> & { name: string | null; first: number }>(
    `SELECT s.id, u.name, MIN(CAST(JSON_VALUE(r.was, '$.version') AS UNSIGNED)) AS first
       FROM change_row r JOIN change_set s ON s.id = r.set_id LEFT JOIN app_user u ON u.id = s.user_id
      WHERE r.table_name = :table AND r.row_key = :key AND r.op = 'update'
        AND CAST(JSON_VALUE(r.was, '$.version') AS UNSIGNED) >= :version
      GROUP BY s.id, u.name ORDER BY first, s.id`,
    { table, key, version },
  );
  const read = [];
  for (const set of sets)
    read.push({ by: set.name ?? $localize`the system`, rows: await readWritten(db, idOf(set.id)) });
  return { sets: read, isKnown: Number(sets[0]?.first ?? -1) === version };
}

/** The key of rows that hang on a record by one more id or word. */
export const itemOf = (column: string, isId = false) => {
  return (key: Image): unknown => {
    const text = key[column] ?? '';
    return isId ? idOf(bytesOf(idOfHex(text))) : text;
  };
};

/** What was sent: a field that was left out stays as it is. */
export const sentOf = <Body extends object>(body: Body) =>
  Object.fromEntries(Object.entries(body).filter(([, value]) => value !== undefined)) as Partial<Body>;
