import type { ImportPreview } from '@kettle/contract';
import { randomUUID } from 'node:crypto';
import iconv from 'iconv-lite';
import { install, type Caller, type Installation } from '../../../testing/installation';

let installation: Installation;
let rep: Caller;
beforeEach(async () => {
  installation = await install();
  rep = await installation.as('rep');
});
afterEach(() => installation.close());

const upload = (text: string | Buffer, fileName = 'people.csv') =>
  rep.call('uploadImport', { body: { fileName, contentBase64: Buffer.from(text).toString('base64') } });
const judged = async (text: string | Buffer, fileName?: string) =>
  (await upload(text, fileName)).body as ImportPreview;
const confirm = async (preview: ImportPreview) => {
  const reply = await rep.ok('confirmImport', {
    params: { id: preview.id },
    body: { version: preview.version },
  });
  await installation.work();
  return reply;
};
const everybody = () => rep.ok('listContacts', { query: { limit: 200 } });

const good =
  'Name;Firma;E-mail;Telefon;Land\r\n"Ellery, Maud";Penrow Laundry;maud@penrow.example;;\r\nJoris Baan;Wasserij Baan;joris@baan.example;;NL\r\n';

describe('bringing in a CSV', () => {
  test('judges first and writes nothing', async () => {
    const preview = await judged(good);
    expect(preview).toMatchObject({
      type: 'csv',
      delimiter: ';',
      counts: { new: 2, known: 0, twice: 0, wrong: 0 },
      state: 'judged',
    });
    expect(preview.columns.map((column) => column.field)).toEqual([
      'fullName',
      'company',
      'email',
      'phone',
      'country',
    ]);
    expect((await everybody()).rows.length).toBe(0);
  });

  test('writes on confirmation, as mine, with zone and standing', async () => {
    await confirm(await judged(good));
    const { rows } = await everybody();
    expect(rows).toMatchObject([
      {
        name: 'Joris Baan',
        companyName: 'Wasserij Baan',
        country: 'NL',
        zone: 'Europe/Amsterdam',
        ownerId: rep.id,
      },
      { name: 'Maud Ellery', country: 'GB', zone: 'Europe/London' },
    ]);
  });

  test('each row as a lead, whose it is by the rule, once however often its part runs', async () => {
    const preview = await judged(good);
    await rep.ok('confirmImport', {
      params: { id: preview.id },
      body: { version: preview.version, leadsAs: 'spring fair' },
    });
    await installation.work();
    const { rows } = await rep.ok('listLeads', { query: { owner: 'all' } });
    expect(
      rows
        .map(({ contactName, campaign, source, ownerId }) => [contactName, campaign, source, ownerId])
        .sort(),
    ).toEqual([
      ['Joris Baan', 'spring fair', 'import', null],
      ['Maud Ellery', 'spring fair', 'import', null],
    ]);
  });

  test('the same file twice makes no second copy, and says when it was here before', async () => {
    await confirm(await judged(good));
    const again = await judged(good);
    expect(again).toMatchObject({ counts: { new: 0, known: 2 }, sameFileAt: '2026-11-24T09:10:00.000Z' });
    await confirm(again);
    expect((await everybody()).rows.length).toBe(2);
  });

  test('even when both were judged before either was written', async () => {
    const [one, two] = [await judged(good), await judged(good)];
    await confirm(one);
    await confirm(two);
    expect((await everybody()).rows.length).toBe(2);
  });

  test('every wrong row is told with line, column and reason; the rest is written', async () => {
    const text =
      'Name,Company,E-mail,Phone,Country\nAda Wren,Wren,ada@wren.example,,\nBram,,not-mail,12,Atlantis\n,,,,\nCleo,X,cleo@x.example,,,more\nAda Wren,Wren,ADA@wren.example,,\n"open';
    const preview = await judged(text);
    expect(preview.counts).toEqual({ new: 1, likely: 0, known: 0, differs: 0, twice: 1, wrong: 4 });
    const told = preview.rows
      .filter((row) => row.verdict !== 'new')
      .map((row) => [row.line, row.problems.map((problem) => problem.column)]);
    expect(told).toEqual([
      [3, ['Country', 'E-mail', 'Phone']],
      [4, ['Name']],
      [5, ['row']],
      [7, ['row']],
      [6, ['row']],
    ]);
    await confirm(preview);
    expect((await everybody()).rows.map((row) => row.name)).toEqual(['Ada Wren']);
  });

  test('a column can be corrected; one field for two columns is refused', async () => {
    const preview = await judged('Name,Remark\nAda Wren,ada@wren.example');
    const remap = (fields: string[]) =>
      rep.call('remapImport', { params: { id: preview.id }, body: { version: preview.version, fields } });
    expect((await remap(['email', 'email'])).body).toMatchObject({
      code: 'invalid-request',
      fields: [{ path: 'fields' }],
    });
    expect((await remap(['fullName', 'email'])).body).toMatchObject({
      version: 2,
      rows: [{ cells: ['Ada Wren', '', 'ada@wren.example', ''] }],
    });
    expect((await remap(['fullName', 'note'])).body).toMatchObject({ code: 'stale' });
  });

  test('a file sent again by the id of its request is the same import; another one under it is refused', async () => {
    const changeId = randomUUID();
    const send = (text: string, by = rep) =>
      by.call('uploadImport', {
        changeId,
        body: { fileName: 'people.csv', contentBase64: Buffer.from(text).toString('base64') },
      });
    const [first, atOnce] = await Promise.all([send(good), send(good)]);
    const again = await send(good);
    expect([first.body, atOnce.body, again.body]).toEqual(
      Array(3).fill(expect.objectContaining({ id: changeId })),
    );
    expect((await rep.ok('listImports')).imports.length).toBeLessThan(2);
    expect((await send('Name\nAda', rep)).body.code).toBe('other-request');
    const other = await installation.as('rep', 'Corin Ashdown');
    expect((await send(good, other)).body.code).toBe('other-request');
  });

  test('bytes that did not arrive whole are refused in words', async () => {
    const refused = await rep.call('uploadImport', { body: { fileName: 'a.csv', contentBase64: 'TmFtZQ' } });
    expect([refused.status, refused.body.code]).toEqual([422, 'unreadable-file']);
  });

  test('confirming twice writes once', async () => {
    const preview = await judged(good);
    await confirm(preview);
    const again = await rep.call('confirmImport', {
      params: { id: preview.id },
      body: { version: preview.version },
    });
    expect(again.body.code).toBe('stale');
    await installation.work();
    expect((await everybody()).rows.length).toBe(2);
    expect(await rep.ok('getImport', { params: { id: preview.id } })).toMatchObject({
      state: 'done',
      written: 2,
    });
  });

  test('the letters of another encoding are read, or corrected by hand', async () => {
    const latin = iconv.encode(
      'Name,Firm\nZoë Köhler,Müller Wäscherei and Söhne Großhandel für Bäckereien',
      'windows-1252',
    );
    const preview = await judged(latin);
    const remapped = await rep.ok('remapImport', {
      params: { id: preview.id },
      body: { version: 1, fields: ['fullName', 'company'], encoding: 'windows-1252' },
    });
    expect(remapped.rows[0]!.cells[0]).toBe('Zoë Köhler');
  });

  test('each person and company has its event, of which open browsers are not told one by one', async () => {
    const { database } = installation.services;
    const ofRecords = () =>
      database.rows<{ kind: string; topic: string; told: number; n: string }>(
        `SELECT kind, topic, told, COUNT(*) AS n FROM event WHERE topic IN ('contact', 'company', 'import') AND kind <> 'noted'
          GROUP BY kind, topic, told ORDER BY topic, kind`,
      );
    const preview = await judged(good);
    await confirm(preview);
    const written = await ofRecords();
    expect(written.filter(({ topic }) => topic !== 'import')).toEqual([
      { kind: 'created', topic: 'company', told: 0, n: 2 },
      { kind: 'created', topic: 'contact', told: 0, n: 2 },
    ]);
    await rep.ok('undoImport', { params: { id: preview.id } });
    await installation.work();
    expect(
      (await ofRecords()).filter(({ topic, kind }) => topic === 'contact' && kind === 'removed'),
    ).toEqual([{ kind: 'removed', topic: 'contact', told: 0, n: 2 }]);
  });

  test.each([
    ['', 'it is empty.'],
    ['Name,Company\n', 'nothing below it'],
  ])('a file with nothing in it is refused in words: %j', async (text, why) => {
    const refused = await upload(Buffer.from(text || '\n'));
    expect(refused.body.code).toBe('unreadable-file');
    expect(refused.body.detail).toContain(why);
  });

  test('a thousand rows come in parts, each once', async () => {
    const lines = Array.from(
      { length: 1000 },
      (_, n) => `Person ${n} Number,Firm ${n % 40},p${n}@firm.example`,
    );
    await confirm(await judged(['Name,Company,Email', ...lines].join('\n')));
    const { database } = installation.services;
    expect(await database.rows('SELECT COUNT(*) AS n, COUNT(DISTINCT email) AS d FROM contact')).toEqual([
      { n: 1000, d: 1000 },
    ]);
    expect(await database.rows('SELECT COUNT(*) AS n FROM company')).toEqual([{ n: 40 }]);
    expect(
      await database.rows("SELECT COUNT(*) AS n FROM job WHERE kind = 'import-chunk' AND state = 'done'"),
    ).toEqual([{ n: 4 }]);
  }, 60_000);
});

