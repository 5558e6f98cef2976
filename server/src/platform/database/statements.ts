/**
 * The statements of an SQL script, without comments between them. Quotes and comments are understood; procedures with a body are not.
 * @example
 * statementsOf("INSERT INTO t VALUES (';'); -- done;\nDELETE FROM u;"); // ["INSERT INTO t VALUES (';')", 'DELETE FROM u']
 */
export function statementsOf(script: string): string[] {
  const statements: string[] = [];
  let current = '';
  for (const [token] of script.matchAll(
    /'(?:[^'\\]|\\.|'')*'|"(?:[^"\\]|\\.|"")*"|`[^`]*`|--[^\n]*|\/\*[\s\S]*?\*\/|;|[^'"`;/-]+|[\s\S]/g,
  )) {
    if (token.startsWith('--') || token.startsWith('/*')) continue;
    if (token === ';') {
      statements.push(current);
      current = '';
    } else current += token;
  }
  return [...statements, current].map((each) => each.trim()).filter((each) => each !== '');
}
