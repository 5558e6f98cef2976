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
    columns: [
      { name: 'Name', field: 'fullName', samples: ['Maud Ellery'] },
      { name: 'Mail', field: 'email', samples: ['maud@ellery.example'] },
    ],
    counts: { new: 2, likely: 1, known: 3, twice: 1, wrong: 1 },
    rows: [
      {
        ...{ line: 4, verdict: 'wrong', name: 'Bram', company: '', email: 'not-mail', phone: '' },
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
  expect(said(part.root)).toContain('also 1 likely duplicate, each as a person of their own');
  await part.click(part.root.querySelector<HTMLElement>('mat-checkbox input')!);
  await part.click(part.button('Write 3 new people'));
  const { request } = await part.answer(`/api/imports/${file}/confirm`, aPreview({ state: 'applying' }));
  expect(request.body).toEqual({ version: 2, withLikely: true, leadsAs: null });
  expect(said(part.root)).toContain('You may leave this page; it goes on.');
});

test('a field given to one column is taken from the one that had it', async () => {
  const part = await show();
  await part.choose('What the column Mail holds', 'full name');
  expect(part.asked(`/api/imports/${file}/mapping`).request.body).toEqual({
    version: 2,
    fields: ['ignore', 'fullName'],
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
  const none = await show(aPreview({ counts: { new: 0, likely: 0, known: 3, twice: 0, wrong: 1 } }));
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
  await (part.shown as unknown as { take(file: File): Promise<void> }).take(large);
  await part.settle();
  expect(said(part.root)).toContain('larger than 15 MB');
  part.server.expectNone('/api/imports');
});
