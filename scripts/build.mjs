// Builds the server (one file) and the web application, when their sources changed since the last build.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  cpSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import path from 'node:path';
import { brotliCompressSync, constants } from 'node:zlib';
import { giveUp, root, say } from './machine.mjs';
import { buildLanguages } from './texts.mjs';

const serverOut = path.join(root, 'server', 'dist');
const webOut = path.join(root, 'web', 'dist');
const banner =
  "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);";

export const built = {
  server: path.join(serverOut, 'main.mjs'),
  seed: path.join(serverOut, 'seed.mjs'),
  archive: path.join(serverOut, 'archive.mjs'),
  standins: path.join(serverOut, 'standins.mjs'),
  web: path.join(webOut, 'browser'),
};

export async function buildAll({ web = true, also = {} } = {}) {
  await buildServer(also);
  if (web) await buildWeb();
}

/** Packages with native code or data files of their own. */
const native = ['@node-rs/argon2', 'date-holidays', 'pino', 'pino-http', 'mysql2', '@faker-js/faker'];
/** What is loaded when it is first used, or is mostly words: two thirds of what each thread would read as it starts. */
const late = [
  'mailauth',
  'imapflow',
  'smtp-server',
  'mailparser',
  'iconv-lite',
  '@zxcvbn-ts/language-common',
  'free-email-domains-list',
  'undici',
  'fast-xml-parser',
  'pdfmake',
  'xmlbuilder2',
];

/** How a program for Node.js becomes one file: esbuild's options. Everything of ours is in it, and all packages but those above. */
export const nodeBundle = {
  absWorkingDir: root,
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  sourcemap: true,
  // Each thread reads the map as it starts: places are enough for what a fault says, the sources lie beside it.
  sourcesContent: false,
  logLevel: 'error',
  banner: { js: banner },
  // What core and contract say is marked for other languages ($localize) here too.
  inject: ['node_modules/@angular/localize/fesm2022/init.mjs'],
  external: [...native, ...late],
  tsconfig: 'tsconfig.base.json',
  // Half the bytes are read and compiled, by each of the program's threads; names stay for what a fault says.
  minifyWhitespace: true,
};

/** The program that writes and reads archives, beside what may be running. */
export async function buildArchive() {
  const { build } = await import('esbuild');
  await build({
    entryPoints: { archive: 'server/src/archive.ts' },
    ...nodeBundle,
    outdir: serverOut,
    outExtension: { '.js': '.mjs' },
  });
}

/** `also` names further entry points, built the same way. */
async function buildServer(also) {
  const { build } = await import('esbuild');
  rmSync(serverOut, { recursive: true, force: true });
  await build({
    entryPoints: {
      main: 'server/src/main.ts',
      seed: 'demo/src/seed.ts',
      standins: 'standins/src/main.ts',
      ...also,
    },
    ...nodeBundle,
    outdir: serverOut,
    outExtension: { '.js': '.mjs' },
  }).catch((error) => giveUp(`The server could not be built: ${error.message}`));
  mkdirSync(serverOut, { recursive: true });
  cpSync(
    path.join(root, 'server', 'src', 'platform', 'database', 'migrations'),
    path.join(serverOut, 'migrations'),
    {
      recursive: true,
    },
  );
}

async function buildWeb() {
  const stamp = path.join(webOut, '.sources');
  const now = hashOf(['web', 'core', 'contract'].map((part) => path.join(root, part)));
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return;
  say('Building the web application …');
  // A browser pays for each file: small ones that always come together are joined.
  const done = spawnSync('npx', ['ng', 'build', 'web', '--progress=false'], {
    env: { ...process.env, NG_BUILD_OPTIMIZE_CHUNKS: '1' },
    cwd: path.join(root, 'web'),
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  if (done.status !== 0) giveUp(`The web application could not be built:\n${done.stdout}${done.stderr}`);
  await buildLanguages(path.join(webOut, 'browser'));
  precompress(path.join(webOut, 'browser'));
  writeFileSync(stamp, now);
}

/** Smaller forms beside the files: made once, an eighth smaller than what a server has time for at each request. */
export function precompress(folder) {
  const quality = { params: { [constants.BROTLI_PARAM_QUALITY]: 10 } };
  for (const name of readdirSync(folder).filter((each) => /\.(js|css)$/.test(each)))
    writeFileSync(
      path.join(folder, `${name}.br`),
      brotliCompressSync(readFileSync(path.join(folder, name)), quality),
    );
}

function hashOf(folders) {
  const hash = createHash('sha256');
  const visit = (folder) => {
    for (const entry of readdirSync(folder, { withFileTypes: true }).sort((a, b) =>
      a.name < b.name ? -1 : 1,
    )) {
      const file = path.join(folder, entry.name);
      if (entry.isDirectory()) {
        if (!['node_modules', 'dist', '.angular'].includes(entry.name)) visit(file);
      } else if (!/\.test\.ts$/.test(entry.name))
        hash.update(`${file}\0`).update(readFileSync(file)).update('\0');
    }
  };
  for (const folder of folders) if (statSync(folder).isDirectory()) visit(folder);
  return hash.digest('hex');
}

if (process.argv[1] === import.meta.filename) await buildAll();
