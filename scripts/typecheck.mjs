// Type check of every part, as its own configuration has it.
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { root } from './machine.mjs';

const parts = [
  ...['contract', 'core', 'server', 'demo', 'standins', 'e2e'].map((part) => ['tsc', '-p', part]),
  ['ngc', '-p', 'web/tsconfig.app.json', '--noEmit'],
  ['tsc', '-p', 'web/tsconfig.json', '--noEmit'],
];
const failed = parts.filter(
  ([program, ...words]) =>
    spawnSync(path.join(root, 'node_modules', '.bin', program), words, { cwd: root, stdio: 'inherit' })
      .status !== 0,
);
process.exit(failed.length === 0 ? 0 : 1);
