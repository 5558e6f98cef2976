import type { ImportPreview, RowChoice } from '@kettle/contract';
import writeXlsxFile from 'write-excel-file/node';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, aLead, journalOf, stagesOf, standingNamed } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
let admin: Caller;
beforeAll(async () => {
  installation = await install();
  admin = await installation.as('admin', 'Petra Lindholm');
  rep = await installation.as('rep', 'Imogen Thorne');
});
afterAll(() => installation.close());

let made = 0;
const somebody = async (part: object = {}) => {
  made += 1;
  return aContact(rep, {
    ...{ givenName: 'Maud', familyName: `Ellery${made}`, email: `maud${made}@penrow.example` },
    ...part,
  });
};

const upload = async (fileName: string, content: string | Buffer, part: object = {}, who = rep) =>
  who.ok('uploadImport', {
    body: { fileName, contentBase64: Buffer.from(content).toString('base64'), ...part },
  });
const table = (...lines: readonly (readonly (string | number)[])[]) =>
  lines.map((cells) => cells.join(';')).join('\n');
const seen = (preview: ImportPreview, who = rep) => who.ok('getImport', { params: { id: preview.id } });
const confirm = async (preview: ImportPreview, part: object = {}, who = rep): Promise<ImportPreview> => {
  await who.ok('confirmImport', { params: { id: preview.id }, body: { version: preview.version, ...part } });
  await installation.work();
  return seen(preview, who);
};
const choose = (preview: ImportPreview, lines: number[], choice: RowChoice) =>
  rep.ok('chooseImportRows', {
    params: { id: preview.id },
    body: { version: preview.version, lines, choice },
  });
const undo = async ({ id }: ImportPreview) => {
  await rep.ok('undoImport', { params: { id } });
  await installation.work();
};
const verdicts = ({ rows }: ImportPreview) =>
  [...rows].sort((a, b) => a.line - b.line).map(({ verdict }) => verdict);
const reasons = ({ rows }: ImportPreview) =>
  rows.flatMap(({ problems }) => problems.map((each) => `${each.column}: ${each.reason}`));
const dealsOf = async (contactId: string) => {
  const { rows } = await rep.ok('pageDeals', { query: { owner: 'all', status: 'any', limit: 200 } });
  return rows.filter((row) => row.contactId === contactId);
};

