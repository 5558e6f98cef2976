import fc from 'fast-check';
import { countChanges, type ShownRow } from '.';

const rows = (text: string): ShownRow[] => [...text].map((key) => ({ key, words: '' }));

describe('what another reading would change on screen', () => {
  test.each([
    ['nothing', 'abcd', 'abcd', 0],
    ['one new', 'abcd', 'axbcd', 1],
    ['one gone', 'abcd', 'acd', 1],
    ['one moved up pushes the others down', 'abcd', 'dabc', 1],
    ['two changed places', 'abcd', 'bacd', 1],
    ['all turned round', 'abcd', 'dcba', 3],
    ['one for another', 'abcd', 'abcx', 2],
    ['the first rows there are', '', 'abc', 3],
  ])('%s', (_, before, after, expected) => {
    expect(countChanges(rows(before), rows(after))).toBe(expected);
  });

  test('a row that tells something else counts once, also when it moves', () => {
    const told = (key: string, words: string) => ({ key, words });
    expect(countChanges([told('a', '1'), told('b', '1')], [told('a', '2'), told('b', '1')])).toBe(1);
    expect(countChanges([told('a', '1'), told('b', '1')], [told('b', '1'), told('a', '2')])).toBe(1);
  });

  test('what slips over the end of a list that is cut there is no change', () => {
    expect(countChanges(rows('abcd'), rows('xabc'), { isCut: true })).toBe(1);
    expect(countChanges(rows('abcd'), rows('bcde'), { isCut: true })).toBe(1);
    expect(countChanges(rows('abcd'), rows('bcde'))).toBe(2);
  });

  test('counts as few rows as moved as would have to be taken in hand: checked against every subset', () => {
    const lists = fc.shuffledSubarray([...'abcdefg'], { minLength: 1, maxLength: 7 });
    fc.assert(
      fc.property(lists, (shuffled) => {
        const sorted = [...shuffled].sort();
        const asRows = (list: readonly string[]) => list.map((key) => ({ key, words: '' }));
        let longest = 0;
        for (let subset = 0; subset < 2 ** shuffled.length; subset += 1) {
          const run = shuffled.filter((_, at) => (subset >> at) & 1);
          if (run.every((key, at) => at === 0 || run[at - 1]! < key)) longest = Math.max(longest, run.length);
        }
        expect(countChanges(asRows(sorted), asRows(shuffled))).toBe(shuffled.length - longest);
      }),
    );
  });
});
