import type { ImportPreview } from '@kettle/contract';
import { type Part, showPart } from '../../../testing/part';
import { ImportPage } from './import-page';

const said = (element: Element) => element.textContent.replace(/\s+/g, ' ').trim();
const file = '01900000-0000-7000-8000-0000000000f1';
const ofLead = '01900000-0000-7000-8000-0000000000e1';

const aPreview = (part: Partial<ImportPreview> = {}): ImportPreview =>
  ({
    id: file,
    fileName: 'people.csv',
    type: 'csv',
    encoding: 'UTF-8',
    delimiter: ';',
    ...{ kind: 'people', sheet: 0, sheets: [], formats: { dates: 'dmy', numbers: 'point' } },
    ...{ isRemembered: false, fields: [], package: [], changed: 0, refused: 0 },
    heads: ['name', 'company', 'e-mail', 'phone'],
    columns: [
      { name: 'Name', field: 'fullName', samples: ['Maud Ellery'] },
      { name: 'Mail', field: 'email', samples: ['maud@ellery.example'] },
    ],
    counts: { new: 2, likely: 1, known: 3, differs: 0, twice: 1, wrong: 1 },
    rows: [
      {
        ...{ line: 4, verdict: 'wrong', cells: ['Bram', '', 'not-mail', ''], changes: [], choice: null },
        problems: [{ column: 'Mail', reason: '“not-mail” is not an e-mail address' }],
      },
    ],
    state: 'judged',
    written: 0,
    failedRows: 0,
    version: 2,
    ...part,
  }) as ImportPreview;

async function show(preview: ImportPreview = aPreview()): Promise<Part<ImportPage>> {
  const part = await showPart(ImportPage, { inputs: { file } });
  const field = { id: ofLead, subject: 'lead', name: 'Boilers', type: 'number', choices: [] };
  await part.answerAll('/api/custom-fields', { fields: [field] });
  await part.answer(`/api/imports/${file}`, preview);
  return part;
}

test('a judged file says what would happen, with each wrong row’s column and reason', async () => {
  const { root } = await show();
  expect(said(root.querySelector('.sums')!)).toBe(
    '2 new · 1 likely here · 3 known already · 1 twice in the file · 1 wrong',
  );
  expect(said(root)).toContain('Mail: “not-mail” is not an e-mail address.');
});

test('it writes what is new, and likely duplicates only when asked; over the version that was seen', async () => {
  const part = await show();
  expect(part.button('Write 2 new people')).toBeTruthy();
  expect(said(part.root)).toContain('also 1 that are likely here, each as one of its own');
  await part.click(part.root.querySelector<HTMLElement>('mat-checkbox input')!);
  await part.click(part.button('Write 3 new people'));
  const { request } = await part.answer(`/api/imports/${file}/confirm`, aPreview({ state: 'applying' }));
  expect(request.body).toEqual({ version: 2, withLikely: true, updates: false, leadsAs: null });
  expect(said(part.root)).toContain('You may leave this page; it goes on.');
});

test('a field given to one column is taken from the one that had it', async () => {
  const part = await show();
  await part.choose('What the column Mail holds', 'full name');
  expect(part.asked(`/api/imports/${file}/mapping`).request.body).toEqual({
    version: 2,
    fields: ['ignore', 'fullName'],
    encoding: null,
  });
});

test('a column of the lead says that it is written only where rows become leads', async () => {
  const columns = [
    { name: 'Name', field: 'fullName', samples: [] },
    { name: 'Boilers', field: `custom:${ofLead}`, samples: ['3'] },
  ] as unknown as ImportPreview['columns'];
  const part = await show(aPreview({ columns }));
  const words = '1 column fills a field of leads: it is written only where each row becomes a lead.';
  expect(said(part.root)).toContain(words);
  const [, asLeads] = part.root.querySelectorAll<HTMLElement>('mat-checkbox input');
  await part.click(asLeads!);
  expect(said(part.root)).not.toContain(words);
});

test('with nothing new the button says why; a part that failed is tried again', async () => {
  const none = await show(
    aPreview({ counts: { new: 0, likely: 0, known: 3, differs: 0, twice: 0, wrong: 1 } }),
  );
  expect(none.button(/^Write 0/).getAttribute('aria-disabled')).toBe('true');
});

test('a part that failed is told, and tried again by a press', async () => {
  const part = await show(aPreview({ state: 'done', written: 5, failedRows: 250 }));
  expect(said(part.root.querySelector('[role=alert]')!)).toContain('Up to 250 rows could not be written');
  await part.click(part.button('Try again'));
  await part.answer(`/api/imports/${file}/retry`, aPreview({ state: 'applying' }));
  expect(said(part.root)).toContain('Writing …');
});