describe('deals', () => {
  test('are told by their columns, written with stage, value, close and owner, and undone', async () => {
    const person = await somebody();
    const stages = await stagesOf(rep);
    const preview = await upload(
      'export.csv',
      table(
        ['Deal', 'E-mail', 'Value', 'Stage', 'Close date', 'Priority', 'Next step', 'Due date', 'Owner'],
        [
          'Softener',
          person.email!,
          '£4,400.50',
          stages[1]!.name,
          '24/12/2026',
          'high',
          'send the offer',
          '1/12/2026',
          'Imogen Thorne',
        ],
        ['Won one', person.email!, '1200', '', '', '', '', '', ''],
      ),
    );
    expect(preview).toMatchObject({ kind: 'deals', formats: { dates: 'dmy', numbers: 'point' } });
    expect(preview.heads.slice(0, 4)).toEqual(['name', 'person', 'company', 'value']);
    expect(preview.rows[0]!.cells).toContain('£4,400.50');
    expect(await dealsOf(person.id)).toEqual([]);
    expect(await confirm(preview)).toMatchObject({ state: 'done', written: 2, changed: 0, refused: 0 });
    const [softener] = (await dealsOf(person.id)).filter(({ name }) => name === 'Softener');
    expect(softener).toMatchObject({
      ...{ amountMinor: 440_050, stageId: stages[1]!.id, expectedCloseOn: '2026-12-24', priority: 'high' },
      ...{ ownerId: rep.id, status: 'open' },
    });
    const { tasks } = await rep.ok('listTasks', { query: { dealId: softener!.id } });
    expect(tasks.map(({ purpose, dueOn }) => [purpose, dueOn])).toEqual([['send the offer', '2026-12-01']]);
    const listed = (await rep.ok('listImports')).imports.find(({ id }) => id === preview.id);
    expect(listed).toMatchObject({ kind: 'deals', written: 2, canUndo: true });
    await undo(preview);
    expect(await dealsOf(person.id)).toEqual([]);
    expect(await seen(preview)).toMatchObject({ state: 'undone', written: 0 });
  });

  test('that were won or lost are closed as they were, whatever their stage asks for', async () => {
    const person = await somebody();
    const preview = await upload(
      'deals.csv',
      table(
        ['Deal', 'Contact', 'Value', 'Status', 'Closed on', 'Reason'],
        ['Old one', person.name, '900', 'closed won', '2026-03-02', ''],
        ['Other', person.name, '800', 'lost', '2026-04-01', 'price'],
        ['Ahead', person.name, '800', 'lost', '2027-04-01', 'price'],
        ['Mixed', person.name, '800', 'open', '2026-04-01', ''],
        ['Unsaid', person.name, '800', '', '2026-04-01', ''],
      ),
    );
    expect(verdicts(preview)).toEqual(['new', 'new', 'wrong', 'wrong', 'wrong']);
    await confirm(preview);
    expect(
      (await dealsOf(person.id))
        .map(({ name, status, closedOn, closeReason }) => [name, status, closedOn, closeReason])
        .sort(),
    ).toEqual([
      ['Old one', 'won', '2026-03-02', null],
      ['Other', 'lost', '2026-04-01', 'price'],
    ]);
  });

  test('that are here are left alone, or become what the file says; where nothing differs nothing happens', async () => {
    const person = await somebody();
    const deal = await aDeal(rep, person.id, { name: 'Softener', amountMinor: 100_000 });
    const text = table(
      ['Deal', 'E-mail', 'Value', 'Close date'],
      ['softener', person.email!, '1,500', '2026-12-30'],
    );
    const preview = await upload('deals.csv', text);
    expect(preview.counts).toMatchObject({ new: 0, known: 1, differs: 1 });
    expect(preview.rows[0]!.changes).toEqual([
      'value: £1,000 → £1,500',
      expect.stringMatching(/^expected close: .* → Wed 30 Dec$/),
    ]);
    expect(await confirm(preview)).toMatchObject({ written: 0, changed: 0 });
    expect((await rep.ok('getDeal', { params: { id: deal.id } })).amountMinor).toBe(100_000);
    const again = await upload('deals.csv', text);
    expect(await confirm(again, { updates: true })).toMatchObject({ written: 0, changed: 1 });
    expect(await rep.ok('getDeal', { params: { id: deal.id } })).toMatchObject({
      ...{ amountMinor: 150_000, expectedCloseOn: '2026-12-30' },
    });
    const third = await upload('deals.csv', text);
    expect(third.counts).toMatchObject({ known: 1, differs: 0 });
    await undo(again);
    expect((await rep.ok('getDeal', { params: { id: deal.id } })).amountMinor).toBe(100_000);
  });

  test('a file that changed them is undone first, and then the one that brought them', async () => {
    const person = await somebody();
    const text = (value: string) => table(['Deal', 'E-mail', 'Value'], ['Twice', person.email!, value]);
    const first = await upload('deals.csv', text('100'));
    await confirm(first);
    const second = await upload('deals.csv', text('200'));
    await confirm(second, { updates: true });
    await undo(second);
    expect((await dealsOf(person.id)).map(({ amountMinor }) => amountMinor)).toEqual([10_000]);
    await undo(first);
    expect(await dealsOf(person.id)).toEqual([]);
    expect(await seen(first)).toMatchObject({ state: 'undone', written: 0 });
  });

  test('a row that names nobody who is here, or several, says so; one twice in the file is written once', async () => {
    await somebody({ givenName: 'Joris', familyName: 'Twin', companyName: 'North' });
    await somebody({ givenName: 'Joris', familyName: 'Twin', companyName: 'South' });
    const preview = await upload(
      'deals.csv',
      table(
        ['Deal', 'Contact', 'Company', 'Value', 'Stage'],
        ['A', 'Nobody Here', '', '1', ''],
        ['B', 'Joris Twin', '', '1', ''],
        ['C', 'Joris Twin', 'South', '1', ''],
        ['C', 'Joris Twin', 'South', '1', ''],
        ['D', '', '', 'a lot', 'Nowhere'],
        ['', 'Joris Twin', 'South', '1', ''],
        ['E', '', 'Firm Unknown', '1', ''],
      ),
    );
    expect(verdicts(preview)).toEqual(['wrong', 'wrong', 'new', 'twice-in-file', 'wrong', 'wrong', 'wrong']);
    const told = reasons(preview).join('\n');
    expect(told).toContain('nobody called Nobody Here is here; import people first');
    expect(told).toContain('Contact: 2 people are called Joris Twin here; say which by their e-mail');
    expect(told).toContain('Value: “a lot” is not an amount in GBP');
    expect(told).toContain('Stage: there is no “Nowhere”');
    expect(told).toContain('Deal: is empty');
    expect(told).toContain('nobody is known at Firm Unknown');
  });

  test('of somebody who is a colleague’s are refused, and nothing is told of them', async () => {
    const other = await installation.as('rep', 'Owen Marsh');
    const theirs = await aContact(other, { email: 'theirs@penrow.example' });
    await aDeal(other, theirs.id, { name: 'Secret' });
    const preview = await upload(
      'deals.csv',
      table(['Deal', 'E-mail', 'Value'], ['Secret', 'theirs@penrow.example', '5']),
    );
    expect(verdicts(preview)).toEqual(['wrong']);
    expect(reasons(preview)).toEqual(['E-mail: theirs@penrow.example is with a colleague']);
    expect((await rep.call('getImport', { params: { id: preview.id } })).status).toBe(200);
    expect((await other.call('getImport', { params: { id: preview.id } })).status).toBe(404);
  });

  test('what is refused when it is written says why, and the rest is there', async () => {
    const person = await somebody();
    const preview = await upload(
      'deals.csv',
      table(['Deal', 'E-mail', 'Value'], ['Stays', person.email!, '5'], ['Goes', 'gone@penrow.example', '5']),
    );
    const gone = await somebody({ email: 'gone@penrow.example' });
    const both = await rep.ok('remapImport', {
      params: { id: preview.id },
      body: { version: preview.version, fields: ['name', 'email', 'amount'] },
    });
    expect(verdicts(both)).toEqual(['new', 'new']);
    await rep.ok('removeRecord', { body: { kind: 'contact', id: gone.id, version: gone.version } });
    const done = await confirm(both);
    expect(done).toMatchObject({ written: 1, refused: 1 });
    expect(reasons(done)).toEqual([expect.stringContaining('gone@penrow.example')]);
  });
});

