import { showPart } from '../../../testing/part';
import { ChangesPage } from './changes-page';

const change = {
  id: 's1',
  words: 'Hotel Linde: Inquiry → Survey',
  at: '2026-11-24T09:10:00.000Z',
  byName: 'Imogen Thorne',
};
const file = {
  id: 'i1',
  fileName: 'fair.csv',
  at: '2026-11-23T09:10:00.000Z',
  byName: 'Imogen Thorne',
  written: 4,
  kept: 0,
};

async function show(imports: object[], changes: object[]) {
  const part = await showPart(ChangesPage, {});
  await part.answer('/api/changes/sets', { changes });
  await part.answer('/api/imports', { imports });
  return part;
}
const said = (root: HTMLElement) => root.textContent.replace(/\s+/g, ' ');

test('lists what was changed and imported, each with its undo', async () => {
  const part = await show(
    [{ ...file, state: 'done', canUndo: true }],
    [
      { ...change, isUndone: false, canUndo: true },
      { ...change, id: 's2', words: 'Task done', isUndone: true, canUndo: false },
    ],
  );
  expect(said(part.root)).toMatch(/fair\.csv ?4 people/);
  expect(said(part.root)).toContain('Hotel Linde: Inquiry → Survey');
  expect([...part.root.querySelectorAll('.undone .what')].map((each) => each.textContent)).toEqual([
    'Task done',
  ]);
  const [ofFile, ofChange] = [...part.root.querySelectorAll('button')];
  await part.click(ofChange!);
  part.asked('/api/changes/s1/undo').flush({ words: 'Undone.' });
  await part.click(ofFile!);
  part.asked('/api/imports/i1/undo').flush({ ok: true });
  await part.settle();
});

test('what can no longer be undone says why', async () => {
  const part = await show([], [{ ...change, isUndone: false, canUndo: true }]);
  await part.click(part.root.querySelector('button')!);
  await part.refuse('/api/changes/s1/undo', {
    status: 409,
    code: 'cannot-undo',
    detail: 'This can no longer be undone: the deal was changed by Rhys Calder on 2026-11-24.',
  });
  expect(document.body.textContent).toContain('the deal was changed by Rhys Calder');
});

test('an import that was undone says what was kept, an empty list what will stand here', async () => {
  const part = await show([{ ...file, state: 'undone', kept: 2, written: 2, canUndo: false }], []);
  expect(said(part.root)).toContain('undone; 2 records changed since were kept');
  expect(said(part.root)).toContain('Nothing changed yet');
});
