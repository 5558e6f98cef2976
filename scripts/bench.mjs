// npm run bench: speed as ratios within one run, one JSON object a line. `npm run bench round` (people,
// cadences, deals, crowd, calendar, agreements, rules, forecast, ranking, route, imports, cluster) measures a part alone; crowd, calendar, agreements, rules, forecast and
// imports then in an empty installation.
// `npm run bench people dossier` measures of that part only what has the word in its name.
import { spawnSync } from 'node:child_process';
import { checkNode, ensureDebian, ensurePackages, fromSources, keyFileOf, root } from './machine.mjs';

checkNode();
ensurePackages();
ensureDebian(['mariadb-server-core', 'mariadb-client-core', 'chromium-headless-shell', 'galera-4']);

const { startDatabase } = await import('./database.mjs');
const { buildAll } = await import('./build.mjs');
// As it is shipped: bundled, not transformed on the fly.
const only = process.argv[2] ?? '';
const alone = {
  planning: 'server/bench/planning.ts',
  ranking: 'server/bench/ranking.ts',
  route: 'server/bench/route.ts',
};
// Only what is measured in a browser needs the web application.
await buildAll({
  web: only === '',
  also: { bench: 'server/bench/bench.ts', 'crowd-client': 'server/bench/crowd-client.ts', ...alone },
});
if (only in alone) {
  const { status } = spawnSync(process.execPath, [`server/dist/${only}.mjs`], {
    cwd: root,
    stdio: 'inherit',
  });
  process.exit(status ?? 1);
}
// Over databases of its own, on disk.
const clusterBench = 'e2e/faults/throughput.ts';
if (only === 'cluster') {
  const { status } = spawnSync(process.execPath, [...fromSources, clusterBench], {
    cwd: root,
    stdio: 'inherit',
  });
  process.exit(status ?? 1);
}
const database = await startDatabase('bench', { isForTests: true });
const run = (...words) =>
  spawnSync(process.execPath, [...fromSources, ...words], {
    cwd: root,
    env: {
      ...process.env,
      KETTLE_DATABASE_URL: database.url,
      KETTLE_KEY_FILE: keyFileOf('bench'),
      KETTLE_BENCH_ONLY: only,
      KETTLE_BENCH_ABOUT: process.argv[3] ?? '',
    },
    stdio: ['ignore', 'inherit', 'inherit'],
  }).status;
const others = [
  ...Object.keys(alone).map((name) => `server/dist/${name}.mjs`),
  ...['first-load', 'lanes-drag', 'grid-and-dialog'].map((name) => `e2e/testing/${name}.ts`),
];
const failed = ['server/dist/bench.mjs', ...(only === '' ? others : [])]
  .map((file) => run(file))
  .some((status) => status !== 0);
await database.stop();
process.exit((only === '' && run(clusterBench) !== 0) || failed ? 1 : 0);
