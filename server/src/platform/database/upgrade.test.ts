import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { fromSources } from '../../../../scripts/machine.mjs';
import { statementsOf } from './statements';

/** `npm run test:faults` kills at ten. */
const points = 4;

test('an upgrade that is killed at any point, with and without the database, ends with the rows of one that was not', () => {
  const script = path.join(__dirname, '..', '..', '..', 'testing', 'upgrade', 'interrupted.ts');
  const { stdout, stderr, status } = spawnSync(process.execPath, [...fromSources, script, String(points)], {
    encoding: 'utf8',
    timeout: 280_000,
  });
  expect([status, stderr]).toEqual([0, expect.any(String)]);
  const tries = stdout
    .trim()
    .split('\n')
    .filter((line) => line.startsWith('{'))
    .map(
      (line) => JSON.parse(line) as { point: number; killedAt: string; said: string; different: string[] },
    );
  expect(tries).toHaveLength(points);
  expect(tries.filter(({ said, different }) => said !== '' || different.length > 0)).toEqual([]);
  // Some of them were killed in the middle, not before the first step or after the last.
  expect(new Set(tries.map(({ killedAt }) => killedAt)).size).toBeGreaterThan(1);
}, 300_000);

describe('the statements of a script', () => {
  test('end at a semicolon, not at one in a quote or a comment', () => {
    expect(
      statementsOf(
        "-- a; b\nINSERT INTO t VALUES ('it''s; \\'x\\'', \"a;b\"); /* c; d */\nDELETE FROM `u;v` WHERE a - 1 > 2;\n",
      ),
    ).toEqual(["INSERT INTO t VALUES ('it''s; \\'x\\'', \"a;b\")", 'DELETE FROM `u;v` WHERE a - 1 > 2']);
  });

  test('an empty script has none', () => {
    expect(statementsOf('-- nothing\n\n;')).toEqual([]);
  });
});
