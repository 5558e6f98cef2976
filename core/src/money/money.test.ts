import { readMoney, sayMoney } from '.';

test.each([
  ['£4,400', 440_000],
  ['12.5k', 1_250_000],
  ['1 250', 125_000],
  ['0', 0],
  ['99.9', 9990],
  ['1.234', null],
  ['about ten', null],
  ['-5', null],
  ['', null],
])('%j is read as %j pence', (text, expected) => {
  expect(readMoney(text, 'GBP')).toBe(expected);
});

test('money is said without pence where they do not matter', () => {
  expect([sayMoney(40_900, 'GBP'), sayMoney(950, 'GBP'), sayMoney(900, 'GBP')]).toEqual([
    '£409',
    '£9.50',
    '£9',
  ]);
});
