// npm run dev: the application with demo data, built anew when a source changes: the server starts again, the browser reloads.
import { spawn } from 'node:child_process';
import { watch } from 'node:fs';
import path from 'node:path';
import { checkNode, ensureDebian, ensurePackages, giveUp, keyFileOf, root, say } from './machine.mjs';

checkNode();
ensurePackages();
ensureDebian(['mariadb-server-core', 'mariadb-client-core']);
const { startDatabase } = await import('./database.mjs');
const { buildAll, built } = await import('./build.mjs');
await buildAll({ web: false });
const database = await startDatabase('dev');
const ports = { server: 4300, web: 4200 };
const environment = {
  ...process.env,
  KETTLE_DATABASE_URL: database.url,
  KETTLE_KEY_FILE: process.env.KETTLE_KEY_FILE ?? keyFileOf('dev'),
  KETTLE_PORT: String(ports.server),
  KETTLE_PUBLIC_ORIGIN: `http://127.0.0.1:${ports.web}`,
  KETTLE_LOG: process.env.KETTLE_LOG ?? 'info',
};

const children = { server: null, web: null };
let stopping = false;

const ended = (child) =>
  child === null || child.exitCode !== null || child.signalCode !== null
    ? Promise.resolve()
    : new Promise((resolve) => {
        child.once('exit', resolve);
        child.kill('SIGTERM');
      });

async function seed() {
  const child = spawn(process.execPath, ['--enable-source-maps', built.seed], {
    cwd: root,
    env: environment,
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  let words = '';
  child.stdout.on('data', (chunk) => (words += String(chunk)));
  const code = await new Promise((resolve) => child.once('exit', resolve));
  if (code !== 0) giveUp('The demo could not be written.');
  environment.KETTLE_NOW ??= /^demo clock (\S+)$/m.exec(words)?.[1];
}

function startServer() {
  children.server = spawn(process.execPath, ['--enable-source-maps', built.server], {
    cwd: root,
    env: environment,
    stdio: 'inherit',
  });
}

async function stop() {
  if (stopping) return;
  stopping = true;
  await Promise.all([ended(children.server), ended(children.web)]);
  await database.stop();
  process.exit(0);
}
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => void stop());

await seed();
startServer();
// Angular's own server reloads the browser; what it does not know it asks ours.
children.web = spawn(
  'npx',
  ['ng', 'serve', 'web', '--host', '127.0.0.1', '--port', String(ports.web), '--proxy-config', 'proxy.json'],
  { cwd: path.join(root, 'web'), stdio: 'inherit' },
);

let building = Promise.resolve();
let timer;
const rebuild = () => {
  clearTimeout(timer);
  timer = setTimeout(() => {
    building = building.then(async () => {
      await ended(children.server);
      await buildAll({ web: false });
      if (!stopping) startServer();
      say('── the server was built anew');
    });
  }, 200);
};
for (const part of ['server/src', 'core/src', 'contract/src'])
  watch(path.join(root, part), { recursive: true }, (_, file) => {
    if (file?.endsWith('.ts') && !file.endsWith('.test.ts')) rebuild();
  });
