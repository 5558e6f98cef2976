// npm test: every check there is, from formatting to journeys in the browser; ends with the totals of all runners.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { checkNode, dataFolder, ensureDebian, ensurePackages, root, say } from './machine.mjs';

checkNode();
ensurePackages();
ensureDebian(['mariadb-server-core', 'mariadb-client-core', 'chromium', 'dovecot-imapd']);

const reports = path.join(dataFolder, 'reports');
rmSync(reports, { recursive: true, force: true });
mkdirSync(reports, { recursive: true });
const totals = { passed: 0, failed: 0 };

/** A check that passes or fails as a whole. */
function check(name, command, words) {
  say(`\n── ${name}`);
  const { status } = spawnSync(command, words, { cwd: root, stdio: ['ignore', 'inherit', 'inherit'] });
  totals[status === 0 ? 'passed' : 'failed'] += 1;
}

/** A runner that counts its own tests in a report; one that left none has failed. */
function run(name, command, words, options, count) {
  say(`\n── ${name}`);
  const { status } = spawnSync(command, words, {
    stdio: ['ignore', 'inherit', 'inherit'],
    cwd: root,
    ...options,
  });
  const { passed, failed } = count();
  totals.passed += passed;
  totals.failed += failed + (status !== 0 && failed === 0 ? 1 : 0);
}

const readReport = (file) => (existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : null);

check('formatting', 'npx', ['prettier', '--check', '--log-level', 'warn', '.']);
check('lint', 'npx', ['eslint', '.']);
check('import directions', 'npx', [
  'depcruise',
  '--config',
  '.dependency-cruiser.cjs',
  'contract',
  'core',
  'server',
  'web/src',
  'demo',
  'standins',
]);
check('types', 'node', ['scripts/typecheck.mjs']);

const jestReport = path.join(reports, 'jest.json');
run('unit and route tests', 'npx', ['jest', '--json', `--outputFile=${jestReport}`], {}, () => {
  const report = readReport(jestReport);
  if (report === null) return { passed: 0, failed: 1 };
  return { passed: report.numPassedTests, failed: report.numFailedTests + report.numRuntimeErrorTestSuites };
});

const { buildAll } = await import('./build.mjs');
await buildAll();
const journeyReport = path.join(reports, 'journeys.json');
run(
  'journeys in Chromium',
  'npx',
  ['playwright', 'test'],
  { cwd: path.join(root, 'e2e'), env: { ...process.env, KETTLE_JOURNEY_REPORT: journeyReport } },
  () => {
    const stats = readReport(journeyReport)?.stats;
    if (!stats) return { passed: 0, failed: 1 };
    return { passed: stats.expected, failed: stats.unexpected + stats.flaky };
  },
);

say(`\n${totals.passed} passed, ${totals.failed} failed`);
process.exit(totals.failed === 0 ? 0 : 1);
