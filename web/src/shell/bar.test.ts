import { showPart } from '../../testing/part';
import { NotificationBell } from './notification-bell';
import { SearchBox } from './search-box';

describe('finding anything', () => {
  const hit = (kind: string, title: string) => ({
    kind,
    id: `${kind}-${title}`,
    title,
    words: '',
    at: '2026-11-24T09:00:00.000Z',
    contactId: null,
    companyId: null,
    dealId: null,
  });
  const titles = (root: HTMLElement) =>
    [...root.querySelectorAll('[role=option] b')].map((each) => each.textContent);

  test('names come while typing, what was written below them a moment later', async () => {
    const part = await showPart(SearchBox);
    const box = part.root.querySelector('input')!;
    await part.type(box, 'salt');
    await part.pass(160);
    await part.answer('/api/search', { hits: [hit('contact', 'Maud Salt'), hit('company', 'Salt Ltd')] });
    expect(titles(part.root)).toEqual(['Maud Salt', 'Salt Ltd']);
    await part.pass(300);
    await part.answer('/api/search', { hits: [hit('note', 'Theo')] });
    expect(titles(part.root)).toEqual(['Maud Salt', 'Salt Ltd', 'Theo']);
    box.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown', bubbles: true }));
    await part.settle();
    expect(part.root.querySelector('[aria-selected=true]')!.textContent).toContain('Salt Ltd');
  });

  test('nothing found says so', async () => {
    const part = await showPart(SearchBox);
    await part.type(part.root.querySelector('input')!, 'zzz');
    await part.pass(160);
    await part.answer('/api/search', { hits: [] });
    expect(part.root.textContent).toContain('Nothing found');
  });
});

test('the bell says how many are new', async () => {
  const part = await showPart(NotificationBell);
  await part.answer('/api/notifications', { notifications: [], unread: 2 });
  expect(part.root.querySelector('button')!.getAttribute('aria-label')).toBe('2 new notifications');
});