test('days and numbers are read as the file writes them, which can be said', async () => {
  const person = await somebody();
  const preview = await upload(
    'deals.csv',
    table(['Deal', 'E-mail', 'Value', 'Close date'], ['A', person.email!, '1.234,50', '03.04.2027']),
  );
  expect(preview.formats).toEqual({ dates: 'dmy', numbers: 'comma' });
  expect(preview.rows[0]!.cells).toContain('£1,234.50');
  const fields = preview.columns.map(({ field }) => field);
  const american = await rep.ok('remapImport', {
    params: { id: preview.id },
    body: { version: preview.version, fields, formats: { dates: 'mdy', numbers: 'comma' } },
  });
  expect(american.rows[0]!.cells.join()).toContain('4 Mar 2027');
});

test('the columns of a file are remembered for the next with the same, also in another order', async () => {
  const person = await somebody();
  const lines = (value: string) => table(['What', 'Who', 'How much'], ['First', person.email!, value]);
  const preview = await upload('deals.csv', lines('5'), { kind: 'deals' });
  expect(preview.columns.map(({ field }) => field)).toEqual(['ignore', 'ignore', 'ignore']);
  const mapped = await rep.ok('remapImport', {
    params: { id: preview.id },
    body: { version: preview.version, fields: ['name', 'email', 'amount'] },
  });
  await confirm(mapped);
  const next = await upload('more.csv', table(['Who', 'What', 'How much'], [person.email!, 'Second', '7']), {
    kind: 'deals',
  });
  expect(next).toMatchObject({ isRemembered: true, counts: { new: 1 } });
  expect(next.columns.map(({ field }) => field)).toEqual(['email', 'name', 'amount']);
});

