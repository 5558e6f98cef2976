import { showPart } from '../../../testing/part';
import { NoteBox } from './note-box';
import { RichBox } from './rich-box';

const subject = { kind: 'contact', id: 'maud' } as const;
const press = (key: string) => window.dispatchEvent(new KeyboardEvent('keydown', { key, cancelable: true }));
const editorIn = (root: HTMLElement) => root.querySelector<HTMLElement>('.tiptap');

test('what is typed while the box is on its way is the beginning of the note', async () => {
  const part = await showPart(NoteBox, { inputs: { record: subject } });
  part.button('Write a note').click();
  for (const key of 'Two') press(key);
  for (let n = 0; n < 50 && editorIn(part.root) === null; n += 1) await part.settle();
  expect(editorIn(part.root)?.textContent).toBe('Two');
  expect(document.activeElement).toBe(editorIn(part.root));
});

test('a half-written note takes no focus from the list it is beside', async () => {
  const part = await showPart(NoteBox, {
    inputs: { record: subject },
    before: () => localStorage.setItem('kettle.draft.me.note.contact.maud', '<p>half</p>'),
  });
  for (let n = 0; n < 50 && editorIn(part.root) === null; n += 1) await part.settle();
  expect(editorIn(part.root)?.textContent).toBe('half');
  expect(document.activeElement).not.toBe(editorIn(part.root));
});

test('after a press on “Bold” the next letter is the note’s, not a key of the page', async () => {
  const part = await showPart(RichBox);
  await part.settle();
  editorIn(part.root)!.blur();
  part.root.querySelector<HTMLButtonElement>('[aria-label=Bold]')!.click();
  expect(document.activeElement).toBe(editorIn(part.root));
});
