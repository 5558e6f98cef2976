import { showPart } from '../../../testing/part';
import { TeamDay } from './team-day';

const count = (groups: object[] = [], found = 0) => ({ found, total: found, sums: {}, groups });
const group = (key: string | null, name: string, count: number) => ({ key, name, count, sums: {} });

async function show(pool = 6) {
  const part = await showPart(TeamDay);
  for (const asked of part.server.match((request) => request.url === '/api/tasks/count')) {
    const isLate = asked.request.params.get('due') === 'late';
    asked.flush(
      isLate
        ? count([group('c', 'Corin Vale', 2), group('i', 'Imogen Thorne', 31)])
        : count([group('i', 'Imogen Thorne', 9), group('r', 'Rhys Calder', 4)]),
    );
  }
  await part.answer('/api/deals/count', count([group('c', 'Corin Vale', 3), group(null, 'nobody', 1)]));
  await part.answer('/api/leads/count', count([], pool));
  await part.settle();
  return part;
}

test('everyone who has something late, due or stalled stands in it, whoever has most late first', async () => {
  const { root } = await show();
  const rows = [...root.querySelectorAll('tbody tr')].map((row) =>
    [...row.querySelectorAll('td')].map((cell) => cell.textContent.trim()),
  );
  expect(rows.filter((cells) => cells.length > 1)).toEqual([
    ['Imogen Thorne', '31', '9', '0'],
    ['Corin Vale', '2', '0', '3'],
    ['Rhys Calder', '0', '4', '0'],
  ]);
  expect(root.textContent.replace(/\s+/g, ' ')).toContain('In the pool, with nobody: 6 leads');
});

test('every number opens the records that it counts', async () => {
  const { root } = await show();
  const addressOf = (words: string) =>
    [...root.querySelectorAll('a')].find((each) => each.textContent.trim() === words)!.getAttribute('href');
  expect(addressOf('31')).toBe('/tasks?owner=i&due=late');
  expect(addressOf('9')).toBe('/tasks?owner=i&due=today');
  expect(decodeURIComponent(addressOf('3')!)).toBe(
    '/deals?as=list&owner=all&show=stalled&filter={"join":"all","rules":[{"field":"owner","ask":"is","value":"c"}]}',
  );
  expect(addressOf('6 leads')).toBe('/deals/leads?owner=unowned');
});

test('a team that has nothing to do, and no lead in the pool, takes no room', async () => {
  const part = await showPart(TeamDay);
  for (const asked of part.server.match(() => true)) asked.flush(count());
  await part.settle();
  expect(part.root.querySelector('section')).toBeNull();
});
