import { showPart } from '../../../testing/part';
import { TeamDay } from './team-day';

const count = (groups: object[] = [], found = 0) => ({ found, total: found, sums: {}, groups });
const group = (key: string | null, name: string, many: number) => ({ key, name, count: many, sums: {} });
const member = (id: string, name: string, part: object = {}) => ({
  ...{ id, name, away: null, done: 2, rows: 9, minutes: 300, freeMinutes: 240, overMinutes: 60 },
  ...{ late: 0, atRisk: 0, ...part },
});

async function show(people: object[], pool = 6) {
  const part = await showPart(TeamDay);
  await part.answer('/api/round/team', { people });
  await part.answer('/api/deals/count', count([group('c', 'Corin Vale', 3), group(null, 'nobody', 1)]));
  await part.answer('/api/leads/count', count([], pool));
  await part.settle();
  return part;
}
const team = [
  member('i', 'Imogen Thorne', { late: 31, atRisk: 1 }),
  member('c', 'Corin Vale', { overMinutes: 0, away: { until: '2026-11-27', standInName: 'Dara Finch' } }),
];
const said = (element: Element) => element.textContent.replace(/\s+/g, ' ').trim();

test('each of the team stands in it with what is to do, over, late, at risk and stalled', async () => {
  const { root } = await show(team);
  const rows = [...root.querySelectorAll('tbody tr')].map((row) => [...row.querySelectorAll('td')].map(said));
  expect(rows.filter((cells) => cells.length > 1)).toEqual([
    ['Imogen Thorne', '2', '9, 300 of 240 min', '60 min', '31', '1', '0'],
    ['Corin Valeaway until Fri 27 Nov, Dara Finch stands in', '2', '9, 300 of 240 min', '0', '0', '0', '3'],
  ]);
  expect(said(root)).toContain('In the pool, with nobody: 6 leads');
});

test('a name opens the Round, every number the records that it counts', async () => {
  const { root } = await show(team);
  const addressOf = (words: string) =>
    [...root.querySelectorAll('a')].find((each) => said(each) === words)!.getAttribute('href');
  expect(addressOf('Imogen Thorne')).toBe('/round?owner=i');
  expect(addressOf('31')).toBe('/round?owner=i&due=late');
  expect(decodeURIComponent(addressOf('3')!)).toBe(
    '/deals?as=list&owner=all&show=stalled&filter={"join":"all","rules":[{"field":"owner","ask":"is","value":"c"}]}',
  );
  expect(addressOf('6 leads')).toBe('/deals/leads?owner=unowned');
  expect(addressOf('tasks I gave to others')).toBe('/tasks?owner=given&state=all');
});

test('a manager of nobody, with no lead in the pool, has no team to look at', async () => {
  const { root } = await show([], 0);
  expect(root.querySelector('section')).toBeNull();
});
