// npm run bench: speed as ratios within one run, one JSON object a line.
import { spawnSync } from 'node:child_process';
import { checkNode, ensureDebian, ensurePackages, root } from './machine.mjs';

checkNode();
ensurePackages();
ensureDebian(['mariadb-server-core', 'mariadb-client-core', 'chromium']);

const { startDatabase } = await import('./database.mjs');
const { buildAll } = await import('./build.mjs');
// As it is shipped: bundled, not transformed on the fly.
await buildAll({ also: { bench: 'server/bench/bench.ts', planning: 'server/bench/planning.ts' } });
const database = await startDatabase('bench', { isForTests: true });
const run = (...words) =>
  spawnSync(process.execPath, ['--import', 'tsx', ...words], {
    cwd: root,
    env: { ...process.env, KETTLE_DATABASE_URL: database.url },
    stdio: ['ignore', 'inherit', 'inherit'],
  }).status;
const failed = [
  run('server/dist/bench.mjs'),
  run('server/dist/planning.mjs'),
  run('e2e/testing/first-load.ts'),
  run('e2e/testing/lanes-drag.ts'),
].some((status) => status !== 0);
await database.stop();
process.exit(failed ? 1 : 0);
