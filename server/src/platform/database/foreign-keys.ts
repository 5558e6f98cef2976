import type mysql from 'mysql2/promise';

export interface ForeignKey {
  readonly table: string;
  readonly name: string;
  readonly columns: string;
  readonly parent: string;
  readonly parentColumns: string;
  readonly onDelete: string;
  readonly onUpdate: string;
}

/** Every foreign key of the schema at hand. */
export async function foreignKeysOf(connection: mysql.Connection): Promise<ForeignKey[]> {
  const [rows] = await connection.query<mysql.RowDataPacket[]>(
    `SELECT r.table_name AS \`table\`, r.constraint_name AS name, r.referenced_table_name AS parent,
            r.delete_rule AS onDelete, r.update_rule AS onUpdate,
            GROUP_CONCAT(CONCAT('\`', k.column_name, '\`') ORDER BY k.ordinal_position) AS columns,
            GROUP_CONCAT(CONCAT('\`', k.referenced_column_name, '\`') ORDER BY k.ordinal_position) AS parentColumns
       FROM information_schema.referential_constraints r
       JOIN information_schema.key_column_usage k
         ON k.constraint_schema = r.constraint_schema AND k.table_name = r.table_name AND k.constraint_name = r.constraint_name
      WHERE r.constraint_schema = DATABASE()
      GROUP BY r.table_name, r.constraint_name ORDER BY r.table_name, r.constraint_name`,
  );
  return rows as ForeignKey[];
}

/**
 * Adds again what a dying database lost: an ALTER TABLE that copies its table and is killed between the two renames comes back with its new
 * columns and checks, and without one foreign key (seen on MariaDB 10.11).
 * @param before the keys that were there before the statement
 * @param sql the statement, which by now has run to its end; keys and tables that it drops stay away
 */
export async function restoreForeignKeys(
  connection: mysql.Connection,
  before: readonly ForeignKey[],
  sql: string,
): Promise<void> {
  const now = await foreignKeysOf(connection);
  const has = new Set(now.map(({ table, name }) => `${table}.${name}`));
  const [tables] = await connection.query<mysql.RowDataPacket[]>(
    'SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE()',
  );
  const known = new Set(tables.map(({ name }) => String(name)));
  for (const key of before) {
    const isDropped = new RegExp(
      `DROP\\s+(FOREIGN KEY|CONSTRAINT)\\s+(IF EXISTS\\s+)?\`?${key.name}\\b`,
      'i',
    ).test(sql);
    if (isDropped || has.has(`${key.table}.${key.name}`) || !known.has(key.table) || !known.has(key.parent))
      continue;
    await connection.query(
      `ALTER TABLE \`${key.table}\` ADD CONSTRAINT \`${key.name}\` FOREIGN KEY (${key.columns})
       REFERENCES \`${key.parent}\` (${key.parentColumns}) ON DELETE ${key.onDelete} ON UPDATE ${key.onUpdate}`,
    );
  }
}