test('a workbook is read with its typed cells, of the sheet that is chosen', async () => {
  const person = await somebody();
  const content = await writeXlsxFile([
    { sheet: 'Read me', data: [[{ value: 'About' }], [{ value: 'nothing here' }]] },
    {
      sheet: 'Deals',
      data: [
        [{ value: 'Deal' }, { value: 'E-mail' }, { value: 'Value' }, { value: 'Close date' }],
        [
          { value: 'Typed' },
          { value: person.email! },
          { value: 1234.567, type: Number },
          { value: new Date('2027-02-03T00:00:00Z'), type: Date, format: 'dd/mm/yyyy' },
        ],
        [{ value: 'Whole' }, { value: person.email! }, { value: 12_000, type: Number }],
      ],
    },
  ]).toBuffer();
  const preview = await upload('book.xlsx', content);
  expect(preview).toMatchObject({ type: 'xlsx', sheets: ['Read me', 'Deals'], sheet: 0 });
  const fields = preview.columns.map(({ field }) => field);
  const deals = await rep.ok('remapImport', {
    params: { id: preview.id },
    body: { version: preview.version, fields: fields as never, kind: 'deals', sheet: 1 },
  });
  expect(deals.columns.map(({ field }) => field)).toEqual(['name', 'email', 'amount', 'expectedCloseOn']);
  // Three places are more than a penny has.
  expect(verdicts(deals)).toEqual(['wrong', 'new']);
  await confirm(deals);
  expect((await dealsOf(person.id)).map(({ name, amountMinor }) => [name, amountMinor])).toEqual([
    ['Whole', 1_200_000],
  ]);
});

test.each([
  ['no workbook', Buffer.concat([Buffer.from('PK\u0003\u0004'), Buffer.alloc(40)])],
  ['an empty one', null],
])('%s is refused with what to do', async (_, bytes) => {
  const content = bytes ?? (await writeXlsxFile([{ sheet: 'A', data: [[]] }]).toBuffer());
  const reply = await rep.call('uploadImport', {
    body: { fileName: 'x.xlsx', contentBase64: Buffer.from(content).toString('base64') },
  });
  expect([reply.status, reply.body.code]).toEqual([422, 'unreadable-file']);
});

test('companies: made, known by name and country, changed with what a file says of them', async () => {
  const text = table(
    ['Company', 'Industry', 'Town', 'Country'],
    ['Skell Bakery', 'bakery', 'Ripon', 'United Kingdom'],
    ['Wasserij Baan', 'laundry', 'Delft', 'Nederland'],
    ['Nowhere', 'x', 'y', 'Atlantis'],
  );
  const preview = await upload('companies.csv', text);
  expect(preview.kind).toBe('companies');
  expect(verdicts(preview)).toEqual(['new', 'new', 'wrong']);
  await confirm(preview);
  const list = async () => (await rep.ok('listCompanies', { query: { q: 'skell' } })).rows;
  expect(await list()).toMatchObject([
    { name: 'Skell Bakery', trade: 'bakery', city: 'Ripon', country: 'GB' },
  ]);
  const again = await upload('companies.csv', text.replace('Ripon', 'York'));
  expect(again.rows.find(({ verdict }) => verdict === 'known')?.changes).toEqual(['town: Ripon → York']);
  expect(await confirm(again, { updates: true })).toMatchObject({ written: 0, changed: 1 });
  expect(await list()).toMatchObject([{ city: 'York' }]);
});

test('products are an admin’s to bring in; their prices can be put right by a file', async () => {
  const text = (price: string) =>
    table(['Product', 'Price', 'Billing'], ['Resin', price, 'once'], ['Yearly look', '120', 'annual']);
  const theirs = await upload('products.csv', text('40'));
  expect(
    (await rep.call('confirmImport', { params: { id: theirs.id }, body: { version: theirs.version } })).body
      .code,
  ).toBe('not-allowed');
  await confirm(await upload('products.csv', text('40'), {}, admin), {}, admin);
  const again = await upload('products.csv', text('45.50'), {}, admin);
  expect(again.counts).toMatchObject({ known: 2, differs: 1 });
  await confirm(again, { updates: true }, admin);
  const { products } = await rep.ok('listProducts');
  expect(products.map(({ name, priceMinor, billing }) => [name, priceMinor, billing])).toEqual([
    ['Resin', 4550, 'once'],
    ['Yearly look', 12_000, 'yearly'],
  ]);
});

