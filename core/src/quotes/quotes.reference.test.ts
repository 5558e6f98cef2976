import { offeredTotals, type OfferedLine } from '.';

/**
 * The arithmetic rules of EN 16931-1 (BR-CO-10, 13, 14, 15, 17), the rules and their numbers from memory: the standard's text was not at hand.
 * The two rates are those of the worked case in which tax by rate and tax by line differ by a cent: 12.09 and 12.10.
 */
const line = (priceMinor: number, taxPercent: number, part: Partial<OfferedLine> = {}): OfferedLine => ({
  ...{
    quantity: 1,
    priceMinor,
    discountPercent: 0,
    billing: 'once',
    taxPercent,
    isOptional: false,
    isChosen: false,
  },
  ...part,
});

test('BR-CO-17: tax is that of a rate’s sum, rounded once; by line it would be a cent more', () => {
  const lines = [line(1235, 7), line(1235, 7), line(2721, 19), line(2721, 19)];
  const found = offeredTotals(lines);
  expect(found.taxes).toEqual([
    { percent: 19, netMinor: 5442, taxMinor: 1034 },
    { percent: 7, netMinor: 2470, taxMinor: 173 },
  ]);
  const byLine = lines.reduce((sum, each) => sum + Math.round((each.priceMinor * each.taxPercent) / 100), 0);
  expect([found.taxMinor, byLine]).toEqual([1207, 1206]);
});

test('BR-CO-10, 13, 14 and 15: sums are those of the rounded parts', () => {
  const { netMinor, taxes, taxMinor, totalMinor } = offeredTotals([
    line(333, 20, { quantity: 3, discountPercent: 10 }),
    line(1005, 20),
    line(99, 0, { quantity: 2.5 }),
  ]);
  // 899.1 → 899; 1005; 247.5 → 248.
  expect(netMinor).toBe(899 + 1005 + 248);
  expect(taxes.reduce((sum, tax) => sum + tax.netMinor, 0)).toBe(netMinor);
  expect(taxes.reduce((sum, tax) => sum + tax.taxMinor, 0)).toBe(taxMinor);
  expect(totalMinor).toBe(netMinor + taxMinor);
});

test('a half is rounded away from zero, where binary fractions would round it down', () => {
  // 1.005 of 100: a plain Math.round gives 100.
  expect(offeredTotals([line(10_050, 1)]).taxMinor).toBe(101);
  expect(Math.round(1.005 * 100)).toBe(100);
});