test('a vCard file with both versions in it', async () => {
  const cards = [
    'BEGIN:VCARD\r\nVERSION:3.0\r\nN:Tarrant;Owen;;;\r\nFN:Owen Tarrant\r\nORG:Marrow Brewing\r\nTEL;TYPE=work:01632 960 555\r\nEND:VCARD',
    'BEGIN:VCARD\r\nVERSION:4.0\r\nFN:Ines Prado\r\nEMAIL;PREF=1:ines@cais.example\r\nADR:;;Cais 1;Porto Manso;;4000;Portugal\r\nEND:VCARD',
  ].join('\r\n');
  const preview = await judged(cards, 'people.vcf');
  expect(preview).toMatchObject({ type: 'vcard', columns: [], counts: { new: 2, wrong: 0 } });
  await confirm(preview);
  expect((await everybody()).rows).toMatchObject([
    { name: 'Ines Prado', country: 'PT', zone: 'Europe/Lisbon' },
    { name: 'Owen Tarrant', phone: '+441632960555', companyName: 'Marrow Brewing' },
  ]);
});

describe('people who are likely here already', () => {
  const alike =
    'Name,Company,E-mail\nMaude Elery,Penrow Laundry,maude@penrow.example\nTheo Quill,Penrow Laundry,theo@penrow.example';

  beforeEach(() =>
    rep.ok('createContact', {
      body: {
        givenName: 'Maud',
        familyName: 'Ellery',
        companyName: 'Penrow Laundry',
        email: 'm.ellery@penrow.example',
      },
    }),
  );

  test('are held back with the evidence, and the others are written', async () => {
    const preview = await judged(alike);
    expect(preview.counts).toMatchObject({ new: 1, likely: 1 });
    expect(preview.rows[0]?.problems[0]?.reason).toMatch(/^Maud Ellery: .* alike, both at Penrow Laundry/);
    await confirm(preview);
    expect((await everybody()).rows.map((row) => row.name)).toEqual(['Maud Ellery', 'Theo Quill']);
  });

  test('are written as people of their own when asked for', async () => {
    const preview = await judged(alike);
    await rep.ok('confirmImport', {
      params: { id: preview.id },
      body: { version: preview.version, withLikely: true },
    });
    await installation.work();
    expect((await everybody()).rows).toHaveLength(3);
  });
});