test('leads: on somebody known, and on somebody new who comes with them', async () => {
  const person = await somebody();
  const text = table(
    ['Interest', 'E-mail', 'Contact', 'Company', 'Campaign', 'Tags'],
    ['a softener', person.email!, '', '', 'spring fair', 'north, warm'],
    ['a filter', 'new@firm.example', 'Nora Pell', 'Pell Spa', 'spring fair', ''],
    ['nothing', 'lonely@firm.example', '', '', 'spring fair', ''],
  );
  const preview = await upload('export.csv', text);
  expect(preview.kind).toBe('leads');
  expect(verdicts(preview)).toEqual(['new', 'new', 'wrong']);
  await confirm(preview);
  const { rows } = await rep.ok('listLeads', { query: { owner: 'all', limit: 200 } });
  expect(
    rows.map(({ subject, contactName, campaign, tags }) => [subject, contactName, campaign, tags]).sort(),
  ).toEqual([
    ['a filter', 'Nora Pell', 'spring fair', []],
    ['a softener', person.name, 'spring fair', ['north', 'warm']],
  ]);
  const again = await upload('export.csv', text.replace('north, warm', 'north, hot'));
  expect(again.counts).toMatchObject({ known: 2, differs: 1 });
  await confirm(again, { updates: true });
  const after = (await rep.ok('listLeads', { query: { owner: 'all', limit: 200 } })).rows;
  expect(after.find(({ subject }) => subject === 'a softener')!.tags).toEqual(['hot', 'north', 'warm']);
  expect((await aLead(rep)).id).toBeTruthy();
});

test('agreements: with their terms, rolled on to today, changed and undone', async () => {
  const person = await somebody();
  const text = (value: string) =>
    table(
      ['Contract', 'E-mail', 'Start date', 'Term', 'Value', 'Notice days', 'Auto renew', 'Uplift'],
      ['Yearly service', person.email!, '01/03/2024', 12, value, 60, 'yes', '3.5%'],
      ['Wrong term', person.email!, '01/03/2024', 0, '5', '', '', ''],
    );
  const preview = await upload('contracts.csv', text('£3,180'));
  expect(preview.kind).toBe('agreements');
  expect(verdicts(preview)).toEqual(['new', 'wrong']);
  await confirm(preview);
  const mine = async () =>
    (await rep.ok('listAgreements', { query: { owner: 'mine', contactId: person.id } })).rows;
  const [agreement] = await mine();
  expect(agreement).toMatchObject({
    ...{
      name: 'Yearly service',
      startsOn: '2024-03-01',
      termNumber: 3,
      endsOn: '2027-03-01',
      noticeDays: 60,
    },
    ...{ renewsItself: true, upliftKind: 'percent', upliftBy: 350, ownerId: rep.id },
  });
  const again = await upload('contracts.csv', text('£3,180').replace(';60;', ';30;'));
  expect(again.rows.find(({ verdict }) => verdict === 'known')!.changes).toContain(
    'notice, days before the end: 60 → 30',
  );
  await undo(preview);
  expect(await mine()).toEqual([]);
});

test('tasks and notes: with people, deals and companies; the same again is known', async () => {
  const person = await somebody({ companyName: 'Rill Hotel' });
  const deal = await aDeal(rep, person.id, { name: 'Rill boiler' });
  const tasks = table(
    ['Task', 'Contact', 'Deal', 'Due date', 'Type'],
    ['send the leaflet', person.name, '', '2026-12-03', 'e-mail'],
    ['ring the kitchen', '', 'Rill boiler', '2026-01-03', ''],
    ['nobody', '', '', '2026-12-03', ''],
  );
  const preview = await upload('tasks.csv', tasks);
  expect(verdicts(preview)).toEqual(['new', 'new', 'wrong']);
  await confirm(preview);
  const { tasks: rows } = await rep.ok('listTasks', { query: { contactId: person.id } });
  expect(
    rows
      .filter(({ contactId }) => contactId === person.id)
      .map(({ purpose, dueOn, channel, dealId }) => [purpose, dueOn, channel, dealId])
      .filter(([purpose]) => ['send the leaflet', 'ring the kitchen'].includes(purpose!))
      .sort(),
  ).toEqual([
    ['ring the kitchen', '2026-11-24', 'call', deal.id],
    ['send the leaflet', '2026-12-03', 'email', null],
  ]);
  expect(verdicts(await upload('tasks.csv', tasks))).toEqual(['known', 'known', 'wrong']);
  const notes = table(
    ['Note', 'E-mail', 'Company', 'Date'],
    ['likes it quiet', person.email!, '', '02/10/2026'],
    ['pays late', '', 'Rill Hotel', ''],
    ['ahead', person.email!, '', '2027-01-01'],
  );
  const noted = await upload('notes.csv', notes);
  expect(verdicts(noted)).toEqual(['new', 'new', 'wrong']);
  expect(await confirm(noted)).toMatchObject({ written: 2 });
  const entries = await journalOf(rep, { contactId: person.id });
  expect(
    entries.filter(({ kind }) => kind === 'note').map(({ body, at }) => [body, at.slice(0, 10)]),
  ).toContainEqual(['likes it quiet', '2026-10-02']);
  expect(verdicts(await upload('notes.csv', notes))).toEqual(['known', 'known', 'wrong']);
});

