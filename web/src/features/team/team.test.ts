import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { anEntry, showPart } from '../../../testing/part';
import { QuotaDialog, type QuotaAsked } from './quota-dialog';
import { QuotasPanel } from './quotas-panel';
import { RankingPanel } from './ranking-panel';
import { TeamLog } from './team-log';
import { TeamPage } from './team-page';

const said = (root: Element) => root.textContent.replace(/\s+/g, ' ').trim();
const address = () => new URL(TestBed.inject(Router).url, 'http://kettle.test').searchParams;
const id = (n: number) => `00000000-0000-7000-8000-00000000000${n}`;

test('the place shows the log first; ranking and quotas are in the address', async () => {
  const part = await showPart(TeamPage, {});
  expect(part.asked('/api/team-log')).toBeTruthy();
  await part.click(part.button('Ranking'));
  await part.pass(0);
  expect(address().get('part')).toBe('ranking');
});

describe('the log', () => {
  const entry = (n: number) => anEntry({ id: id(n) as never, body: `entry ${n}`, userId: id(9) as never });
  const bodies = (root: Element) => [...root.querySelectorAll('.body')].map(said);

  test('page after page, with links to whom it is about', async () => {
    const part = await showPart(TeamLog, {});
    const about = { contactId: id(5) as never, contactName: 'Maud Ellery' };
    const entries = [{ ...entry(1), ...about }, entry(2)];
    await part.answer('/api/team-log', { entries, before: 'place' });
    expect(part.root.querySelector<HTMLAnchorElement>('li a')!.getAttribute('href')).toBe(`/people/${id(5)}`);
    await part.click(part.button('Earlier ones'));
    const more = part.asked('/api/team-log');
    expect(more.request.params.get('before')).toBe('place');
    more.flush({ entries: [entry(3)], before: null });
    await part.settle();
    expect(bodies(part.root)).toEqual(['entry 1', 'entry 2', 'entry 3']);
    expect(() => part.button('Earlier ones')).toThrow();
  });

  test('by kind and person; what a filter leaves empty says so and can be shown whole', async () => {
    const part = await showPart(TeamLog, { inputs: { kinds: 'visit' } });
    const { request } = await part.answer('/api/team-log', { entries: [], before: null });
    expect(request.params.get('kinds')).toBe('visit');
    expect(said(part.root)).toContain('Nothing of that was logged');
    await part.click(part.button('Show everything'));
    await part.pass(0);
    expect(address().get('kinds')).toBeNull();
  });

  test('thanks for what a colleague did, with an undo; none for one’s own', async () => {
    const part = await showPart(TeamLog, {});
    const mine = anEntry({ id: id(2) as never, userId: 'me' as never });
    await part.answer('/api/team-log', { entries: [entry(1), mine], before: null });
    const menus = [...part.root.querySelectorAll<HTMLButtonElement>('[aria-label^="Acts on"]')];
    const items = () => [...document.querySelectorAll<HTMLButtonElement>('[role=menuitem]')];
    await part.click(menus[1]!);
    expect(items().map(said)).not.toContain('thank');
    document.querySelector<HTMLElement>('.cdk-overlay-backdrop')?.click();
    await part.settle();
    await part.click(menus[0]!);
    await part.click(items().find((each) => said(each) === 'thank')!);
    const asked = part.asked(`/api/journal/${id(1)}/thanks`);
    expect(asked.request.body).toEqual({ isGiven: true });
    asked.flush({ ok: true });
    await part.settle();
    const thanks = [{ userId: 'me', userName: 'Imogen Thorne' }];
    await part.answer('/api/team-log', { entries: [{ ...entry(1), thanks }, mine], before: null });
    expect(said(part.root)).toContain('thanked by Imogen Thorne');
    expect(await part.undoOf(asked)).toBeTruthy();
  });
});

