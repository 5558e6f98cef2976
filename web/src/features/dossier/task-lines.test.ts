import type { Task } from '@kettle/contract';
import { type Part, showPart } from '../../../testing/part';
import { TaskLines } from './task-lines';

const task = (part: object = {}): Task =>
  ({
    id: '01900000-0000-7000-8000-0000000000f1',
    channel: 'call',
    purpose: 'ask for the signature',
    dueOn: '2026-11-26',
    promisedAt: null,
    minutes: 6,
    state: 'open',
    ownerId: 'me',
    ownerName: 'Imogen Thorne',
    contactId: 'maud',
    contactName: 'Maud Ellery',
    companyName: null,
    dealId: null,
    dealName: null,
    runWords: null,
    timesMoved: 0,
    repeats: null,
    remindMinutes: null,
    dropReason: null,
    finishedAt: null,
    version: 2,
    ...part,
  }) as never;
const said = (part: Part<unknown>) => part.root.textContent.replace(/\s+/g, ' ');

async function press(part: Part<TaskLines>, act: string): Promise<void> {
  await part.click(part.button('Acts on ask for the signature'));
  const item = [...document.querySelectorAll<HTMLElement>('[mat-menu-item]')].find(
    (each) => each.textContent.trim() === act,
  )!;
  await part.click(item);
}

test('a step has its time, and the name of the colleague whose it is; only mine offer acts', async () => {
  const promised = task({ promisedAt: '2026-11-26T10:30:00.000Z' });
  const theirs = task({ id: 'f2', ownerId: 'dara', ownerName: 'Dara Voss', purpose: 'send the plan' });
  const part = await showPart(TaskLines, { inputs: { tasks: [promised, theirs] } });
  expect(said(part)).toMatch(/ask for the signature .*Thu 26 Nov 10:30/);
  expect(said(part)).toContain('send the plan · Dara Voss');
  expect(() => part.button('Acts on send the plan')).toThrow();
});

test('a step is done where it stands, said in one line with its undo, and the list read again', async () => {
  const part = await showPart(TaskLines, { inputs: { tasks: [task()] } });
  let reads = 0;
  part.shown.changed.subscribe(() => (reads += 1));
  await press(part, 'Done');
  const asked = part.asked(`/api/tasks/${task().id}/done`);
  asked.flush(task({ state: 'done', version: 3 }));
  await part.pass(10);
  expect(document.body.textContent).toContain('Done: ask for the signature.');
  expect(reads).toBe(1);
});

test('a refused act says why, and the list is read again', async () => {
  const part = await showPart(TaskLines, { inputs: { tasks: [task()] } });
  let reads = 0;
  part.shown.changed.subscribe(() => (reads += 1));
  await press(part, 'Done');
  const detail = 'It was done already.';
  await part.refuse(`/api/tasks/${task().id}/done`, { status: 409, code: 'already-done', detail });
  await part.pass(10);
  expect(document.body.textContent).toContain(detail);
  expect(reads).toBe(1);
});