describe('files that belong together', () => {
  const packageId = '01900000-0000-7000-8000-0000000000aa';
  test('are written in their order, each finding what the ones before brought', async () => {
    const deals = await upload(
      'deals.csv',
      table(
        ['Deal', 'E-mail', 'Value'],
        ['Package deal', 'pack@penrow.example', '50'],
        ['Other', 'never@penrow.example', '5'],
      ),
      { packageId },
    );
    expect(verdicts(deals)).toEqual(['wrong', 'wrong']);
    const people = await upload(
      'people.csv',
      table(['Name', 'E-mail'], ['Pia Pack', 'pack@penrow.example']),
      { packageId },
    );
    expect(people.package.map(({ fileName, kind }) => [fileName, kind])).toEqual([
      ['people.csv', 'people'],
      ['deals.csv', 'deals'],
    ]);
    const again = await rep.ok('remapImport', {
      params: { id: deals.id },
      body: { version: deals.version, fields: deals.columns.map(({ field }) => field) as never },
    });
    // Whoever comes with the file before is no mistake.
    expect(verdicts(again)).toEqual(['new', 'wrong']);
    const early = await rep.call('confirmImport', {
      params: { id: again.id },
      body: { version: again.version },
    });
    expect([early.status, early.body.code]).toEqual([409, 'import-waits']);
    await confirm(people);
    expect(await confirm(again)).toMatchObject({ written: 1, refused: 0 });
  });
});

describe('people who are here', () => {
  test('become what a file says of them, when that is asked for: a standing by spreadsheet', async () => {
    const person = await somebody({ tags: ['north'] });
    const text = table(
      ['Name', 'E-mail', 'Standing', 'Tags', 'Warmth'],
      [person.name, person.email!, 'Customer', 'vip', 'hot'],
    );
    const preview = await upload('people.csv', text);
    expect(preview.counts).toMatchObject({ known: 1, differs: 1 });
    expect(preview.rows[0]!.changes).toEqual([
      expect.stringMatching(/^standing: .* → Customer$/),
      'warmth: empty → hot',
      'tags: north → north, vip',
    ]);
    expect(await confirm(preview, { updates: true })).toMatchObject({ written: 0, changed: 1 });
    const now = await rep.ok('getContact', { params: { id: person.id } });
    const customer = await standingNamed(admin, 'Customer');
    expect([now.standingId, now.tags, now.warmth]).toEqual([customer.id, ['north', 'vip'], 'hot']);
    await undo(preview);
    const back = await rep.ok('getContact', { params: { id: person.id } });
    expect([back.standingId, back.tags, back.warmth]).toEqual([person.standingId, ['north'], null]);
  });

  test('likely ones are asked about one by one: left out, one of their own, or the one that is here', async () => {
    const person = await somebody();
    const text = table(
      ['Name', 'E-mail', 'Warmth'],
      ['Quite Different', person.email!, 'hot'],
      ['Fully Other', person.email!, 'cool'],
    );
    const preview = await upload('people.csv', text);
    expect(verdicts(preview)).toEqual(['likely', 'likely']);
    const chosen = await choose(preview, [2], 'same');
    expect(chosen.rows.map(({ line, choice }) => [line, choice])).toEqual([
      [2, 'same'],
      [3, null],
    ]);
    expect(await confirm(await choose(preview, [3], 'new'))).toMatchObject({ written: 1, changed: 1 });
    expect((await rep.ok('getContact', { params: { id: person.id } })).warmth).toBe('hot');
    const { rows } = await rep.ok('listContacts', { query: { q: 'Fully Other' } });
    expect(rows).toHaveLength(1);
  });

  test('of a colleague’s nothing is told and nothing is changed', async () => {
    const other = await installation.as('rep', 'Owen Marsh');
    await aContact(other, { givenName: 'Hid', familyName: 'Den', email: 'hidden@penrow.example' });
    const preview = await upload(
      'people.csv',
      table(['Name', 'E-mail', 'Warmth'], ['Hid Den', 'hidden@penrow.example', 'hot']),
    );
    expect(preview.rows.map(({ verdict, changes }) => [verdict, changes])).toEqual([['known', []]]);
    expect(await confirm(preview, { updates: true })).toMatchObject({ changed: 0 });
  });
});
