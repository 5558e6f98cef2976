import { showPart } from '../../../testing/part';
import { SearchPage } from './search-page';

const id = (n: number) => `01900000-0000-7000-8000-00000000000${n}`;

test('search is a page: what is found leads to its own page, and nothing found says what to try', async () => {
  const part = await showPart(SearchPage);
  await part.type(part.field('Find anything'), 'maud');
  await part.pass(150);
  const hit = { kind: 'contact', id: id(1), title: 'Maud Ellery', words: 'Penrow Laundry' };
  await part.answer('/api/search', { hits: [hit] });
  expect(part.root.querySelector('a')!.getAttribute('href')).toBe(`/people/${id(1)}`);
  await part.type(part.field('Find anything'), 'zzz');
  await part.pass(150);
  await part.answer('/api/search', { hits: [] });
  expect(part.root.textContent).toContain('Nothing found');
});
