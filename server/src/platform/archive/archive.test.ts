import { createHash } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import fc from 'fast-check';
import { install, type Installation, makeSchema } from '../../../testing/installation';
import { aContact, aDeal, aLog } from '../../../testing/people';
import { filesBeside } from '../../records/files/index';
import { openDatabase } from '../database/database';
import { archivedTables, archiveSchema, readArchive, writeArchive } from './index';

let home: string;
let installation: Installation;
beforeAll(async () => {
  home = mkdtempSync(path.join(os.tmpdir(), 'kettle-archive-'));
  installation = await install();
});
afterAll(async () => {
  await installation.close();
  rmSync(home, { recursive: true, force: true });
});
let made = 0;
const newFolder = () => path.join(home, `archive-${(made += 1)}`);

const out = async (url = installation.url) => {
  const folder = newFolder();
  return { folder, ...(await writeArchive(url, folder, filesBeside)) };
};

/** Every file of an archive with its bytes. */
function filesOf(folder: string): Record<string, string> {
  const names = readdirSync(folder, { recursive: true, withFileTypes: true }).filter((entry) =>
    entry.isFile(),
  );
  return Object.fromEntries(
    names.map((entry) => {
      const file = path.join(entry.parentPath, entry.name);
      return [path.relative(folder, file), readFileSync(file).toString('base64')];
    }),
  );
}

async function intoEmpty(folder: string): Promise<{ url: string; drop: () => Promise<void> }> {
  const schema = await makeSchema('tables of its own');
  await readArchive(schema.url, folder, filesBeside);
  return schema;
}

/** Words as people and programs leave them. */
const words = fc.string({
  unit: fc.constantFrom('a', 'Z', '"', '\\', "'", '\n', '\r', '\t', '\u2028', '\u2029', '🫖', 'ß', '%', ' '),
  minLength: 1,
  maxLength: 30,
});

test('out, in, out again is equal byte for byte, whatever people wrote and attached', async () => {
  const rep = await installation.as('rep', 'Ada Bright');
  await fc.assert(
    fc.asyncProperty(
      words,
      words,
      fc.uint8Array({ minLength: 1, maxLength: 5000 }),
      async (name, body, bytes) => {
        const contact = await aContact(rep, { familyName: `Ellery ${name}x`, about: body });
        await aDeal(rep, contact.id, { amountMinor: 440_050 });
        await aLog(rep, contact.id, { body: `x${body}` });
        // The first byte says nothing of a program.
        await rep.upload({ contactId: contact.id, name: 'plan.bin' }, Buffer.from([9, ...bytes]));
        await installation.work();
        const first = await out();
        const other = await intoEmpty(first.folder);
        const second = await out(other.url);
        await other.drop();
        expect(filesOf(second.folder)).toEqual(filesOf(first.folder));
        expect(second.rows).toBe(first.rows);
        expect(first.files).toBeGreaterThan(0);
      },
    ),
    { numRuns: 4 },
  );
}, 120_000);

test('a file of it is read again as it was attached, beyond a megabyte too, and a person by their name', async () => {
  const rep = await installation.as('rep', 'Cora Dunn');
  const contact = await aContact(rep, { familyName: 'Holm' });
  const large = Buffer.alloc(2_500_000, 'kettle ');
  await rep.upload({ contactId: contact.id, name: 'large.bin' }, large);
  const { folder } = await out();
  const sizes = readdirSync(path.join(folder, 'files')).map((name) =>
    readFileSync(path.join(folder, 'files', name)),
  );
  expect(sizes.some((bytes) => bytes.equals(large))).toBe(true);
  const lines = readFileSync(path.join(folder, 'tables/contact.jsonl'), 'utf8').trim().split('\n');
  const row = lines
    .map((line) => JSON.parse(line) as Record<string, unknown>)
    .find(({ id }) => id === contact.id);
  expect(row).toMatchObject({ family_name: 'Holm', created_at: contact.createdAt, phone_unusable: false });
});

