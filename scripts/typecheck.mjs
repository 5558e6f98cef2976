// Type check of everything, each source once: what runs in Node.js, the journeys, and the interface with its templates and tests.
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { root } from './machine.mjs';

const parts = [
  ['tsc', '-p', 'tsconfig.json'],
  ['tsc', '-p', 'e2e'],
  ['ngc', '-p', 'web/tsconfig.json', '--noEmit'],
];
const failed = parts.filter(
  ([program, ...words]) =>
    spawnSync(path.join(root, 'node_modules', '.bin', program), words, { cwd: root, stdio: 'inherit' })
      .status !== 0,
);
process.exit(failed.length === 0 ? 0 : 1);