test('an address that is known under another name, here or in the file, is asked about and not left out', async () => {
  await rep.ok('createContact', {
    body: {
      givenName: 'Maud',
      familyName: 'Penrow',
      companyName: 'Penrow Bakery',
      email: 'office@penrow.example',
    },
  });
  const preview = await judged(
    [
      'Name,Company,E-mail',
      'Noor Falk,Penrow Bakery,office@penrow.example',
      'M. Penrow,Penrow Bakery,office@penrow.example',
      'Tom Askrigg,Askrigg Brewing,info@askrigg.example',
      'Ida Moss,Askrigg Brewing,info@askrigg.example',
      'Thomas Askrigg,Askrigg Brewing,info@askrigg.example',
    ].join('\n'),
  );
  const rows = [...preview.rows].sort((one, other) => one.line - other.line);
  expect(rows.map(({ verdict }) => verdict)).toEqual(['likely', 'known', 'new', 'likely', 'twice-in-file']);
  const reasons = rows.map(({ problems }) => problems[0]?.reason);
  expect([reasons[0], reasons[3]]).toEqual([
    'Maud Penrow has this address, under another name',
    'line 4 has this address, under another name',
  ]);
  await rep.ok('confirmImport', {
    params: { id: preview.id },
    body: { version: preview.version, withLikely: true },
  });
  await installation.work();
  expect((await everybody()).rows.map((row) => row.name).sort()).toEqual([
    'Ida Moss',
    'Maud Penrow',
    'Noor Falk',
    'Tom Askrigg',
  ]);
});