describe('is refused with the place and nothing is there afterwards:', () => {
  /** An archive in which something was changed, its sums put right where that is not what is tested. */
  const changed = async (change: (folder: string) => void, { sums = true } = {}) => {
    await aContact(await installation.as('rep', 'Ada Bright'));
    const { folder } = await out();
    change(folder);
    if (sums) {
      const listed = readFileSync(path.join(folder, 'SHA256SUMS'), 'utf8').trim().split('\n');
      const anew = listed.map((line) => {
        const name = line.slice(66);
        return `${createHash('sha256')
          .update(readFileSync(path.join(folder, name)))
          .digest('hex')}  ${name}`;
      });
      writeFileSync(path.join(folder, 'SHA256SUMS'), `${anew.join('\n')}\n`);
    }
    const schema = await makeSchema('tables of its own');
    const words = await readArchive(schema.url, folder, filesBeside).then(
      () => 'read',
      (error: unknown) => (error as Error).message,
    );
    const database = openDatabase(schema.url);
    const [left] = await database.rows<{ people: string }>('SELECT COUNT(*) AS people FROM app_user');
    expect(Number(left!.people)).toBe(0);
    await database.close();
    await schema.drop();
    return words;
  };
  const edit = (name: string, by: (text: string) => string) => (folder: string) => {
    const file = path.join(folder, name);
    writeFileSync(file, by(readFileSync(file, 'utf8')));
  };

  test('a byte that was changed', async () => {
    const words = await changed(
      edit('tables/contact.jsonl', (text) => text.replace('GB', 'GX')),
      { sums: false },
    );
    expect(words).toBe('tables/contact.jsonl was changed after it had been written.');
  });

  test('a file that is missing, or one too many', async () => {
    expect(await changed((folder) => rmSync(path.join(folder, 'tables/deal.jsonl')), { sums: false })).toBe(
      'tables/deal.jsonl is missing.',
    );
    expect(await changed((folder) => writeFileSync(path.join(folder, 'tables/more.jsonl'), ''))).toBe(
      'tables/more.jsonl is in the folder and not in SHA256SUMS: take it away.',
    );
  });

  test('a line that is not as the schema says, or no JSON', async () => {
    const wrong = await changed(
      edit('tables/contact.jsonl', (text) => text.replace('"version":1', '"version":"one"')),
    );
    expect(wrong).toMatch(/^Line \d+ of tables\/contact\.jsonl is not as the schema says: version /);
    expect(await changed(edit('tables/contact.jsonl', (text) => text.replace('{', '')))).toBe(
      'Line 1 of tables/contact.jsonl is not JSON.',
    );
  });

  test('a line less than the manifest says', async () => {
    const words = await changed(edit('tables/contact.jsonl', (text) => text.split('\n').slice(1).join('\n')));
    expect(words).toMatch(/^tables\/contact\.jsonl has \d+ lines, manifest\.json says \d+\.$/);
  });

  test('a row that names what is not there', async () => {
    const stranger = '01938f6c-0000-7000-8000-0000000000ff';
    const words = await changed(
      edit('tables/contact.jsonl', (text) => text.replace(/"owner_id":"[^"]+"/, `"owner_id":"${stranger}"`)),
    );
    expect(words).toBe('contact names something in owner_id that is not in app_user.');
  });

  test('one of another version, of another format, and no archive at all', async () => {
    expect(
      await changed(edit('manifest.json', (text) => text.replace(/"database": \d+/, '"database": 7'))),
    ).toMatch(/^The archive was made at version 7 of the database, this program is at \d+\./);
    expect(await changed(edit('manifest.json', (text) => text.replace('version 1', 'version 9')))).toMatch(
      /^manifest\.json is not as it should be: format is not/,
    );
    await expect(readArchive(installation.url, home, filesBeside)).rejects.toThrow('is not an archive');
  });

  test('a database that is in use, and a folder that is there', async () => {
    const { folder } = await out();
    await expect(readArchive(installation.url, folder, filesBeside)).rejects.toThrow(
      /^The database is in use/,
    );
    await expect(writeArchive(installation.url, folder, filesBeside)).rejects.toThrow('is there already');
  });
});

test('the published schema is that of the database', async () => {
  const published = path.join(__dirname, '../../../../docs/archive.schema.json');
  const { tables } = await archivedTables(installation.services.database, [filesBeside.table]);
  const schema = archiveSchema(tables);
  if (process.env.KETTLE_WRITE === '1') writeFileSync(published, `${JSON.stringify(schema, null, 2)}\n`);
  expect(JSON.parse(readFileSync(published, 'utf8'))).toEqual(schema);
});
