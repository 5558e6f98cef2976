import { MatAutocompleteTrigger } from '@angular/material/autocomplete';
import { By } from '@angular/platform-browser';
import type { JournalEntry } from '@kettle/contract';
import { anEntry, type Part, showPart } from '../../../testing/part';
import { Journal } from './journal';
import { EntryDialog } from './entry-dialog';

const entry = (id: string, part: Partial<JournalEntry> = {}) =>
  anEntry({ id: id as JournalEntry['id'], body: `entry ${id}`, ...part });

const show = async (role: 'rep' | 'manager' = 'rep'): Promise<Part<Journal>> => {
  const known = { entries: [entry('1'), entry('2')], before: 'place' };
  return showPart(Journal, { role, inputs: { record: { kind: 'contact', id: 'maud' }, known } });
};
const bodies = (part: Part<Journal>) =>
  [...part.root.querySelectorAll('.body')].map((each) => each.textContent);

test('older entries come below those that are there', async () => {
  const part = await show();
  await part.click(part.button('older entries'));
  const asked = part.asked('/api/journal');
  expect(asked.request.params.get('before')).toBe('place');
  asked.flush({ entries: [entry('3')], before: null });
  await part.settle();
  expect(bodies(part)).toEqual(['entry 1', 'entry 2', 'entry 3']);
  expect(() => part.button('older entries')).toThrow();
});

test('filters by kind, person and period are asked of the server; an empty answer says what hides it', async () => {
  const part = await show('manager');
  await part.click(part.button('filter'));
  await part.choose('Kind', 'Call');
  await part.type(part.field('From'), '2026-11-01');
  const { params } = part.asked('/api/journal').request;
  expect([params.get('kinds'), params.get('from')]).toEqual(['call', '2026-11-01']);
  for (const waiting of part.server.match('/api/journal')) waiting.flush({ entries: [], before: null });
  part.fixture.detectChanges();
  await part.click(part.button('show removed'));
  await part.answer('/api/journal', { entries: [], before: null });
  expect(part.root.textContent).toContain('The filter hides everything.');
  await part.click(part.button('show all'));
  expect(part.asked('/api/journal').request.params.get('kinds')).toBeNull();
  await part.click(part.button('hide removed'));
  expect(bodies(part)).toEqual(['entry 1', 'entry 2']);
});

test('what was removed is not offered to a rep', async () => {
  const part = await show();
  await part.click(part.button('filter'));
  expect(() => part.button('show removed')).toThrow();
});

test('a removal is written over its version and can be undone', async () => {
  const part = await show();
  (part.root.querySelector('[aria-label^="Acts on"]') as HTMLButtonElement).click();
  await part.settle();
  const remove = [...document.querySelectorAll<HTMLButtonElement>('[role=menuitem]')].find(
    (each) => each.textContent.trim() === 'remove',
  )!;
  await part.click(remove);
  const asked = part.asked('/api/journal/1/remove');
  expect(asked.request.body).toEqual({ version: 3 });
  asked.flush({ ok: true });
  await part.settle();
  expect(document.body.textContent).toContain('Removed from the journal.');
});

test('Enter after a name that is begun takes the one proposed, marked or not yet, and sends nothing', async () => {
  const part = await show();
  (part.root.querySelector('[aria-label^="Acts on"]') as HTMLButtonElement).click();
  await part.settle();
  const items = [...document.querySelectorAll<HTMLButtonElement>('[role=menuitem]')];
  await part.click(items.find((each) => each.textContent.trim() === 'comment')!);
  const box = part.field<HTMLInputElement>(/^Comment/);
  box.focus();
  await part.type(box, 'ask @cor');
  for (const asked of part.server.match(({ url }) => url.endsWith('/colleagues')))
    asked.flush({ people: [{ id: 'c', name: 'Corin Vale', role: 'manager' }] });
  await part.type(box, 'ask @cori');
  await part.pass(20);
  const trigger = part.fixture.debugElement.query(By.directive(MatAutocompleteTrigger));
  // As it is while the list that has just come has marked none.
  jest.spyOn(trigger.injector.get(MatAutocompleteTrigger), 'activeOption', 'get').mockReturnValue(null);
  const enter = new KeyboardEvent('keydown', { key: 'Enter', bubbles: true, cancelable: true });
  box.dispatchEvent(enter);
  expect(enter.defaultPrevented).toBe(true);
  expect(box.value).toBe('ask @Corin Vale ');
});

describe('editing an entry', () => {
  test('keeps the moment to the second unless another was chosen', async () => {
    const part = await showPart(EntryDialog, { data: entry('1', { at: '2026-11-23T10:00:31.000Z' }) });
    await part.type(part.field<HTMLInputElement>('What was said'), 'two boilers');
    await part.click(part.button('Save'));
    const kept = await part.refuse('/api/journal/1', {
      status: 503,
      code: 'database-away',
      detail: 'In a moment.',
      fields: [],
    });
    expect(kept.request.body).toEqual({
      version: 3,
      body: 'two boilers',
      at: '2026-11-23T10:00:31.000Z',
      minutes: null,
    });
    await part.type(part.field('At'), '14:30');
    await part.click(part.button('Save'));
    expect(part.asked('/api/journal/1').request.body.at).toBe('2026-11-23T14:30:00.000Z');
  });

  test('over another’s change of the same field it asks whose words hold', async () => {
    const part = await showPart(EntryDialog, { data: entry('1') });
    await part.type(part.field<HTMLInputElement>('What was said'), 'mine');
    await part.click(part.button('Save'));
    await part.refuse('/api/journal/1', {
      status: 409,
      code: 'stale',
      detail: 'Somebody changed this.',
      fields: [{ path: 'body', message: 'was changed by Corin Vale meanwhile' }],
      current: entry('1', { body: 'theirs', version: 4 }),
    });
    expect(part.root.textContent).toContain('What was said was changed by Corin Vale meanwhile');
    expect(part.root.textContent).toContain('Theirs: theirs');
    part.root.querySelector<HTMLInputElement>('mat-radio-button[value=mine] input')!.click();
    await part.settle();
    await part.click(part.button('Save'));
    expect(part.asked('/api/journal/1').request.body).toMatchObject({
      body: 'mine',
      version: 3,
      resolved: { version: 4, mine: ['body'], theirs: [] },
    });
  });
});
