import { aCount, type Part, showPart } from '../../../testing/part';
import { DeferDialog } from './defer-dialog';
import { DropDialog } from './drop-dialog';
import { TasksPage } from './tasks-page';

const task = (part: object = {}) => ({
  id: '01900000-0000-7000-8000-0000000000f1',
  channel: 'call',
  purpose: 'check the salt',
  dueOn: '2026-11-24',
  promisedAt: null,
  minutes: 6,
  state: 'open',
  ownerId: 'me',
  ownerName: 'Imogen Thorne',
  contactId: null,
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
});
const late = task({ id: '01900000-0000-7000-8000-0000000000f2', purpose: 'late one', dueOn: '2026-11-20' });
const done = task({
  id: '01900000-0000-7000-8000-0000000000f3',
  purpose: 'done one',
  state: 'done',
  finishedAt: '2026-11-23T10:00:00.000Z',
});

async function show(inputs: object = {}, role: 'rep' | 'admin' = 'rep'): Promise<Part<TasksPage>> {
  const part = await showPart(TasksPage, { inputs: { ...inputs }, role });
  const rows = [late, task(), done];
  if ('as' in inputs) await part.answer('/api/tasks/table', { rows });
  else await answerList(part, rows, 9);
  return part;
}
async function answerList(part: Part<TasksPage>, rows: object[], total = rows.length): Promise<void> {
  await part.answer('/api/tasks/count', aCount(rows.length, { total, sums: { minutes: 6 } }));
  await part.answer('/api/tasks/table', { rows });
  await part.pass(50);
}
const said = (part: Part<TasksPage>) => part.root.textContent.replace(/\s+/g, ' ');

test('the table asks for mine that are open, and says how many it hides', async () => {
  const part = await showPart(TasksPage);
  const asked = part.asked('/api/tasks/table');
  expect(asked.request.params.get('owner')).toBe('mine');
  expect(asked.request.params.get('state')).toBe('open');
  asked.flush({ rows: [task()] });
  await part.answer('/api/tasks/count', aCount(1, { total: 9 }));
  expect(said(part)).toContain('1 found · 8 not shown');
  expect(await part.choicesOf('Whose')).toEqual(['mine', 'given to others']);
});

test('a task names whom and which deal it is about, each as a link; what is rarer waits in a menu', async () => {
  const part = await showPart(TasksPage);
  const about = { contactId: 'maud', dealId: 'd1', dealName: 'Softener' };
  await answerList(part, [task(about)]);
  const links = [...part.root.querySelectorAll<HTMLAnchorElement>('.cell a')];
  expect(links.map((each) => [each.textContent.trim(), each.getAttribute('href')])).toEqual([
    ['Maud Ellery', '/people/maud'],
    ['Softener', '/deals/d1'],
  ]);
  await part.click(part.button('More about check the salt'));
  const acts = [...document.querySelectorAll('.mat-mdc-menu-panel button')].map((each) =>
    each.textContent.trim(),
  );
  expect(acts).toEqual(['Defer', 'Change', 'Drop']);
});

test('as columns each stands under its state', async () => {
  const part = await show({ as: 'columns' });
  const columns = [...part.root.querySelectorAll('.columns section')].map((section) => [
    section.getAttribute('aria-label'),
    section.querySelectorAll('.pick').length,
  ]);
  expect(columns).toEqual([
    ['late', 1],
    ['today', 1],
    ['ahead', 0],
    ['done', 1],
    ['dropped', 0],
  ]);
});

test('done is written and said', async () => {
  const part = await show();
  const row = [...part.root.querySelectorAll('.line')].find((each) =>
    each.textContent.includes('check the salt'),
  )!;
  const button = [...row.querySelectorAll('button')].find((each) => each.textContent.trim() === 'done')!;
  await part.click(button);
  const asked = part.asked(`/api/tasks/${task().id}/done`);
  asked.flush(task({ state: 'done', version: 3 }));
  await part.settle();
  expect(document.body.textContent).toContain('Done: check the salt.');
});

test('keys walk the tasks, and act only on open ones', async () => {
  const part = await show();
  const press = async (key: string) => {
    window.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
    await part.settle();
  };
  await press('ArrowDown');
  expect(part.root.querySelector('[role=row].chosen')!.textContent).toContain('late one');
  await press('.');
  expect(part.asked(`/api/tasks/${late.id}/done`)).toBeTruthy();
  await press('ArrowDown');
  await press('ArrowDown');
  expect(part.root.querySelector('[role=row].chosen')!.textContent).toContain('done one');
  await press('.');
  expect(part.server.match(`/api/tasks/${done.id}/done`)).toEqual([]);
});

test('a manager or admin chooses whose tasks they see', async () => {
  const part = await show({}, 'admin');
  await part.answer('/api/colleagues', { people: [{ id: 'dara', name: 'Dara Finch', role: 'rep' }] });
  const names = await part.choicesOf('Whose');
  expect(names).toEqual(['mine', 'given to others', 'the team’s', 'Dara Finch']);
});

test('dropping asks for a reason and says that it does not come again', async () => {
  const part = await showPart(DropDialog, { data: { name: 'check the salt', repeats: 'FREQ=WEEKLY' } });
  expect(part.root.textContent).toContain('It does not come again.');
  await part.click(part.button('Drop'));
  expect([part.closedWith, part.root.textContent]).toEqual([[], expect.stringContaining('is missing')]);
  await part.type(part.field('Reason'), 'sold');
  await part.click(part.button('Drop'));
  expect(part.closedWith).toEqual(['sold']);
});

test('deferring proposes days that are no days off, the one with room first, and takes any other', async () => {
  const part = await showPart(DeferDialog, { data: { name: 'check the salt', roomOn: '2026-11-27' } });
  const days = [...part.root.querySelectorAll('kettle-day-proposals button')].map((each) =>
    each.textContent.trim().replace(/\s+/g, ' '),
  );
  expect(days[0]).toContain('where there is room');
  expect(days.join(' ')).not.toMatch(/Sat|Sun/);
  expect(part.field('Another day').value).toBe('Fri 27 Nov 2026');
  await part.click(part.button(/^tomorrow/));
  expect(part.closedWith).toEqual(['2026-11-25']);
});

test('a colleague’s task offers no acts, says whose it is, and its keys say so too', async () => {
  const part = await showPart(TasksPage, { inputs: { owner: 'all' } });
  const theirs = task({ ownerId: 'rhys', ownerName: 'Rhys Calder' });
  await answerList(part, [theirs]);
  expect(said(part)).toContain('Rhys Calder');
  expect([...part.root.querySelectorAll('.acts button')]).toEqual([]);
  await part.click(part.button('check the salt'));
  window.dispatchEvent(new KeyboardEvent('keydown', { key: '.', bubbles: true }));
  await part.settle();
  expect(document.body.textContent).toContain('This task is Rhys Calder’s');
});
