import {
  allColumns,
  clampWidth,
  readSort,
  sayColumns,
  saySort,
  shownColumns,
  sortedBy,
  usualColumns,
} from './grid-columns';

const custom = {
  id: '01900000-0000-7000-8000-000000000001' as never,
  subject: 'contact' as const,
  name: 'Boilers',
  type: 'number' as const,
  choices: [],
  isRetired: false,
  version: 1,
};
const all = allColumns([custom]);

test('the address names columns in their order, with widths that differ from the usual', () => {
  const text = `email:260,name,custom:${custom.id}:90`;
  const columns = shownColumns(text, all);
  expect(columns.map((column) => [column.name, column.width])).toEqual([
    ['e-mail', 260],
    ['name', 210],
    ['Boilers', 90],
  ]);
  expect(sayColumns(columns, all)).toBe(text);
});

test('the usual columns need no words, and what is unknown is left out', () => {
  expect(sayColumns(shownColumns(undefined, all), all)).toBeNull();
  expect(shownColumns('salary,name', all).map((column) => column.key)).toEqual(['name']);
  expect(
    shownColumns('salary', all)
      .map((column) => column.key)
      .join(),
  ).toBe(usualColumns);
});

test('widths stay within what can be read', () => {
  expect([clampWidth(5), clampWidth(90.4), clampWidth(9000)]).toEqual([60, 90, 600]);
});

test('a click sorts by one field, the same again turns it round, with shift it comes below the others', () => {
  const one = sortedBy(readSort(undefined), 'company', false);
  expect(saySort(one)).toBe('company');
  expect(saySort(sortedBy(one, 'company', false))).toBe('-company');
  const two = sortedBy(one, 'name', true);
  expect(saySort(two)).toBe('company,name');
  expect(saySort(sortedBy(two, 'company', true))).toBe('-company,name');
  expect(saySort(readSort('-last-touch,name'))).toBe('-last-touch,name');
});
