import { showPart } from '../../../testing/part';
import { Talk } from './talk';

const said = (root: Element) => root.textContent.replace(/\s+/g, ' ').trim();
const id = (n: number) => `00000000-0000-7000-8000-00000000000${n}`;
const message = (n: number, part: object = {}) => ({
  ...{ id: id(n), userId: id(9), userName: 'Dara Finch', at: '2026-11-24T08:00:00.000Z' },
  ...{ body: `message ${n}`, isMine: false },
  ...part,
});
const show = async (messages: object[], earlier = 0) => {
  const part = await showPart(Talk, { inputs: { record: { kind: 'agreement', id: id(4) } } });
  const asked = part.asked('/api/talk');
  expect(asked.request.params.get('agreementId')).toBe(id(4));
  asked.flush({ messages, earlier });
  await part.settle();
  return part;
};

test('empty it says what it is for; what is said is sent once and what was typed goes with it', async () => {
  const part = await show([]);
  expect(said(part.root)).toContain('it is no entry of the journal and counts as no touch');
  const box = part.root.querySelector('input')!;
  await part.click(part.button('Say'));
  part.server.expectNone((each) => each.method === 'POST');
  await part.type(box, ' Did they ask? ');
  await part.click(part.button('Say'));
  const asked = part.asked('/api/talk');
  expect(asked.request.body).toMatchObject({ agreementId: id(4), body: 'Did they ask?' });
  asked.flush({ ok: true });
  await part.settle();
  expect(box.value).toBe('');
  await part.answer('/api/talk', { messages: [message(1)], earlier: 0 });
  expect(said(part.root)).toContain('Dara Finch message 1 today 08:00');
});

test('what is refused stays typed', async () => {
  const part = await show([]);
  const box = part.root.querySelector('input')!;
  await part.type(box, 'Hello');
  await part.click(part.button('Say'));
  await part.refuse('/api/talk', { status: 404, code: 'not-found', detail: 'It is gone.' });
  expect([box.value, said(document.body)]).toEqual(['Hello', expect.stringContaining('It is gone.')]);
});

test('one’s own is removed, with an undo; a long talk says what it leaves out', async () => {
  const part = await show([message(1), message(2, { isMine: true })], 12);
  expect(said(part.root)).toContain('12 earlier ones are not shown.');
  const buttons = [...part.root.querySelectorAll('button')].filter((each) => said(each) === 'remove');
  expect(buttons).toHaveLength(1);
  await part.click(buttons[0]!);
  const asked = part.asked(`/api/talk/${id(2)}`);
  asked.flush({ ok: true });
  await part.settle();
  expect(await part.undoOf(asked)).toBeTruthy();
});
