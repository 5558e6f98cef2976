// npm run test:faults [word]: breaks servers and databases while people work, and counts what is lost or doubled.
import { spawnSync } from 'node:child_process';
import { buildAll } from './build.mjs';
import { checkNode, ensureDebian, ensurePackages, fromSources, root } from './machine.mjs';

checkNode();
ensurePackages();
ensureDebian(['mariadb-server-core', 'mariadb-client-core', 'mariadb-client', 'galera-4']);
await buildAll();
const { status } = spawnSync(
  process.execPath,
  [...fromSources, 'e2e/faults/run.ts', ...process.argv.slice(2)],
  { cwd: root, stdio: 'inherit' },
);
process.exit(status ?? 1);
