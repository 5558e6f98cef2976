// Copies a schema beside itself: tables with their keys and checks, triggers, and the rows of those tables that have any, or of those named.
// A test that needs a migrated (or a seeded) database gets one in some hundredths of a second.

/**
 * The script that makes a copy of the schema `from`, to be run inside the empty copy.
 * @example
 * const script = await copyScript(connection, 'kettle_template');
 * await connection.query('CREATE DATABASE kettle_one'); await connection.query('USE kettle_one');
 * await connection.query(script); // with multipleStatements
 */
export async function copyScript(connection, from, { rowsOf } = {}) {
  const [tables] = await connection.query(
    "SELECT table_name AS name FROM information_schema.tables WHERE table_schema = ? AND table_type = 'BASE TABLE' ORDER BY table_name",
    [from],
  );
  const statements = ['SET FOREIGN_KEY_CHECKS = 0'];
  for (const { name } of tables) {
    const [[made]] = await connection.query(`SHOW CREATE TABLE \`${from}\`.\`${name}\``);
    statements.push(made['Create Table']);
  }
  for (const { name } of tables) {
    if (rowsOf !== undefined && !rowsOf.includes(name)) continue;
    const [[filled]] = await connection.query(
      `SELECT EXISTS (SELECT 1 FROM \`${from}\`.\`${name}\`) AS has_rows`,
    );
    if (Number(filled.has_rows) === 0) continue;
    const [columns] = await connection.query(
      "SELECT column_name AS name FROM information_schema.columns WHERE table_schema = ? AND table_name = ? AND is_generated = 'NEVER' ORDER BY ordinal_position",
      [from, name],
    );
    const list = columns.map((column) => `\`${column.name}\``).join(', ');
    statements.push(`INSERT INTO \`${name}\` (${list}) SELECT ${list} FROM \`${from}\`.\`${name}\``);
  }
  const [triggers] = await connection.query(
    'SELECT trigger_name AS name FROM information_schema.triggers WHERE trigger_schema = ? ORDER BY trigger_name',
    [from],
  );
  for (const { name } of triggers) {
    const [[made]] = await connection.query(`SHOW CREATE TRIGGER \`${from}\`.\`${name}\``);
    statements.push(made['SQL Original Statement'].replace(/^CREATE DEFINER=\S+ /, 'CREATE '));
  }
  statements.push('SET FOREIGN_KEY_CHECKS = 1');
  return statements.join(';\n');
}
