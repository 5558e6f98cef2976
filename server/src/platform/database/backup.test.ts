import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import mysql from 'mysql2/promise';
import { dumpTo, restoreFrom } from '../../../../scripts/backup.mjs';
import { install, makeSchema } from '../../../testing/installation';
import { aContact, aDeal, aLog } from '../../../testing/people';

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'kettle-copy-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

/** Every row of every table, as text. */
async function allRows(url: string): Promise<Map<string, string[]>> {
  const connection = await mysql.createConnection({ uri: url, dateStrings: true });
  const [tables] = await connection.query<mysql.RowDataPacket[]>(
    "SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE() AND table_type = 'BASE TABLE' ORDER BY table_name",
  );
  const all = new Map<string, string[]>();
  for (const { name } of tables) {
    const [rows] = await connection.query<mysql.RowDataPacket[]>(`SELECT * FROM \`${String(name)}\``);
    all.set(
      String(name),
      rows
        .map((row) =>
          JSON.stringify(row, (_, value: unknown) =>
            Buffer.isBuffer(value) ? value.toString('hex') : value,
          ),
        )
        .sort(),
    );
  }
  await connection.end();
  return all;
}

test('a copy taken while people work is one moment, and restored into an empty database holds the same rows', async () => {
  const installation = await install();
  const rep = await installation.as('rep');
  const contact = await aContact(rep, { familyName: 'Ellery 🫖 “quoted” \\ backslash' });
  await aDeal(rep, contact.id);
  await aLog(rep, contact.id, { body: 'Zeile\nÜber 10 % — ключ' });
  await rep.upload({ contactId: contact.id, name: 'x.bin' }, Buffer.from([0, 1, 255, 26, 39, 92, 10]));
  const before = await allRows(installation.url);
  const file = path.join(folder, 'copy.sql.gz');
  // Writes go on meanwhile: each log is an entry and its facts, or neither is in the copy.
  let isDumping = true;
  const writing = (async () => {
    while (isDumping) await aLog(rep, contact.id);
  })();
  await dumpTo({ url: installation.url }, file);
  isDumping = false;
  await writing;
  const empty = await makeSchema('nothing');
  await restoreFrom(file, { url: empty.url });
  const restored = await allRows(empty.url);
  expect([...restored.keys()]).toEqual([...before.keys()]);
  for (const table of ['contact', 'company', 'deal', 'stored_file', 'file_part', 'app_user', 'setting'])
    expect([table, restored.get(table)!.length]).toEqual([table, before.get(table)!.length]);
  const entries = restored.get('journal_entry')!;
  expect(entries).toEqual(expect.arrayContaining(before.get('journal_entry')!));
  // What belongs together was copied together.
  const sets = restored.get('change_set')!.filter((row) => row.includes('"act":"log"'));
  expect(sets).toHaveLength(entries.filter((row) => row.includes('call-no-answer')).length);
  // And with nobody working, it is the same to the row.
  const still = path.join(folder, 'still.sql.gz');
  await dumpTo({ url: installation.url }, still);
  const second = await makeSchema('nothing');
  await restoreFrom(still, { url: second.url });
  expect(await allRows(second.url)).toEqual(await allRows(installation.url));
  await empty.drop();
  await second.drop();
  await installation.close();
});

test('a copy is loaded into an empty database only, and half a copy is none', async () => {
  const installation = await install();
  const file = path.join(folder, 'copy.sql.gz');
  await dumpTo({ url: installation.url }, file);
  await expect(restoreFrom(file, { url: installation.url })).rejects.toThrow(
    'There are tables in it already',
  );
  await expect(
    dumpTo({ url: `${installation.url}_gone` }, path.join(folder, 'none.sql.gz')),
  ).rejects.toThrow();
  const broken = path.join(folder, 'broken.sql.gz');
  writeFileSync(broken, 'not a copy');
  const empty = await makeSchema('nothing');
  await expect(restoreFrom(broken, { url: empty.url })).rejects.toThrow();
  await empty.drop();
  await installation.close();
});
