import { type Part, showPart } from '../../../testing/part';
import { type MenuRecord, RecordMenu } from './record-menu';

const record: MenuRecord = { kind: 'contact', id: 'c1', version: 4, isArchived: false };

async function openMenu(part: object = {}) {
  const shown = await showPart(RecordMenu, { inputs: { record: { ...record, ...part } } });
  const said: string[] = [];
  for (const name of ['changed', 'removed', 'back'] as const)
    shown.shown[name].subscribe(() => said.push(name));
  await shown.click(shown.button('More acts'));
  return { ...shown, said };
}

const items = () => [...document.querySelectorAll<HTMLElement>('[role="menuitem"]')];
const choose = async (part: Pick<Part<unknown>, 'click'>, words: RegExp) =>
  part.click(items().find((each) => words.test(each.textContent))!);

test('archives what is shown over the version it was seen in, and takes it out again', async () => {
  const part = await openMenu();
  await choose(part, /Archive this contact/);
  const { request } = await part.answer('/api/records/archive', { words: 'Maud is archived.' });
  expect(request.body).toEqual({ kind: 'contact', id: 'c1', version: 4, isArchived: true });
  expect(part.said).toEqual(['changed']);
  part.fixture.componentRef.setInput('record', { ...record, isArchived: true, version: 5 });
  await part.settle();
  await part.click(part.button('More acts'));
  await choose(part, /from the archive/);
  const again = await part.answer('/api/records/archive', { words: 'Maud is out of the archive.' });
  expect(again.request.body).toMatchObject({ version: 5, isArchived: false });
});

test('a refusal says why and changes nothing', async () => {
  const part = await openMenu();
  await choose(part, /Archive/);
  const detail = 'Maud cannot be archived yet: the deal “Big softener” is open.';
  await part.refuse('/api/records/archive', { status: 409, code: 'not-finished', detail });
  expect(document.body.textContent).toContain(detail);
  expect(part.said).toEqual([]);
});

test('deleting tells whoever shows it, and so does the undo', async () => {
  const part = await openMenu();
  await choose(part, /Delete/);
  const deleted = await part.answer('/api/records/delete', { words: 'Maud is deleted.' });
  (await part.undoOf(deleted)).flush({});
  await part.settle();
  expect(part.said).toEqual(['removed', 'back']);
});
