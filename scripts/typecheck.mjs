// Type check of everything, each source once: what runs in Node.js, the journeys, and the interface with its templates and tests.
// The interface's compiler wants TypeScript before 6; what runs in Node.js takes a quarter of the time in the one after.
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { root } from './machine.mjs';

const parts = [
  ['typescript-7/bin/tsc', '-p', 'tsconfig.json'],
  ['typescript-7/bin/tsc', '-p', 'e2e'],
  ['.bin/ngc', '-p', 'web/tsconfig.json', '--noEmit'],
];
const failed = parts.filter(
  ([program, ...words]) =>
    spawnSync(path.join(root, 'node_modules', program), words, { cwd: root, stdio: 'inherit' }).status !== 0,
);
process.exit(failed.length === 0 ? 0 : 1);
