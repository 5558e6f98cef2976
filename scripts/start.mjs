// npm start: installs what is missing, starts a private database and the application, and stops both on Ctrl-C. npm run cluster: the same
// with two servers over three databases that hold the same.
import { spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { parseArgs } from 'node:util';
import { checkNode, ensureDebian, ensurePackages, giveUp, keyFileOf, root, say } from './machine.mjs';

const { values: asked } = readArguments();

checkNode();
ensurePackages();
const ownDatabase = process.env.KETTLE_DATABASE_URL === undefined;
if (asked.cluster && !ownDatabase)
  giveUp('--cluster starts databases of its own: leave KETTLE_DATABASE_URL away, or --cluster.');
if (ownDatabase)
  ensureDebian(['mariadb-server-core', 'mariadb-client-core', ...(asked.cluster ? ['galera-4'] : [])]);

const { startDatabase } = await import('./database.mjs');
const { endOf, keepRunning } = await import('./supervise.mjs');
const { buildAll, built } = await import('./build.mjs');

await buildAll();
const name = [asked.cluster ? 'cluster-' : '', asked.empty ? 'empty' : 'demo'].join('');
const cluster = asked.cluster ? await (await import('./cluster.mjs')).startCluster(name) : null;
const database = ownDatabase && !asked.cluster ? await startDatabase(name) : null;
const port = Number(asked.port ?? process.env.KETTLE_PORT ?? 4300);
const environment = {
  ...process.env,
  KETTLE_DATABASE_URL: process.env.KETTLE_DATABASE_URL ?? database?.url ?? cluster.urlFrom(0),
  KETTLE_KEY_FILE: process.env.KETTLE_KEY_FILE ?? keyFileOf(name),
  KETTLE_WEB_ROOT: built.web,
  KETTLE_LOG: process.env.KETTLE_LOG ?? 'warn',
  KETTLE_PORT: String(port),
};

const running = { servers: [], standins: null };
let stopping = false;
let outside = null;
async function stop(code) {
  if (stopping) return;
  stopping = true;
  await Promise.all(
    running.servers.map(async (server) => {
      if (server.exitCode !== null || server.signalCode !== null) return;
      server.kill('SIGTERM');
      await new Promise((resolve) => server.once('exit', resolve));
    }),
  );
  running.standins?.kill('SIGTERM');
  await (database ?? cluster)?.stop();
  process.exit(code);
}
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void stop(0));

if (ownDatabase) await keepBackup();
if (!asked.empty) environment.KETTLE_NOW = await seedDemo();
Object.assign(environment, await outsideWorld());
const watching = {
  isStopping: () => stopping,
  tell: say,
  giveUp: (words) => {
    say(words);
    void stop(1);
  },
};
if (database !== null) await keepRunning('The database', againAndAgain(database), watching);
for (const node of cluster?.nodes ?? [])
  await keepRunning(`The database ${node.name}`, againAndAgain(node), watching);
try {
  const urls = [];
  for (let n = 0; n < (cluster ? 2 : 1); n += 1)
    await keepRunning(n === 0 ? 'The server' : 'The second server', () => startServer(n, urls), watching);
  await welcome(urls);
} catch (error) {
  say(error.message);
  await stop(1);
}

/** Starts a database again when it has ended; the first time it runs already. */
function againAndAgain(node) {
  let runs = true;
  return async () => {
    if (!runs) await node.restart();
    runs = false;
    return { ended: node.ended() };
  };
}

/** Starts the server `n`, from 0, and answers once it listens. */
async function startServer(n, urls) {
  const child = spawn(process.execPath, ['--enable-source-maps', built.server], {
    cwd: root,
    env: {
      ...environment,
      KETTLE_PORT: String(port + n),
      // Each begins with a database of its own, and goes on with another one when that is away.
      ...(cluster ? { KETTLE_DATABASE_URL: cluster.urlFrom(n) } : {}),
      ...(environment.KETTLE_MAIL_IN_PORT
        ? { KETTLE_MAIL_IN_PORT: String(Number(environment.KETTLE_MAIL_IN_PORT) + n) }
        : {}),
    },
    stdio: ['ignore', 'pipe', 'inherit'],
    detached: true,
  });
  running.servers[n] = child;
  // However this program ends, the server does not stay behind.
  process.once('exit', () => child.kill('SIGTERM'));
  const ended = endOf(child);
  urls[n] = await new Promise((resolve, reject) => {
    child.stdout.on('data', (chunk) => {
      const found = /^listening (\S+)/m.exec(String(chunk));
      if (found) resolve(found[1]);
      else process.stdout.write(chunk);
    });
    void ended.then((how) => reject(new Error(`The server ended before it worked (${how}).`)));
  });
  return { ended };
}

