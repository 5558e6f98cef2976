import path from 'node:path';
import { readArchive, writeArchive } from './platform/archive/index';
import { migrate } from './platform/database/migrate';
import { filesBeside } from './records/files/index';

const [act, folder = '', ...more] = process.argv.slice(2);
const url = process.env.KETTLE_DATABASE_URL;

try {
  if ((act !== 'out' && act !== 'in') || folder === '' || more.length > 0 || url === undefined)
    throw new Error('Say out or in, a folder, and the database in KETTLE_DATABASE_URL.');
  await migrate(url, process.env.KETTLE_MIGRATIONS ?? path.join(import.meta.dirname, 'migrations'));
  const { tables, rows, files } = await (act === 'out' ? writeArchive : readArchive)(
    url,
    path.resolve(folder),
    filesBeside,
  );
  const done = act === 'out' ? 'written to' : 'read from';
  process.stdout.write(`${rows} rows of ${tables} tables and ${files} files ${done} ${folder}\n`);
} catch (error) {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  process.exit(1);
}
