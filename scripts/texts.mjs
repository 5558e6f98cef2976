// The catalogues of texts: what the interface says, for each place, in web/texts/<language>/<place>.json.
// npm run texts writes those of English from the sources; npm test checks that they are current (docs/decisions/0012).
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { buildSync } from 'esbuild';
import { giveUp, root, say } from './machine.mjs';

const catalogues = path.join(root, 'web', 'texts');
const source = 'en';

/** Parts of the server whose words stand in a place of another name. */
const placesOfServer = {
  journal: 'dossier',
  logging: 'dossier',
  entries: 'dossier',
  files: 'dossier',
  users: 'accounts',
  security: 'accounts',
  rights: 'accounts',
  outside: 'mail',
  bulk: 'contacts',
  duplicates: 'contacts',
  imports: 'contacts',
  removal: 'contacts',
  pipelines: 'settings',
  products: 'settings',
  jobs: 'settings',
  touch: 'settings',
  notifications: 'shell',
};

/** The place a compiled file belongs to: a feature, or a part of the frame around them. */
function placeOf(file) {
  const [, feature] = /\/web\/src\/features\/([^/]+)\//.exec(file) ?? [];
  if (feature !== undefined) return feature;
  const [, part] = /\/server\/src\/(?:records|activity|processes|screens)\/([^/]+)\//.exec(file) ?? [];
  if (part !== undefined) return placesOfServer[part] ?? part;
  if (/\/server\/src\//.test(file)) return 'server';
  if (/\/(core|contract)\/src\//.test(file)) return 'everywhere';
  return file.includes('/web/src/kit/') ? 'kit' : 'shell';
}

function run(program, words) {
  const done = spawnSync(path.join(root, 'node_modules', '.bin', program), words, {
    cwd: root,
    encoding: 'utf8',
  });
  if (done.status !== 0) giveUp(`${program} failed:\n${done.stdout}${done.stderr}`);
}

/** What is marked in compiled files: `json` has the texts by id, `arb` also where each stands. */
function extract(folder, pattern, format) {
  const out = path.join(mkdtempSync(path.join(tmpdir(), 'kettle-texts-')), 'texts');
  run('localize-extract', ['-s', pattern, '-f', format, '-o', out, '-r', folder, '--loglevel', 'error']);
  const read = JSON.parse(readFileSync(out, 'utf8'));
  rmSync(path.dirname(out), { recursive: true });
  return read;
}

/** A language's texts by id, of all its places. */
export function readLanguage(language) {
  const folder = path.join(catalogues, language);
  const texts = {};
  for (const name of readdirSync(folder).sort())
    Object.assign(texts, JSON.parse(readFileSync(path.join(folder, name), 'utf8')));
  return texts;
}

/** The languages beside English that have catalogues. */
const languages = () => readdirSync(catalogues).filter((name) => name !== source);

/** The server, core and contract as JavaScript, file by file, in a folder. */
function compileServer(folder) {
  const sources = ['server', 'core', 'contract'].flatMap((part) =>
    readdirSync(path.join(root, part, 'src'), { recursive: true })
      .filter((name) => name.endsWith('.ts') && !name.endsWith('.test.ts'))
      .map((name) => path.join(part, 'src', name)),
  );
  buildSync({
    absWorkingDir: root,
    entryPoints: sources,
    outdir: folder,
    outbase: '.',
    format: 'esm',
    target: 'node20',
    logLevel: 'error',
  });
}

/** Writes the English catalogues from the sources. A text that several places say stands in `everywhere`. */
function write() {
  const compiled = mkdtempSync(path.join(tmpdir(), 'kettle-compiled-'));
  run('ngc', ['-p', 'web/tsconfig.app.json', '--outDir', compiled]);
  compileServer(compiled);
  const read = extract(compiled, '**/*.js', 'arb');
  rmSync(compiled, { recursive: true });
  const places = new Map();
  for (const [id, text] of Object.entries(read)) {
    if (id.startsWith('@')) continue;
    const said = new Set(read[`@${id}`]['x-locations'].map(({ file }) => placeOf(`/${file}`)));
    const place = said.size === 1 ? [...said][0] : 'everywhere';
    places.set(place, [...(places.get(place) ?? []), [id, text]]);
  }
  const folder = path.join(catalogues, source);
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  for (const [place, texts] of places) {
    const sorted = Object.fromEntries(texts.sort(([, one], [, other]) => (one < other ? -1 : 1)));
    writeFileSync(path.join(folder, `${place}.json`), `${JSON.stringify(sorted, null, 2)}\n`);
  }
  say(`${Object.keys(read).length / 2 - 0.5} texts of ${places.size} places are in web/texts/${source}.`);
}

/** Whether the English catalogues hold what the built interface and the server say, and the others nothing else. */
export function checkTexts(builtWeb) {
  const compiled = mkdtempSync(path.join(tmpdir(), 'kettle-compiled-'));
  compileServer(compiled);
  const said = {
    ...extract(builtWeb, '*.js', 'json').translations,
    ...extract(compiled, '**/*.js', 'json').translations,
  };
  rmSync(compiled, { recursive: true });
  const known = readLanguage(source);
  const wrong = [
    ...Object.keys(said)
      .filter((id) => known[id] === undefined)
      .map((id) => `not in web/texts/${source}: ${said[id]}`),
    ...Object.keys(known)
      .filter((id) => said[id] === undefined)
      .map((id) => `said nowhere any more: ${known[id]}`),
  ];
  for (const language of languages()) {
    const texts = readLanguage(language);
    const missing = Object.keys(known).filter((id) => texts[id] === undefined);
    if (missing.length > 0)
      say(`${language}: ${missing.length} of ${Object.keys(known).length} texts are still English.`);
    for (const id of Object.keys(texts))
      if (known[id] === undefined) wrong.push(`${language} translates what is not said: ${texts[id]}`);
  }
  return wrong;
}

/**
 * Writes a language's texts beside the built interface, as a script that runs before it.
 * @example await buildTexts('de', { '123': 'Speichern' }, 'web/dist/browser')
 */
export async function buildTexts(language, texts, folder) {
  const hash = createHash('sha256').update(JSON.stringify(texts)).digest('hex').slice(0, 8);
  // The server says its part from the same texts; those of English tell it what it says.
  const server = path.join(folder, 'texts');
  mkdirSync(server, { recursive: true });
  writeFileSync(path.join(server, 'en.json'), JSON.stringify(readLanguage(source)));
  writeFileSync(path.join(server, `${language}.json`), JSON.stringify(texts));
  buildSync({
    stdin: {
      contents: `import { loadTranslations } from '@angular/localize'; loadTranslations(${JSON.stringify(texts)});`,
      resolveDir: path.join(root, 'web'),
    },
    bundle: true,
    minify: true,
    format: 'esm',
    target: 'es2022',
    logLevel: 'error',
    outfile: path.join(folder, `texts.${language}.${hash}.js`),
  });
}

/** The scripts of all languages that have catalogues. */
export async function buildLanguages(folder) {
  if (!existsSync(catalogues)) return;
  for (const language of languages()) await buildTexts(language, readLanguage(language), folder);
}

if (process.argv[1] === import.meta.filename) {
  if (process.argv[2] === 'check') {
    const wrong = checkTexts(path.join(root, 'web', 'dist', 'browser'));
    for (const each of wrong) say(each);
    if (wrong.length > 0) giveUp('The catalogues of texts are not current: npm run texts writes them.');
  } else write();
}
