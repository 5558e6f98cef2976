import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { aCount, aRow, type Part, showPart } from '../../../testing/part';
import { DuplicatesPage } from './duplicates-page';
import { PeoplePage } from './people-page';
import { GridPicks } from '../grid/index';

const id = (n: number) => `01900000-0000-7000-8000-00000000000${n}`;
const rows = [
  aRow({ id: id(1), name: 'Maud Ellery' }),
  aRow({ id: id(2), name: 'Theo Quill', ownerId: null, ownerName: null, version: 7 }),
];

/** jsdom lays nothing out: the viewport is told a height, so that it renders rows. */
beforeEach(() => {
  Object.defineProperty(HTMLElement.prototype, 'clientHeight', { configurable: true, value: 400 });
});

async function show(inputs: object = {}): Promise<Part<PeoplePage>> {
  const part = await showPart(PeoplePage, { inputs: { ...inputs } });
  const standings = [{ standing: { id: 'customer', name: 'Customer' }, due: 1, all: 2 }];
  // The names, and the counts of the people that are listed.
  await part.answerAll('/api/standings', { standings });
  await part.answer('/api/contacts/count', aCount(2, { total: 5 }));
  await part.answer('/api/contacts', { rows });
  await part.pass(50);
  return part;
}
const said = (part: Part<unknown>) => part.root.textContent.replace(/\s+/g, ' ');
const address = () => new URL(TestBed.inject(Router).url, 'http://kettle.test').searchParams;

test('says how many are found and, with a filter, how many it hides', async () => {
  expect(said(await show())).toContain('2 found · 3 not shown');
  TestBed.resetTestingModule();
  const part = await show({ owner: 'mine' });
  expect(said(part)).toContain('2 found · a filter hides 3');
  await part.click(part.button('show all'));
  expect(address().get('owner')).toBeNull();
});

test('a head sorts by its field, with shift as a further one; the address keeps the view', async () => {
  const part = await show({ sort: 'standing' });
  part.button('company').dispatchEvent(new MouseEvent('click', { shiftKey: true, bubbles: true }));
  await part.pass(0);
  expect(address().get('sort')).toBe('standing,company');
});

test('columns are hidden, shown, moved and widened from their head', async () => {
  const part = await show();
  await part.click(part.button('Column company'));
  const item = (name: string) =>
    [...document.querySelectorAll<HTMLButtonElement>('[role=menuitem]')].find(
      (each) => each.textContent.trim() === name,
    )!;
  await part.click(item('move left'));
  await part.pass(0);
  expect(address().get('cols')).toMatch(/^company,name,/);
});

test('a cell is changed over the version it was seen at, and put back by undo', async () => {
  const part = await show({ cols: 'name,source' });
  const cell = [...part.root.querySelectorAll('.cell')][1]!;
  cell.dispatchEvent(new MouseEvent('dblclick', { bubbles: true }));
  await part.settle();
  const box = part.field('source of Maud Ellery');
  box.value = 'fair';
  box.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true, cancelable: true }));
  const asked = part.asked(`/api/contacts/${id(1)}/cell`);
  expect(asked.request.body).toEqual({ version: 1, field: 'source', value: 'fair' });
  asked.flush(aRow({ id: id(1), name: 'Maud Ellery', source: 'fair', version: 2 }));
  await part.pass(0);
  expect(part.root.querySelectorAll('.cell')[1]!.textContent.trim()).toBe('fair');
  const undo = [...document.querySelectorAll<HTMLButtonElement>('button')].find(
    (each) => each.textContent.trim() === 'Undo',
  )!;
  undo.click();
  await part.pass(0);
  const changeId = asked.request.headers.get('X-Change-Id')!;
  expect(part.asked(`/api/changes/${changeId}/undo`)).toBeTruthy();
});

test('a view that asks for what is gone says so, and offers the list without it', async () => {
  const part = await showPart(PeoplePage, { inputs: { filter: 'x', sort: 'gone', owner: 'mine' } });
  await part.refuse('/api/contacts/count', {
    status: 400,
    code: 'invalid-request',
    detail: 'Check the marked fields.',
  });
  expect(said(part)).toContain('asks for something that is not there any more');
  expect(said(part)).not.toContain('marked fields');
  const go = jest.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
  await part.click(part.button('Show everything'));
  expect(go.mock.lastCall![1]!.queryParams).toMatchObject({ filter: null, sort: null, owner: null });
});

