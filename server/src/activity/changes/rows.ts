import type { Queryable, SqlValue } from '../../platform/database/database';
import { readSchema, type Column, type Schema } from '../../platform/database/schema';
import type { Image } from '../../platform/work/written';

/** Reads and writes single rows by what `change_row` keeps of them. */
export class Rows {
  private constructor(
    private readonly db: Queryable,
    readonly schema: Schema,
  ) {}

  static async open(db: Queryable, keeper: object): Promise<Rows> {
    return new Rows(db, await readSchema(db, keeper));
  }

  private column(table: string, name: string): Column {
    const found = this.schema.columns.get(table)?.find((each) => each.name === name);
    if (!found) throw new Error(`${table} has no column ${name} any more`);
    return found;
  }

  private valueOf(table: string, name: string, text: string | null): SqlValue {
    return text !== null && this.column(table, name).isBytes ? Buffer.from(text, 'hex') : text;
  }

  private where(table: string, key: string): { sql: string; values: Record<string, SqlValue> } {
    const columns = JSON.parse(key) as Image;
    const values = Object.fromEntries(
      Object.entries(columns).map(([name, text]) => [`key_${name}`, this.valueOf(table, name, text)]),
    );
    return {
      sql: Object.keys(columns)
        .map((name) => `\`${name}\` = :key_${name}`)
        .join(' AND '),
      values,
    };
  }

  /** The row as text, locked; null when it is not there. */
  async read(table: string, key: string): Promise<Image | null> {
    const columns = this.schema.columns.get(table) ?? [];
    const list = columns.map(
      ({ name, isBytes }) => `${isBytes ? `HEX(\`${name}\`)` : `CAST(\`${name}\` AS CHAR)`} AS \`${name}\``,
    );
    const { sql, values } = this.where(table, key);
    const [row] = await this.db.rows<Image>(
      `SELECT ${list.join(', ')} FROM ${table} WHERE ${sql} FOR UPDATE`,
      values,
    );
    return row ?? null;
  }

  async insert(table: string, image: Image): Promise<void> {
    const known = new Set(
      (this.schema.columns.get(table) ?? []).filter((each) => !each.isGenerated).map(({ name }) => name),
    );
    const names = Object.keys(image).filter((name) => known.has(name));
    await this.db.change(
      `INSERT INTO ${table} (${names.map((name) => `\`${name}\``).join(', ')}) VALUES (${names.map((name) => `:${name}`).join(', ')})`,
      Object.fromEntries(names.map((name) => [name, this.valueOf(table, name, image[name] ?? null)])),
    );
  }

  /** Versions go on counting, so that whoever still sees the row as it was is refused. */
  async update(table: string, key: string, columns: Image): Promise<void> {
    const names = Object.keys(columns);
    const hasVersion = this.schema.columns.get(table)?.some(({ name }) => name === 'version') ?? false;
    const { sql, values } = this.where(table, key);
    await this.db.change(
      `UPDATE ${table} SET ${names.map((name) => `\`${name}\` = :${name}`).join(', ')}${hasVersion ? ', version = version + 1' : ''} WHERE ${sql}`,
      {
        ...values,
        ...Object.fromEntries(names.map((name) => [name, this.valueOf(table, name, columns[name] ?? null)])),
      },
    );
  }

  async remove(table: string, key: string): Promise<void> {
    const { sql, values } = this.where(table, key);
    await this.db.change(`DELETE FROM ${table} WHERE ${sql}`, values);
  }

  /** Rows that refer to a row by a foreign key, as their keys; so many at most by each key. */
  async referring(
    table: string,
    key: string,
    most = 200,
  ): Promise<{ readonly table: string; readonly column: string; readonly key: string }[]> {
    const { id } = JSON.parse(key) as Image;
    if (!id) return [];
    const found: { table: string; column: string; key: string }[] = [];
    for (const reference of this.schema.references.filter(({ parent }) => parent === table)) {
      const keys = (this.schema.columns.get(reference.table) ?? []).filter(({ isKey }) => isKey);
      const list = keys.map(
        ({ name, isBytes }) => `${isBytes ? `HEX(\`${name}\`)` : `CAST(\`${name}\` AS CHAR)`} AS \`${name}\``,
      );
      const rows = await this.db.rows<Image>(
        `SELECT ${list.join(', ')} FROM ${reference.table} WHERE \`${reference.column}\` = :id LIMIT ${most}`,
        { id: Buffer.from(id, 'hex') },
      );
      for (const row of rows)
        found.push({ table: reference.table, column: reference.column, key: keyOf(keys, row) });
    }
    return found;
  }
}

/** As the triggers write it. */
const keyOf = (keys: readonly Column[], row: Image) =>
  `{${keys.map(({ name }) => `"${name}":${JSON.stringify(row[name])}`).join(',')}}`;
