// npm run bench:round: the simulated quarter, worked by the shipped ranking and by plainer rules; its table goes to docs/round-simulation.md.
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import prettier from 'prettier';
import { checkNode, ensurePackages, root } from './machine.mjs';

checkNode();
ensurePackages();

const { buildAll } = await import('./build.mjs');
await buildAll({ web: false, also: { 'round-simulation': 'server/bench/round-simulation.ts' } });
globalThis.$localize ??= (parts, ...values) => String.raw({ raw: parts }, ...values);
const { simulate, tableOf } = await import(
  pathToFileURL(path.join(root, 'server/dist/round-simulation.mjs')).href
);

const cells = [];
for (const cell of simulate()) {
  cells.push(cell);
  console.log(JSON.stringify(cell));
}
const page = path.join(root, 'docs/round-simulation.md');
const [before, after] = [/^[\s\S]*<!-- table -->\n/, /\n<!-- end of table -->[\s\S]*$/].map(
  (part) => part.exec(readFileSync(page, 'utf8'))[0],
);
const text = `${before}\n${tableOf(cells)}\n${after}`;
writeFileSync(page, await prettier.format(text, { ...(await prettier.resolveConfig(page)), filepath: page }));
const least = 99.5;
const short = cells.filter(
  ({ shares }) => shares.shipped < least || shares.shipped < shares['value a minute'],
);
for (const { days, load } of short) console.error(`below what is wanted: ${days} days, ${load} x`);
process.exit(short.length === 0 ? 0 : 1);