test('a refused cell says why and keeps what was typed', async () => {
  const part = await show({ cols: 'name,email' });
  [...part.root.querySelectorAll('.cell')][1]!.dispatchEvent(new MouseEvent('dblclick', { bubbles: true }));
  await part.settle();
  const box = part.field('e-mail of Maud Ellery');
  box.value = 'nonsense';
  box.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true, cancelable: true }));
  await part.refuse(`/api/contacts/${id(1)}/cell`, {
    status: 400,
    code: 'invalid-request',
    detail: 'Check the marked fields.',
    fields: [{ path: 'email', message: 'must be an e-mail address' }],
  });
  await part.pass(0);
  expect(part.field('e-mail of Maud Ellery').value).toBe('nonsense');
  expect(part.field('e-mail of Maud Ellery').getAttribute('aria-invalid')).toBe('true');
});

test('claiming from the pool: who was faster is told', async () => {
  const part = await show();
  await part.click(part.button('claim'));
  await part.refuse(`/api/contacts/${id(2)}/claim`, {
    status: 409,
    code: 'already-claimed',
    detail: 'Mina Okell was faster and has this contact now.',
  });
  expect(document.body.textContent).toContain('Mina Okell was faster');
});

test('picking one offers all of the view; the export names columns and picked ones', async () => {
  const part = await show({ owner: 'mine' });
  await part.click(part.field('Pick Maud Ellery'));
  expect(said(part)).toContain('1 picked');
  await part.click(part.button('export'));
  const files = [...document.querySelectorAll<HTMLAnchorElement>('a[download]')];
  expect(files.map((file) => `${file.textContent.trim()} ${file.download}`)).toEqual([
    'CSV people.csv',
    'XLSX people.xlsx',
    'vCard 3 people.vcf',
    'vCard 4 people.vcf',
  ]);
  const link = new URL(files[1]!.href);
  expect(link.searchParams.get('as')).toBe('xlsx');
  expect(link.searchParams.get('ids')).toBe(id(1));
  expect(link.searchParams.get('columns')).toMatch(/^name,company/);
  await part.click(part.button('pick all 2'));
  expect(said(part)).toContain('2 picked');
  await part.click(part.button('Start 2 on a cadence'));
  expect(part.asked('/api/contacts').request.params.get('limit')).toBe('100');
});

test('colleagues’ people can be picked and exported, not changed or started', async () => {
  const part = await show();
  const other = aRow({ id: id(3), name: 'Ida Brock', ownerId: 'dara', ownerName: 'Dara Voss' });
  part.fixture.debugElement.injector.get(GridPicks).toggle(other);
  await part.settle();
  expect(said(part)).toContain('1 picked');
  expect(said(part)).toContain('These are colleagues’ people: their owners change them.');
  expect(() => part.button(/^Change them/)).toThrow();
  await part.click(part.field('Pick Maud Ellery'));
  expect(part.button(/^Change them/)).toBeTruthy();
});

test('two that are two are dismissed; merges of the last days can be taken apart', async () => {
  const part = await showPart(DuplicatesPage);
  await part.answer('/api/contacts/pairs', {
    pairs: [
      {
        one: rows[0],
        other: rows[1],
        likeness: 'likely',
        score: 0.8,
        evidence: [{ about: 'name', words: '97 % alike' }],
      },
    ],
    dismissed: 1,
  });
  await part.answer('/api/merges', {
    merges: [
      {
        id: id(9),
        keptId: id(1),
        keptName: 'Maud Ellery',
        goneName: 'Mode Elery',
        by: 'Imogen',
        at: '2026-11-23T10:00:00.000Z',
      },
    ],
  });
  expect(said(part)).toContain('1 likely pair · 1 found to be two');
  await part.click(part.button('they are two'));
  expect(part.asked('/api/contacts/pairs/dismiss').request.body).toEqual({ oneId: id(1), otherId: id(2) });
  await part.click(part.button('take apart again'));
  expect(part.asked(`/api/merges/${id(9)}/undo`)).toBeTruthy();
});
