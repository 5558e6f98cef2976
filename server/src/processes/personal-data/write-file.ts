import type { Image } from '../../platform/work/written';
import { escapeHtml } from '../../platform/http/html';
import type { Collected } from './collect';
import { places } from './places';

const isId = (name: string, value: string | null) =>
  value !== null && /(^|_)(id|by)$/.test(name) && /^[0-9A-F]{32}$/.test(value);

/** An id as the application says it. */
const uuidOf = (hex: string) =>
  [hex.slice(0, 8), hex.slice(8, 12), hex.slice(12, 16), hex.slice(16, 20), hex.slice(20)]
    .join('-')
    .toLowerCase();

const valueOf = (name: string, value: string | null) => (isId(name, value) ? uuidOf(value!) : value);

/**
 * Everything as one JSON document: for each table what it is, and its rows with their columns; then what is in the files, in base64 (RFC 4648)
 * by the file's id. It comes in parts, so that no more than one file is held at a time.
 */
export async function* jsonOfPerson(
  collected: Collected,
  at: string,
  readFile: (id: string) => Promise<Buffer>,
): AsyncGenerator<string> {
  const tables = Object.fromEntries(
    [...collected].map(([table, rows]) => [
      table,
      {
        about: places[table]?.words ?? table,
        rows: rows.map((row) =>
          Object.fromEntries(Object.entries(row).map(([name, value]) => [name, valueOf(name, value)])),
        ),
      },
    ]),
  );
  const whole = JSON.stringify({ format: 'personal-data', version: 2, at, tables }, null, 2);
  yield `${whole.slice(0, whole.lastIndexOf('\n}'))},\n  "files": {`;
  for (const [index, { id }] of (collected.get('stored_file') ?? []).entries()) {
    const fileId = uuidOf(id!);
    const content = (await readFile(fileId)).toString('base64');
    yield `${index === 0 ? '' : ','}\n    ${JSON.stringify(fileId)}: ${JSON.stringify(content)}`;
  }
  yield '\n  }\n}';
}

/** Columns that tell a reader nothing: keys, counters, what only machines compare. */
const isForMachines = (name: string) =>
  /(^|_)(id|key|hash|digest|sort|version|position|minor)$|^(sort_name|search_text|handled|links|reference_ids|version)$/.test(
    name,
  );

/** The same as a page to read or print: without ids, in sentences of name and value. */
export function pageOfPerson(collected: Collected, name: string, at: string): string {
  const sections = [...collected].map(
    ([table, rows]) =>
      `<section><h2>${escapeHtml(upper(places[table]?.words ?? table))}</h2>${rows.map(itemOf).join('')}</section>`,
  );
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>${escapeHtml(name)}</title>
<style>body{font:16px/1.5 system-ui,sans-serif;max-inline-size:48rem;margin:2rem auto;padding-inline:1rem}dl{border-block-start:1px solid #bbb;display:grid;grid-template-columns:12rem 1fr;gap:.2rem 1rem;padding-block:.6rem;margin:0}dt{color:#555}dd{margin:0;white-space:pre-wrap;overflow-wrap:anywhere}</style></head>
<body><h1>What is held of ${escapeHtml(name)}</h1><p>As of ${escapeHtml(at)}.</p>${sections.join('')}</body></html>`;
}

function itemOf(row: Image): string {
  const pairs = Object.entries(row).filter(
    ([name, value]) => value !== null && value !== '' && !isForMachines(name),
  );
  const items = pairs.map(
    ([name, value]) => `<dt>${escapeHtml(name.replaceAll('_', ' '))}</dt><dd>${escapeHtml(value ?? '')}</dd>`,
  );
  return `<dl>${items.join('')}</dl>`;
}

const upper = (words: string) => words[0]!.toUpperCase() + words.slice(1);
