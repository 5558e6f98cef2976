// npm test: every check there is, from formatting to journeys in the browser; ends with the totals of all runners.
// npm run test:core, :server, :web, :e2e and :static run a part.
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { setPriority } from 'node:os';
import path from 'node:path';
import { checkNode, dataFolder, ensureDebian, ensurePackages, root, say } from './machine.mjs';

checkNode();
ensurePackages();
ensureDebian([
  'mariadb-server-core',
  'mariadb-client-core',
  'mariadb-client',
  'chromium-headless-shell',
  'dovecot-imapd',
  'python3-radicale',
]);

const asked = process.argv[2] ?? 'all';
const wants = (...parts) => asked === 'all' || parts.includes(asked);
const reports = path.join(dataFolder, 'reports');
rmSync(reports, { recursive: true, force: true });
mkdirSync(reports, { recursive: true });
const totals = { passed: 0, failed: 0 };
const started = Date.now();

/** What only reads the sources keeps nobody waiting: it takes what the runners leave. */
const staticPriority = 19;

/** Runs a command and answers with its exit code and what it printed, which is shown when it has ended. */
function run(command, words, { priority = 0, ...options } = {}) {
  return new Promise((resolve) => {
    const child = spawn(command, words, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'], ...options });
    // Alone, a part has both cores to itself.
    if (asked === 'all' && child.pid !== undefined) setPriority(child.pid, priority);
    const printed = [];
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk) => printed.push(chunk));
    child.once('error', (error) => resolve({ status: 1, words: String(error) }));
    child.once('close', (status) => resolve({ status, words: Buffer.concat(printed).toString() }));
  });
}

const seconds = () => Math.round((Date.now() - started) / 1000);

/** A check that passes or fails as a whole. */
async function check(name, command, words) {
  const { status, words: said } = await run(command, words, { priority: staticPriority });
  say(`\n── ${name} (${seconds()} s)\n${said.trim()}`);
  totals[status === 0 ? 'passed' : 'failed'] += 1;
}

const readReport = (file) => (existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : null);

/** A runner that counts its own tests in a report; one that left none has failed. */
function count(status, counted) {
  totals.passed += counted.passed;
  totals.failed += counted.failed + (status !== 0 && counted.failed === 0 ? 1 : 0);
}

/** Everything that only reads the sources, one after the other beside the runners: two at a time would keep the journeys waiting. */
async function staticChecks() {
  await check('lint', 'npx', ['eslint', '.']);
  await check('lint with types', 'npx', ['oxlint', '--type-aware']);
  // Templates have their types checked where the interface is built.
  await check('types', 'node', ['scripts/typecheck.mjs', ...(wants('e2e') ? ['--without-templates'] : [])]);
  await check('formatting', 'npx', ['prettier', '--check', '--log-level', 'warn', '.']);
  const parts = ['contract', 'core', 'server', 'web/src', 'demo', 'standins'];
  await check('import directions', 'npx', ['depcruise', '--config', '.dependency-cruiser.cjs', ...parts]);
}

async function jest(projects) {
  const report = path.join(reports, 'jest.json');
  const only = projects.length > 0 ? ['--selectProjects', ...projects] : [];
  const { status, words } = await run('npx', ['jest', '--json', `--outputFile=${report}`, ...only]);
  // The report in JSON goes to the file and to the end of what is printed; only what is for people is shown.
  say(`\n── unit and route tests (${seconds()} s)\n${words.replace(/^\{"numFailed.*$/m, '').trim()}`);
  const read = readReport(report);
  count(
    status,
    read === null
      ? { passed: 0, failed: 1 }
      : { passed: read.numPassedTests, failed: read.numFailedTests + read.numRuntimeErrorTestSuites },
  );
}

/** What journeys run: built beside the unit tests, which wait for the database now and then. */
async function build() {
  const { status, words } = await run('node', ['scripts/build.mjs']);
  if (status === 0) return;
  say(`\n── build (${seconds()} s)\n${words.trim()}`);
  totals.failed += 1;
}

async function journeys() {
  const report = path.join(reports, 'journeys.json');
  const texts = check('catalogues of texts', 'node', ['scripts/texts.mjs', 'check']);
  const { status, words } = await run('npx', ['playwright', 'test'], {
    cwd: path.join(root, 'e2e'),
    env: { ...process.env, KETTLE_JOURNEY_REPORT: report },
  });
  await texts;
  say(`\n── journeys in Chromium (${seconds()} s)\n${words.trim()}`);
  const stats = readReport(report)?.stats;
  // What passed only at a second try has failed.
  count(
    status,
    stats ? { passed: stats.expected, failed: stats.unexpected + stats.flaky } : { passed: 0, failed: 1 },
  );
}

const projectsOf = { core: ['contract', 'core'], server: ['server', 'demo', 'standins'], web: ['web'] };

/** One runner after the other: each needs both cores, and fails when it is kept waiting. */
async function runners() {
  const built = wants('e2e') ? build() : null;
  if (wants('core', 'server', 'web')) await jest(projectsOf[asked] ?? []);
  await built;
  if (wants('e2e')) await journeys();
}

await Promise.all([runners(), wants('static') ? staticChecks() : null]);

say(`\n${totals.passed} passed, ${totals.failed} failed`);
process.exit(totals.failed === 0 ? 0 : 1);