test('the ranking says places, numbers and those of the period before, and what is counted', async () => {
  const part = await showPart(RankingPanel, {});
  const asked = part.asked('/api/team-log/ranking');
  expect([asked.request.params.get('from'), asked.request.params.get('to')]).toEqual([
    ...['2026-11-01', '2026-11-24'],
  ]);
  const before = { touches: 30, conversations: 10, meetings: 2, won: 0, wonMinor: 0 };
  asked.flush({
    ...{ from: '2026-11-01', to: '2026-11-24', before: { from: '2026-10-08', to: '2026-10-31' } },
    people: [
      {
        ...{ userId: id(1), name: 'Dara Finch', touches: 40, conversations: 12, meetings: 3 },
        ...{ won: 1, wonMinor: 980_000, before },
      },
    ],
  });
  await part.settle();
  expect(said(part.root.querySelector('tbody tr')!)).toBe('1Dara Finch 40 30 12 10 3 2 1 0 £9,800 £0');
  expect(said(part.root)).toContain('what it was from Thu 8 Oct to Sat 31 Oct');
  expect(said(part.root)).toContain('not what a cadence sent by itself');
  await part.click(part.button('this quarter'));
  await part.pass(0);
  expect(address().get('from')).toBe('2026-10-01');
});

describe('quotas', () => {
  const months = Array.from({ length: 12 }, (_, n) => `2026-${String(n + 1).padStart(2, '0')}-01`);
  const row = (part: object = {}) => ({
    ...{ userId: id(1), name: 'Dara Finch', isTeam: false, mayChange: true, ofPeople: null },
    amounts: months.map((_, n) => ({ minor: n < 5 ? null : 2_000_000, isSetHere: n === 5 })),
    ...part,
  });

  test('a year by month: set ones, those that hold on, and what the people of a team come to', async () => {
    const part = await showPart(QuotasPanel, { role: 'manager' });
    const team = { isTeam: true, name: 'Corin Vale', ofPeople: months.map(() => 4_000_000) };
    await part.answer('/api/quotas', { months, rows: [row(team), row()] });
    const [first, second] = [...part.root.querySelectorAll('tbody tr')];
    expect(said(first!)).toContain('Team of Corin Vale — £40,000');
    const cells = [...second!.querySelectorAll('button')];
    expect(cells.map(said).slice(4, 7)).toEqual(['—', '£20,000', '£20,000']);
    expect(cells.map((each) => each.className.includes('carried')).slice(4, 7)).toEqual([true, false, true]);
    expect(cells[5]!.getAttribute('aria-label')).toBe('Jun: £20,000, change it');
    await part.click(part.button('The year after'));
    await part.pass(0);
    expect(address().get('year')).toBe('2027');
  });

  test('a rep reads their own and changes none', async () => {
    const part = await showPart(QuotasPanel, {});
    await part.answer('/api/quotas', { months, rows: [row({ mayChange: false })] });
    expect(part.root.querySelectorAll('tbody button')).toHaveLength(0);
    expect(said(part.root)).toContain('Whoever leads you sets yours.');
  });

  test('the dialog sends what was typed, once, and keeps it when it is refused', async () => {
    const data: QuotaAsked = {
      ...{
        userId: id(1) as never,
        isTeam: false,
        whose: 'Dara Finch',
        month: '2026-12-01',
        minor: 2_000_000,
      },
    };
    const part = await showPart(QuotaDialog, { data, role: 'manager' });
    expect(said(part.root)).toContain('Quota of Dara Finch in December 2026');
    await part.type(part.field('Quota a month (empty: none)'), 'a lot');
    await part.click(part.button('Set it'));
    part.server.expectNone('/api/quotas');
    await part.type(part.field('Quota a month (empty: none)'), '25,000');
    await part.choose('It holds', 'in this month alone');
    await part.click(part.button('Set it'));
    const { request } = await part.answer('/api/quotas', { ok: true });
    expect(request.body).toEqual({
      ...{ userId: id(1), isTeam: false, month: '2026-12-01', minor: 2_500_000, holds: 'month' },
    });
    expect(part.closedWith).toHaveLength(1);
  });
});
