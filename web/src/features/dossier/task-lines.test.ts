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

test('a due step of mine opens in the walk, by its words; one of a colleague or of a later day does not', async () => {
  const due = task({ dueOn: '2026-11-24' });
  const later = task({ id: 'f2', dueOn: '2026-11-27', purpose: 'later' });
  const theirs = task({
    id: 'f3',
    dueOn: '2026-11-24',
    ownerId: 'dara',
    ownerName: 'Dara Voss',
    purpose: 'theirs',
  });
  const part = await showPart(TaskLines, { inputs: { tasks: [due, later, theirs] } });
  const links = [...part.root.querySelectorAll('a')];
  expect(links.map((link) => link.textContent.trim())).toEqual(['ask for the signature']);
  expect(links[0]!.getAttribute('href')).toBe(`/walk?key=task:${due.id}&alone=yes`);
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

describe('the last planned step of an open deal', () => {
  const finish = async (deal: object) => {
    const ofDeal = task({ dealId: 'd1', dealName: 'Softener' });
    const part = await showPart(TaskLines, { inputs: { tasks: [ofDeal] } });
    await press(part, 'Done');
    await part.answer(`/api/tasks/${ofDeal.id}/done`, task({ state: 'done', version: 3, dealId: 'd1' }));
    await part.pass(10);
    await part.answer('/api/deals/d1', { id: 'd1', name: 'Softener', contactName: 'Maud Ellery', ...deal });
    await part.pass(50);
    return part;
  };
  const dialog = () => document.querySelector('mat-dialog-container')?.textContent.replace(/\s+/g, ' ');

  test('asks what comes next once it is done', async () => {
    await finish({ status: 'open', tether: { nextStepOn: null } });
    expect(dialog()).toContain('What next with Maud Ellery?');
    expect(dialog()).toContain('Softener is open, and nothing more is planned for it.');
  });

  test.each([
    [{ status: 'won', tether: { nextStepOn: null } }],
    [{ status: 'open', tether: { nextStepOn: '2026-12-01' } }],
  ])('asks nothing of %j', async (deal) => {
    await finish(deal);
    expect(dialog()).toBeUndefined();
  });
});

test('an undo that comes when the list is gone tells nobody, and nothing complains', async () => {
  const part = await showPart(TaskLines, { inputs: { tasks: [task()] } });
  await press(part, 'Done');
  const asked = part.asked(`/api/tasks/${task().id}/done`);
  asked.flush(task({ state: 'done', version: 3 }));
  await part.pass(10);
  part.fixture.destroy();
  [...document.querySelectorAll<HTMLButtonElement>('button')]
    .find((each) => each.textContent.trim() === 'Undo')!
    .click();
  const undo = part.server.expectOne(`/api/changes/${asked.request.headers.get('X-Change-Id')!}/undo`);
  const complaints = (['warn', 'error'] as const).map((kind) => jest.spyOn(console, kind).mockReturnValue());
  undo.flush({});
  await part.pass(10);
  for (const each of complaints) {
    expect(each).not.toHaveBeenCalled();
    each.mockRestore();
  }
});
