import type { TestRequest } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { showPart } from '../../testing/part';
import { NotificationBell } from './notification-bell';
import { SearchBox } from './search-box';
import { UserMenu } from './user-menu';

const said = (root: HTMLElement) => root.textContent.trim();

describe('finding anything', () => {
  const hit = (kind: string, title: string) => ({
    kind,
    id: `${kind}-${title}`,
    title,
    words: '',
  });
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

test('the bell opens what was told, each time it is pressed, and has the focus again; a line leads to what it is about', async () => {
  const part = await showPart(NotificationBell);
  const told = { id: 'n1', at: '2026-11-24T09:00:00.000Z', words: 'A new lead', path: '/deals/leads/1' };
  await part.answer('/api/notifications', { notifications: [{ ...told, isRead: false }], unread: 1 });
  const bell = part.button('1 new notifications');
  const lines = () =>
    [...document.querySelectorAll<HTMLElement>('[mat-menu-item]')].filter((line) =>
      said(line).includes('A new lead'),
    );
  for (let times = 0; times < 2; times += 1) {
    await part.click(bell);
    await part.pass(50);
    expect(lines()).toHaveLength(1);
    document.activeElement!.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', bubbles: true }));
    lines()[0]?.dispatchEvent(new KeyboardEvent('keydown', { keyCode: 27, key: 'Escape', bubbles: true }));
    await part.pass(50);
    expect([lines().length, document.activeElement]).toEqual([0, bell]);
  }
  part.asked('/api/notifications/read');
  await part.click(bell);
  await part.pass(50);
  const go = jest.spyOn(TestBed.inject(Router), 'navigateByUrl').mockResolvedValue(true);
  lines()[0]!.click();
  expect(go).toHaveBeenCalledWith('/deals/leads/1');
});

test('what stands behind the name opens by itself when it comes, and says what was chosen', async () => {
  const part = await showPart(UserMenu);
  await part.pass(20);
  const items = [...document.querySelectorAll<HTMLElement>('[mat-menu-item]')];
  expect(items.map(said)).toContain('Keys and words');
  const chosen: string[] = [];
  part.shown.keys.subscribe(() => chosen.push('keys'));
  items.find((item) => said(item) === 'Keys and words')!.click();
  expect(chosen).toEqual(['keys']);
});
