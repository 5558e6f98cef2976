// Type check of everything, each source once: what runs in Node.js, the journeys, the interface with its tests, and its templates.
// Templates take the interface's own compiler, six times as long as the rest: `--without-templates` is for who builds it as well.
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { root } from './machine.mjs';

const fast = (project) => ['typescript-7/bin/tsc', '-p', project, '--noEmit'];
const parts = process.argv.includes('--without-templates')
  ? [fast('tsconfig.json'), fast('e2e'), fast('web')]
  : [fast('tsconfig.json'), fast('e2e'), ['.bin/ngc', '-p', 'web/tsconfig.json', '--noEmit']];
const failed = parts.filter(
  ([program, ...words]) =>
    spawnSync(path.join(root, 'node_modules', program), words, { cwd: root, stdio: 'inherit' }).status !== 0,
);
process.exit(failed.length === 0 ? 0 : 1);
