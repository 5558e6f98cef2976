import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, normalize } from 'node:path';
import ts from 'typescript';

const root = join(__dirname, '../..');
const parts = ['contract', 'core', 'server', 'web'];

/** Folder to the folders whose values it imports, in one part of the application; types and tests do not count. */
function folderGraph(part: string): Map<string, Set<string>> {
  const files = readdirSync(join(root, part, 'src'), { recursive: true, encoding: 'utf8' })
    .map((file) => join(part, 'src', file))
    .filter((file) => file.endsWith('.ts') && !file.endsWith('.test.ts'));
  const known = new Set(files);
  const graph = new Map<string, Set<string>>();
  for (const file of files)
    for (const name of valueImportsOf(file)) {
      if (!name.startsWith('.')) continue;
      const path = normalize(join(dirname(file), name));
      const target = [`${path}.ts`, join(path, 'index.ts')].find((candidate) => known.has(candidate));
      if (target === undefined || dirname(target) === dirname(file)) continue;
      graph.set(dirname(file), (graph.get(dirname(file)) ?? new Set()).add(dirname(target)));
    }
  return graph;
}

function valueImportsOf(file: string): string[] {
  const source = ts.createSourceFile(file, readFileSync(join(root, file), 'utf8'), ts.ScriptTarget.Latest);
  return source.statements.flatMap((statement) => {
    if (!ts.isImportDeclaration(statement) && !ts.isExportDeclaration(statement)) return [];
    if (!statement.moduleSpecifier || !ts.isStringLiteral(statement.moduleSpecifier)) return [];
    return isOnlyTypes(statement) ? [] : [statement.moduleSpecifier.text];
  });
}

function isOnlyTypes(statement: ts.ImportDeclaration | ts.ExportDeclaration): boolean {
  if (ts.isExportDeclaration(statement)) return statement.isTypeOnly;
  const clause = statement.importClause;
  if (!clause) return false;
  if (clause.isTypeOnly) return true;
  const named = clause.namedBindings;
  return (
    clause.name === undefined &&
    named !== undefined &&
    ts.isNamedImports(named) &&
    named.elements.length > 0 &&
    named.elements.every((element) => element.isTypeOnly)
  );
}

/** One way round, as `a → b → a`; null when there is none. */
function circleIn(graph: ReadonlyMap<string, ReadonlySet<string>>): string | null {
  const done = new Set<string>();
  const walk = (folder: string, way: readonly string[]): string | null => {
    if (way.includes(folder)) return [...way.slice(way.indexOf(folder)), folder].join(' → ');
    if (done.has(folder)) return null;
    for (const next of graph.get(folder) ?? []) {
      const found = walk(next, [...way, folder]);
      if (found !== null) return found;
    }
    done.add(folder);
    return null;
  };
  for (const folder of graph.keys()) {
    const found = walk(folder, []);
    if (found !== null) return found;
  }
  return null;
}

test('a circle is found where there is one', () => {
  const graph = new Map([
    ['a', new Set(['b'])],
    ['b', new Set(['c'])],
    ['c', new Set(['b'])],
  ]);
  expect(circleIn(graph)).toBe('b → c → b');
});

test.each(parts)('no folders of %s stand in a circle', (part) => {
  const graph = folderGraph(part);
  expect(graph.size).toBeGreaterThan(0);
  expect(circleIn(graph)).toBeNull();
});