function readArguments() {
  try {
    return parseArgs({
      options: {
        cluster: { type: 'boolean', default: false },
        empty: { type: 'boolean', default: false },
        'no-standins': { type: 'boolean', default: false },
        port: { type: 'string' },
      },
    });
  } catch (error) {
    return giveUp(`${error.message} There are --cluster, --empty, --no-standins and --port NUMBER.`);
  }
}

/**
 * The simulated outside world, for every way outside that no setting names: mail, telephone, texts. Answers with the
 * settings that lead to it.
 */
async function outsideWorld() {
  if (process.env.KETTLE_SMTP_URL !== undefined || asked['no-standins']) return {};
  const ports = { page: port + 10, smtp: port + 25, mailIn: port + 26 };
  const shared = {
    KETTLE_MAIL_IN_PORT: String(ports.mailIn),
    // The name that the stand-in for a receiving server gives itself.
    KETTLE_MAIL_AUTHSERV: 'mx.outside.localhost',
    KETTLE_GATEWAY_SECRET: process.env.KETTLE_GATEWAY_SECRET ?? randomBytes(24).toString('hex'),
  };
  running.standins = spawn(process.execPath, ['--enable-source-maps', built.standins], {
    cwd: root,
    env: {
      ...process.env,
      ...shared,
      STANDINS_PORT: String(ports.page),
      STANDINS_SMTP_PORT: String(ports.smtp),
      KETTLE_HOOK_URL: `http://127.0.0.1:${port}/out/hooks`,
    },
    stdio: ['ignore', 'pipe', 'inherit'],
    detached: true,
  });
  running.standins.on('exit', (code) => {
    if (!stopping)
      say(`The simulated outside world has stopped (${code}): mail, texts and calls lead nowhere.`);
  });
  await new Promise((resolve) => {
    running.standins.stdout.once('data', resolve);
    running.standins.once('exit', resolve);
  });
  outside = `http://127.0.0.1:${ports.page}`;
  return {
    ...shared,
    KETTLE_SMTP_URL: `smtp://127.0.0.1:${ports.smtp}?starttls=no`,
    KETTLE_PHONE_URL: outside,
    KETTLE_TEXT_URL: outside,
    KETTLE_INSIDE_ALLOWED: process.env.KETTLE_INSIDE_ALLOWED ?? `127.0.0.1:${ports.page}`,
  };
}

/** A database of an older version is kept as it is before anything of it is changed. */
async function keepBackup() {
  const { backupBeforeUpgrade } = await import('./backup.mjs');
  const kept = await backupBeforeUpgrade(name, database ?? cluster.nodes[0]);
  if (kept !== null)
    say(`The database is of an older version; it was kept in ${kept} before it is upgraded.`);
}

/** Seeds the demo when the database is empty, and answers with the instant its clock starts at. */
async function seedDemo() {
  const child = spawn(process.execPath, ['--enable-source-maps', built.seed], {
    cwd: root,
    env: environment,
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  let words = '';
  child.stdout.on('data', (chunk) => (words += String(chunk)));
  const code = await new Promise((resolve) => child.once('exit', resolve));
  if (code !== 0) await stop(code ?? 1);
  return /^demo clock (\S+)$/m.exec(words)?.[1];
}

async function welcome([url, second]) {
  say(`\nAsh Kettle is at ${url}${second ? ` and, the same, at ${second}` : ''}\n`);
  for (const node of cluster?.nodes ?? []) say(`  ${node.name}: mariadb --socket=${node.socket} kettle`);
  const doorstep = await fetch(`${url}/api/doorstep`).then((reply) => reply.json());
  if (doorstep.needsAdmin) say('Nobody is here yet: open the address and make the first admin.');
  for (const person of doorstep.demoPeople) say(`  ${person.email.padEnd(34)} ${person.words}`);
  if (doorstep.demoPeople.length > 0)
    say(`\n  The password of all of them: ${doorstep.demoPeople[0].password}`);
  if (!asked.empty)
    say(`  The demo's clock started at ${environment.KETTLE_NOW}; KETTLE_NOW sets another instant.`);
  if (outside) say(`  The people outside (mail, telephone, texts) are simulated: ${outside}`);
  say('\nCtrl-C stops it.');
}
