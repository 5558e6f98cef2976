import type { ImportPreview } from '@kettle/contract';
import { readCsv } from '@kettle/core/imports';
import fc from 'fast-check';
import { install, type Caller, type Installation } from '../../../testing/installation';

let from: Installation;
let to: Installation;
beforeAll(async () => {
  [from, to] = [await install(), await install()];
});
afterAll(() => Promise.all([from.close(), to.close()]));

/** Every column of People that a person can write; what is counted or derived is not a file's to say. */
const written = [
  ...[
    'name',
    'company',
    'standing',
    'owner',
    'email',
    'phone',
    'country',
    'zone',
    'job-title',
    'source',
    'warmth',
  ],
  ...['tags', 'category', 'check-in-days'],
];

const fieldTypes = [
  ['Machines', 'number', []],
  ['Budget', 'money', []],
  ['Opened', 'date', []],
  ['Steam', 'yes-no', []],
  ['Water', 'choice', ['soft', 'hard, very', 'don’t know']],
  ['Door', 'text', []],
] as const;

/** Names and words as people have them, and as they break files. */
const awkward = fc.constantFrom(
  ...[
    'de la Cruz',
    'O’Hara',
    'van der Berg',
    'Ellery, Maud',
    '=SUM(A1)',
    "'=1",
    '-',
    '+44',
    '@home',
    'Ünal',
    '株式会社',
  ],
  ...['"quoted"', 'semi;colon', 'two\nlines', 'sep=;', '00123', '1.5', 'TRUE', "'tis", '‑', 'Ødegård'],
);
const person = fc.record({
  givenName: fc.oneof(fc.constantFrom('Maud', 'Juan María', 'Åse'), awkward),
  familyName: fc.oneof(fc.constantFrom('Ellery', 'Holm'), awkward),
  companyName: fc.oneof(fc.constant(''), awkward),
  jobTitle: fc.oneof(fc.constant(null), awkward),
  phone: fc.constantFrom(null, '+4416329601', '+3519123456', '+49151123456'),
  country: fc.constantFrom('GB', 'PT', 'DE', 'US'),
  zone: fc.constantFrom(null, 'America/Chicago', 'Atlantic/Azores'),
  warmth: fc.constantFrom(null, 'hot', 'cool'),
  source: fc.constantFrom('spring fair', 'web site'),
  category: fc.constantFrom('person', 'organisation'),
  checkInDays: fc.constantFrom(null, 1, 45, 730),
  tags: fc.uniqueArray(fc.constantFrom('steam', 'audit 2026', 'ä'), { maxLength: 2 }),
  values: fc.record({
    Machines: fc.constantFrom(null, 0, -3.5, 1_234_567.25),
    Budget: fc.constantFrom(null, 0, 123_456, -50),
    Opened: fc.constantFrom(null, '2024-02-29'),
    Steam: fc.constantFrom(null, true, false),
    Water: fc.constantFrom(null, 'soft', 'hard, very', 'don’t know'),
    Door: fc.oneof(fc.constant(null), awkward),
  }),
});

async function withFields(installation: Installation): Promise<{ rep: Caller; ids: Record<string, string> }> {
  const admin = await installation.as('admin');
  const ids: Record<string, string> = {};
  for (const [name, type, choices] of fieldTypes) {
    const body = { subject: 'contact', name, type, choices: [...choices] };
    ids[name] = (await admin.ok('createCustomField', { body })).id;
  }
  return { rep: await installation.as('rep'), ids };
}
/** The file without its mark, as rows of cells. */
async function fileOf(rep: Caller, ids: Record<string, string>) {
  const columns = [...written, ...Object.values(ids).map((id) => `custom:${id}`)].join(',');
  return (await rep.call('exportContacts', { query: { columns, sort: 'email' } })).text;
}

test('all people, exported and read in elsewhere, are exported there as the same file', async () => {
  const [here, there] = [await withFields(from), await withFields(to)];
  const people = fc.sample(person, { numRuns: 60, seed: 20_261_130 });
  for (const [at, { values, phone: start, ...fields }] of people.entries()) {
    const custom = Object.fromEntries(
      Object.entries(values).map(([name, value]) => [here.ids[name]!, value]),
    );
    const number = String(at).padStart(2, '0');
    const reached = { email: `n${number}@firm.example`, phone: start && `${start}${number}` };
    await here.rep.ok('createContact', { body: { ...fields, ...reached, custom } });
  }
  const file = await fileOf(here.rep, here.ids);
  const body = { fileName: 'people.csv', contentBase64: Buffer.from(file).toString('base64') };
  const preview = (await there.rep.call('uploadImport', { body })).body as ImportPreview;
  expect(preview.rows.filter(({ verdict }) => verdict === 'wrong')).toEqual([]);
  expect(preview.columns.filter(({ field }) => field === 'ignore').map(({ name }) => name)).toEqual([]);
  const { new: fresh, likely, known } = preview.counts;
  expect([fresh + likely, known]).toEqual([people.length, 0]);
  await there.rep.ok('confirmImport', {
    params: { id: preview.id },
    body: { version: preview.version, withLikely: true },
  });
  await to.work();
  const [before, after] = [file, await fileOf(there.rep, there.ids)].map((text) => readCsv(text));
  expect(after!.columns).toEqual(before!.columns);
  for (const [at, row] of before!.rows.entries()) expect(after!.rows[at]?.cells).toEqual(row.cells);
  expect(after!.rows.length).toBe(people.length);
});
