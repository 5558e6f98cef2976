import type { TestRequest } from '@angular/common/http/testing';
import { showPart } from '../../testing/part';
import { NotificationBell } from './notification-bell';
import { SearchBox } from './search-box';

describe('finding anything', () => {
  const hit = (kind: string, title: string) => ({
    kind,
    id: `${kind}-${title}`,
    title,
    words: '',
  });
  const said = (root: HTMLElement) => root.textContent;
  const titles = (root: HTMLElement) =>
    [...root.querySelectorAll('[role=option] b')].map((each) => each.textContent);

  test('names come while typing, what was written below them a moment later', async () => {
    const part = await showPart(SearchBox);
    const box = part.root.querySelector('input')!;
    await part.type(box, 'salt');
    const waiting = new Map<string, TestRequest>();
    const answer = async (among: string, hits: object[]) => {
      for (let turn = 0; turn < 30 && !waiting.has(among); turn += 1) {
        await part.pass(50);
        for (const asked of part.server.match((request) => request.url === '/api/search'))
          waiting.set(asked.request.params.get('among')!, asked);
      }
      waiting.get(among)!.flush({ hits });
      await part.settle();
    };
    await answer('names', [hit('contact', 'Maud Salt'), hit('company', 'Salt Ltd')]);
    expect(titles(part.root)).toEqual(['Maud Salt', 'Salt Ltd']);
    await answer('notes', [hit('note', 'Theo')]);
    expect(titles(part.root)).toEqual(['Maud Salt', 'Salt Ltd', 'Theo']);
    box.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown', bubbles: true }));
    await part.settle();
    expect(part.root.querySelector('[aria-selected=true]')!.textContent).toContain('Salt Ltd');
  });

  test('nothing found says so', async () => {
    const part = await showPart(SearchBox);
    await part.type(part.root.querySelector('input')!, 'zzz');
    // Names are asked for first, what was written a moment later; on a busy machine both may wait already.
    for (let turn = 0; turn < 20 && !said(part.root).includes('Nothing found'); turn += 1) {
      await part.pass(50);
      for (const asked of part.server.match((request) => request.url === '/api/search'))
        asked.flush({ hits: [] });
      await part.settle();
    }
    expect(said(part.root)).toContain('Nothing found');
  });
});

test('the bell says how many are new', async () => {
  const part = await showPart(NotificationBell);
  await part.answer('/api/notifications', { notifications: [], unread: 2 });
  expect(part.root.querySelector('button')!.getAttribute('aria-label')).toBe('2 new notifications');
});
