// npm run screenshots: one picture of each main view, from demo data at a fixed moment, in docs/screenshots.
import { spawnSync } from 'node:child_process';
import { checkNode, ensureDebian, ensurePackages, fromSources, root } from './machine.mjs';

checkNode();
ensurePackages();
ensureDebian(['mariadb-server-core', 'mariadb-client-core', 'chromium-headless-shell']);
const { buildAll } = await import('./build.mjs');
await buildAll();
const { status } = spawnSync(process.execPath, [...fromSources, 'e2e/testing/screenshots.ts'], {
  cwd: root,
  stdio: 'inherit',
});
process.exit(status ?? 1);
