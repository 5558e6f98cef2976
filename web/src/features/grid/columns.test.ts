import type { ContactRow } from '@kettle/contract';
import { gridFields } from '@kettle/contract/grids/people';
import { leadGridFields } from '@kettle/contract/grids/leads';
import { clampWidth, columnsOf, readSort, sayColumns, saySort, shownColumns, sortedBy } from './columns';

const usual = 'name,company,last-touch';
const custom = {
  id: '01900000-0000-7000-8000-000000000001' as never,
  subject: 'contact' as const,
  name: 'Boilers',
  type: 'number' as const,
  choices: [],
  isRetired: false,
  version: 1,
};
const all = columnsOf<ContactRow>(gridFields, [custom]);

test('the address names columns in their order, with widths that differ from the usual', () => {
  const text = `email:260,name,custom:${custom.id}:90`;
  const columns = shownColumns(text, all, usual);
  expect(columns.map((column) => [column.name, column.width])).toEqual([
    ['e-mail', 260],
    ['name', 210],
    ['Boilers', 90],
  ]);
  expect(sayColumns(columns, all, usual)).toBe(text);
});

test('the usual columns need no words, and what is unknown is left out', () => {
  expect(sayColumns(shownColumns(undefined, all, usual), all, usual)).toBeNull();
  expect(shownColumns('salary,name', all, usual).map((column) => column.key)).toEqual(['name']);
  expect(
    shownColumns('salary', all, usual)
      .map((column) => column.key)
      .join(),
  ).toBe(usual);
});

test('widths stay within what can be read', () => {
  expect([clampWidth(5), clampWidth(90.4), clampWidth(9000)]).toEqual([60, 90, 600]);
});

test('what is one of a few goes by its name', () => {
  const status = columnsOf(leadGridFields, []).find(({ key }) => key === 'status');
  expect(status?.options).toContainEqual({ value: 'set-aside', name: 'set aside' });
  const stages = [{ value: 'a', name: 'Talks' }];
  expect(columnsOf(leadGridFields, [], { status: stages }).find(({ key }) => key === 'status')?.options).toBe(
    stages,
  );
});

test('a click sorts by one field, the same again turns it round, with shift it comes below the others', () => {
  const one = sortedBy(readSort('name'), 'company', false);
  expect(saySort(one, 'name')).toBe('company');
  expect(saySort(sortedBy(one, 'company', false), 'name')).toBe('-company');
  const two = sortedBy(one, 'name', true);
  expect(saySort(two, 'name')).toBe('company,name');
  expect(saySort(sortedBy(two, 'company', true), 'name')).toBe('-company,name');
  expect(saySort(readSort('-last-touch,name'), 'name')).toBe('-last-touch,name');
  expect(saySort(readSort('name'), 'name')).toBeNull();
});