test('custom fields, tags, warmth and owner come in like the built-in ones', async () => {
  const admin = await installation.as('admin');
  const { id } = await admin.ok('createCustomField', {
    body: { subject: 'contact', name: `Boilers ${Date.parse(installation.clock.now())}`, type: 'number' },
  });
  const { fields } = await rep.ok('listCustomFields');
  const field = fields.find((each) => each.id === id)!;
  await confirm(
    await judged(`Name,E-mail,${field.name},Tags,Warmth\nCleo Nant,cleo@nant.example,3,"steam, audit",hot`),
  );
  expect((await everybody()).rows[0]).toMatchObject({
    custom: { [id]: 3 },
    tags: ['audit', 'steam'],
    warmth: 'hot',
  });
});

test('fields of leads are filled where each row becomes one, and left where none does', async () => {
  const admin = await installation.as('admin');
  const name = `Fleet ${Date.parse(installation.clock.now())}`;
  const { id } = await admin.ok('createCustomField', { body: { subject: 'lead', name, type: 'number' } });
  const file = (who: string) => `Name,E-mail,${name}\n${who} Nant,${who}@nant.example,12`;
  const preview = await judged(file('cleo'));
  expect(preview.columns.map(({ field }) => field)).toEqual(['fullName', 'email', `custom:${id}`]);
  await rep.ok('confirmImport', {
    params: { id: preview.id },
    body: { version: preview.version, leadsAs: 'spring fair' },
  });
  await installation.work();
  const leads = () => rep.ok('listLeads', { query: { owner: 'all' } });
  expect((await leads()).rows).toMatchObject([{ contactName: 'cleo Nant', custom: { [id]: 12 } }]);
  await confirm(await judged(file('drew')));
  expect((await everybody()).rows.map(({ name: who, custom }) => [who, custom])).toEqual([
    ['cleo Nant', {}],
    ['drew Nant', {}],
  ]);
  // A value that does not fit is told at its column before anything is written.
  const wrong = await judged(file('ezra').replace(',12', ',many'));
  expect(wrong.rows).toMatchObject([{ verdict: 'wrong', problems: [{ column: name }] }]);
  await rep.ok('undoImport', { params: { id: preview.id } });
  await installation.work();
  expect((await leads()).rows).toEqual([]);
});

describe('a part that fails for good', () => {
  const failed = async () => {
    const preview = await judged(good);
    await rep.ok('confirmImport', { params: { id: preview.id }, body: { version: preview.version } });
    await installation.services.database.change(
      "UPDATE job SET state = 'failed', attempts = 5, failed_at = NOW(3) WHERE kind = 'import-chunk'",
    );
    return preview.id;
  };
  const shown = (id: string) => rep.ok('getImport', { params: { id } });

  test('is said with its rows, and can be tried again by whoever imported', async () => {
    const id = await failed();
    expect(await shown(id)).toMatchObject({ state: 'done', written: 0, failedRows: 2 });
    const other = await installation.as('rep', 'Corin Ashdown');
    expect((await other.call('retryImport', { params: { id } })).body.code).toBe('not-found');
    expect(await rep.ok('retryImport', { params: { id } })).toMatchObject({
      state: 'applying',
      failedRows: 0,
    });
    await installation.work();
    expect(await shown(id)).toMatchObject({ state: 'done', written: 2, failedRows: 0 });
    expect((await rep.call('retryImport', { params: { id } })).body.code).toBe('not-found');
  });

  test('does not stop the import from being undone, nor is it written afterwards', async () => {
    const id = await failed();
    await rep.ok('undoImport', { params: { id } });
    await installation.services.database.change(
      "UPDATE job SET state = 'due', attempts = 0, failed_at = NULL WHERE kind = 'import-chunk'",
    );
    await installation.work();
    expect(await shown(id)).toMatchObject({ state: 'undone', written: 0 });
    expect((await everybody()).rows).toEqual([]);
  });
});

test.each(['utf16le', 'utf16be'] as const)(
  'a file in %s without its mark is read as that',
  async (encoding) => {
    const text = 'Name;E-mail\r\nInês Carvalho;ines@cais.example';
    const little = Buffer.from(text, 'utf16le');
    const bytes = encoding === 'utf16le' ? little : Buffer.from(little).swap16();
    const preview = await judged(bytes);
    expect(preview).toMatchObject({
      encoding: encoding === 'utf16le' ? 'UTF-16LE' : 'UTF-16BE',
      counts: { new: 1 },
    });
  },
);

test('a row that leaves out its last cells is whole; words beyond the last column belong to none', async () => {
  const preview = await judged(
    'Name,E-mail,Note\nMaud Penrow,maud@penrow.example\nTheo Quill,theo@skell.example,a,b',
  );
  expect(preview.counts).toMatchObject({ new: 1, wrong: 1 });
});
