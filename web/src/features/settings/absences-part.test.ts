import { showPart } from '../../../testing/part';
import { AbsencesPart } from './absences-part';

const id = (n: number) => `01900000-0000-7000-8000-00000000000${n}`;
const colleagues = {
  people: [
    { id: 'me', name: 'Imogen Thorne', role: 'rep' },
    { id: id(2), name: 'Dara Finch', role: 'rep' },
  ],
};
const absence = (part: object = {}) => ({
  ...{ id: id(7), userId: 'me', name: 'Imogen Thorne', from: '2026-12-01', to: '2026-12-03' },
  ...{ standInId: id(2), standInName: 'Dara Finch', ...part },
});
const said = (element: Element) => element.textContent.replace(/\s+/g, ' ').trim();

async function show(absences: object[] = [], role: 'rep' | 'manager' = 'rep') {
  const part = await showPart(AbsencesPart, { role });
  await part.answerAll('/api/colleagues', colleagues);
  await part.answer('/api/absences', { absences });
  return part;
}

describe('who is away', () => {
  test('my days and who stands in; of others only those I lead or stand in for', async () => {
    const part = await show([
      absence(),
      absence({
        id: id(8),
        userId: id(2),
        name: 'Dara Finch',
        standInId: 'me',
        standInName: 'Imogen Thorne',
      }),
      absence({ id: id(9), userId: id(3), name: 'Somebody Else', standInId: null, standInName: null }),
    ]);
    expect([...part.root.querySelectorAll('li > span:first-child')].map(said)).toEqual([
      'Imogen Thorne Tue 1 Dec – Thu 3 Dec Dara Finch stands in',
      'Dara Finch Tue 1 Dec – Thu 3 Dec Imogen Thorne stands in',
    ]);
    // What is another's is not mine to remove.
    expect(part.root.querySelectorAll('li button')).toHaveLength(1);
  });

  test('one is added for myself, and a refusal stands at its field', async () => {
    const part = await show();
    expect(said(part.root)).toContain('Nobody is going to be away.');
    await part.click(part.button('Add'));
    const asked = part.asked('/api/absences');
    expect(asked.request.body).toEqual({
      ...{ userId: 'me', from: '2026-11-25', to: '2026-11-25', standInId: null },
    });
    asked.flush(
      {
        ...{ type: '', title: '', status: 422, code: 'invalid-request', detail: 'Not so.', requestId: '' },
        fields: [{ path: 'from', message: 'lies in another absence' }],
      },
      { status: 422, statusText: 'refused' },
    );
    await part.settle();
    expect(said(part.root)).toContain('lies in another absence');
  });

  test('one is removed, with an undo', async () => {
    const part = await show([absence()]);
    await part.click(part.button('Remove the absence of Imogen Thorne'));
    const asked = part.asked(`/api/absences/${id(7)}`);
    expect(asked.request.method).toBe('DELETE');
    asked.flush({ ok: true });
    await part.pass(10);
    expect(said(document.body)).toContain('Imogen Thorne is not away then.');
    expect(await part.undoOf(asked)).toBeTruthy();
  });
});
