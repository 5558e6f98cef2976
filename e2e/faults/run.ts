import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { fromSources } from '../../scripts/machine.mjs';
import { clusterScenarios } from './cluster-scenarios';
import { scenarios } from './scenarios';
import type { Outcome } from './work';

/**
 * Breaks what an installation stands on while people work, and counts: what was acknowledged, what is stored, what of it is lost, what is
 * there twice. `npm run test:faults` runs all; a word of a name runs those with it.
 */
const say = (line: string) => process.stdout.write(`${line}\n`);
const wanted = process.argv[2] ?? '';
const rows: (Outcome & { name: string; passed: boolean })[] = [];

for (const [name, run] of Object.entries({ ...scenarios, ...clusterScenarios })) {
  if (!name.includes(wanted)) continue;
  const started = Date.now();
  try {
    const outcome = await run();
    rows.push({
      name,
      ...outcome,
      passed: outcome.lost === 0 && outcome.doubled === 0 && outcome.stored > 0,
    });
  } catch (error) {
    const seen = (error as Error).message.split('\n')[0]!;
    rows.push({ name, passed: false, acknowledged: 0, stored: 0, lost: 0, doubled: 0, seen });
  }
  print(rows.at(-1)!, Date.now() - started);
}

// An upgrade killed at ten points, with and without the database, compares every row; the tests kill at fewer.
if ('server killed during a migration'.includes(wanted)) {
  const started = Date.now();
  const script = path.resolve(
    import.meta.dirname,
    '..',
    '..',
    'server',
    'testing',
    'upgrade',
    'interrupted.ts',
  );
  const points = 10;
  const { stdout } = spawnSync(process.execPath, [...fromSources, script, String(points)], {
    encoding: 'utf8',
  });
  const tries = stdout
    .split('\n')
    .filter((line) => line.startsWith('{'))
    .map((line) => JSON.parse(line) as { said: string; different: string[] });
  const wrong = tries.filter(({ said, different }) => said !== '' || different.length > 0).length;
  rows.push({
    ...{ name: 'server killed during a migration', passed: tries.length === points && wrong === 0 },
    ...{ acknowledged: tries.length, stored: tries.length - wrong, lost: wrong, doubled: 0 },
    seen: 'upgrades that ended with the rows of one without a kill',
  });
  print(rows.at(-1)!, Date.now() - started);
}

function print(row: (typeof rows)[number], millis: number): void {
  const { name, passed, acknowledged, stored, lost, doubled, seen } = row;
  say(
    `${passed ? 'held  ' : 'BROKE '} ${name}: ${acknowledged} acknowledged, ${stored} stored, ${lost} lost, ${doubled} doubled (${seen}; ${Math.round(millis / 1000)} s)`,
  );
}

const broken = rows.filter(({ passed }) => !passed).length;
say(`\n${rows.length - broken} passed, ${broken} failed`);
process.exit(broken === 0 ? 0 : 1);
