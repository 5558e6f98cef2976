import fc from 'fast-check';
import { openMention, proposeMentions } from './mentions';

const colleagues = [{ name: 'Corin Vale' }, { name: 'Dara Finch' }, { name: 'Rufus Dale' }];
const names = (before: string) => proposeMentions(before, colleagues).map(({ name }) => name);

test.each([
  ['@', ['Corin Vale', 'Dara Finch', 'Rufus Dale']],
  ['ask @co', ['Corin Vale']],
  ['ask @da', ['Dara Finch', 'Rufus Dale']],
  ['(@Corin V', ['Corin Vale']],
  ['@Corin Vale', []],
  ['@Corin Vale is', []],
  ['mail dara@firm', []],
  ['nobody named', []],
])('%j proposes %j', (before, expected) => {
  expect(names(before)).toEqual(expected);
});

test('naming somebody leaves what was written before, and their whole name with a blank', () => {
  expect(proposeMentions('please ask @co', colleagues)[0]).toMatchObject({
    text: 'please ask @Corin Vale ',
    typed: 2,
  });
});

test('whoever is named is named no more: the proposal is over', () => {
  fc.assert(
    fc.property(fc.string(), fc.constantFrom(...colleagues), ({ length }, { name }) => {
      expect(openMention(`${'x'.repeat(length)} @${name} and`)).not.toBe(name);
      expect(names(`${'x'.repeat(length)} @${name} `)).toEqual([]);
    }),
  );
});
