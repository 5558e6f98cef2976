// node scripts/notices.mjs: writes THIRD_PARTY_NOTICES.md from the packages that the application ships or runs with.
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { root, say } from './machine.mjs';

const read = (file) => JSON.parse(readFileSync(file, 'utf8'));
const seen = new Map();

function visit(name, from, { withTheirs = true } = {}) {
  const folder = [path.join(from, 'node_modules', name), path.join(root, 'node_modules', name)].find((each) =>
    existsSync(path.join(each, 'package.json')),
  );
  if (!folder || name.startsWith('@kettle/')) return;
  const { version, license, dependencies = {} } = read(path.join(folder, 'package.json'));
  const key = `${name} ${version}`;
  if (seen.has(key)) return;
  seen.set(key, typeof license === 'string' ? license : (license?.type ?? 'see the package'));
  if (withTheirs) for (const dependency of Object.keys(dependencies)) visit(dependency, folder);
}

for (const part of ['contract', 'core', 'server', 'web', 'demo'])
  for (const name of Object.keys(read(path.join(root, part, 'package.json')).dependencies ?? {}))
    visit(name, path.join(root, part));

// A tool, of which only the few lines ship that read a marked text.
visit('@angular/localize', root, { withTheirs: false });

const lines = [...seen].sort().map(([name, license]) => `| ${name} | ${license} |`);
writeFileSync(
  path.join(root, 'THIRD_PARTY_NOTICES.md'),
  `# Third-party notices

Ash Kettle runs with these packages; each carries its licence in its folder. The public holidays come from the data of
date-holidays, which is licensed CC BY-SA 3.0 (from Wikipedia) and used unchanged. The typeface is Hanken Grotesk (SIL Open
Font License 1.1), the icons are Lucide's (ISC). MariaDB and Chromium are Debian's packages and are not part of this
distribution.

| package | licence |
|---|---|
${lines.join('\n')}
`,
);
say(`${lines.length} packages`);