test('a file that is too large is refused before it is sent', async () => {
  const part = await showPart(ImportPage);
  const large = new File(['x'], 'large.csv');
  Object.defineProperty(large, 'size', { value: 16 * 1024 * 1024 });
  await (part.shown as unknown as { take(files: File[]): Promise<void> }).take([large]);
  await part.settle();
  expect(said(part.root)).toContain('larger than 15 MB');
  part.server.expectNone('/api/imports');
});

const dealsFile = (part: Partial<ImportPreview> = {}): ImportPreview =>
  aPreview({
    ...{ fileName: 'deals.csv', kind: 'deals', heads: ['name', 'value'] },
    columns: [
      { name: 'Deal', field: 'name', samples: ['Softener'] },
      { name: 'Amount', field: 'amount', samples: ['1.500'] },
    ],
    fields: [
      { key: 'name', name: 'name', isNeeded: true },
      { key: 'amount', name: 'value', isNeeded: false },
    ],
    counts: { new: 1, likely: 0, known: 2, differs: 1, twice: 0, wrong: 0 },
    rows: [
      {
        ...{ line: 2, verdict: 'known', cells: ['Softener', '£1,500'], choice: null },
        problems: [{ column: 'row', reason: 'Softener is here already' }],
        changes: ['value: £1,000 → £1,500'],
      },
    ],
    ...part,
  });

test('what would be another of a known one is shown, and written when it is asked for', async () => {
  const part = await show(dealsFile());
  expect(said(part.root)).toContain('value: £1,000 → £1,500');
  expect(part.button('Write 1 new deal')).toBeTruthy();
  await part.click(part.root.querySelector<HTMLElement>('mat-checkbox input')!);
  await part.click(part.button('Write 1 new deal, change 1 deal'));
  const { request } = await part.answer(`/api/imports/${file}/confirm`, dealsFile({ state: 'applying' }));
  expect(request.body).toEqual({ version: 2, withLikely: false, updates: true, leadsAs: null });
});

test('what it holds and how days and numbers are written can be said', async () => {
  const part = await show(dealsFile());
  await part.choose('Numbers are written', '1.234,50');
  const { request } = await part.answer(
    `/api/imports/${file}/mapping`,
    dealsFile({ formats: { dates: 'dmy', numbers: 'comma' }, version: 3 }),
  );
  expect(request.body).toMatchObject({
    fields: ['name', 'amount'],
    formats: { dates: 'dmy', numbers: 'comma' },
  });
  await part.choose('It holds', 'agreements');
  expect(part.asked(`/api/imports/${file}/mapping`).request.body).toMatchObject({
    version: 3,
    kind: 'agreements',
  });
});

test('what happens to one that is likely here is said row by row', async () => {
  const rows = [
    {
      ...{ line: 7, verdict: 'likely' as const, cells: ['Maud', '', '', ''], choice: null },
      problems: [{ column: 'row', reason: 'Maud Ellery has this address' }],
      changes: ['warmth: empty → hot'],
    },
  ];
  const part = await show(aPreview({ rows }));
  await part.choose('What happens to line 7', 'the one that is here');
  const chosen = aPreview({ rows: [{ ...rows[0]!, choice: 'same' }] });
  const { request } = await part.answer(`/api/imports/${file}/choices`, chosen);
  expect(request.body).toEqual({ version: 2, lines: [7], choice: 'same' });
  expect(part.button('Write 2 new people, change 1 person')).toBeTruthy();
});

test('files that belong together stand in their order, and one leads on to the next', async () => {
  const deals = '01900000-0000-7000-8000-0000000000f2';
  const files: ImportPreview['package'] = [
    { id: file as never, fileName: 'people.csv', kind: 'people', state: 'done' },
    { id: deals as never, fileName: 'deals.csv', kind: 'deals', state: 'judged' },
  ];
  const part = await show(aPreview({ state: 'done', written: 2, refused: 1, package: files }));
  expect(said(part.root.querySelector('.files')!)).toBe(
    '1. people.csv people, written 2. deals.csv deals, not written yet',
  );
  expect(said(part.root.querySelector('.sums')!)).toBe('Done: 2 people written, 1 refused, as the rows say.');
  await part.click(part.button('Go on to deals.csv'));
  await part.answer(`/api/imports/${deals}`, dealsFile({ id: deals as never }));
  expect(part.asked(`/api/imports/${deals}/mapping`).request.body).toMatchObject({ version: 2 });
});

test('several files are sent together', async () => {
  const part = await showPart(ImportPage);
  const taking = (part.shown as unknown as { take(files: File[]): Promise<void> }).take([
    new File(['Deal'], 'deals.csv'),
    new File(['Name'], 'people.csv'),
  ]);
  const first = await part.awaited('/api/imports');
  expect(first.request.body).toMatchObject({ fileName: 'deals.csv', kind: null });
  first.flush(dealsFile());
  const second = await part.awaited('/api/imports');
  expect(second.request.body.packageId).toBe(first.request.body.packageId);
  second.flush(aPreview());
  await taking;
  await part.settle();
  expect(said(part.root)).toContain('people.csv');
});
