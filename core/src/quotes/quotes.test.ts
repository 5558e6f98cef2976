import fc from 'fast-check';
import { lineMinor } from '../deals';
import { counts, offeredTotals, sayNumber, type OfferedLine } from '.';

const anyLine: fc.Arbitrary<OfferedLine> = fc.record({
  quantity: fc.integer({ min: 1, max: 100_000 }).map((n) => n / 100),
  priceMinor: fc.integer({ min: 0, max: 5_000_000 }),
  discountPercent: fc.integer({ min: 0, max: 10_000 }).map((n) => n / 100),
  billing: fc.constantFrom('once' as const, 'yearly' as const),
  taxPercent: fc.constantFrom(0, 5, 7, 9, 13.5, 19, 20, 21, 23),
  isOptional: fc.boolean(),
  isChosen: fc.boolean(),
});

test('what is shown adds up, in whatever order lines are', () => {
  fc.assert(
    fc.property(fc.array(anyLine, { maxLength: 30 }), (lines) => {
      const found = offeredTotals(lines);
      expect(found.netMinor).toBe(lines.filter(counts).reduce((sum, line) => sum + lineMinor(line), 0));
      expect(found.totalMinor).toBe(found.netMinor + found.taxMinor);
      expect(found.taxMinor).toBe(found.taxes.reduce((sum, { taxMinor }) => sum + taxMinor, 0));
      expect(offeredTotals([...lines].reverse())).toEqual(found);
      for (const { netMinor, percent, taxMinor } of found.taxes)
        expect(Math.abs(taxMinor - (netMinor * percent) / 100)).toBeLessThanOrEqual(0.5 + 1e-6);
    }),
  );
});

test('an optional line is in no sum until it is chosen', () => {
  const line: OfferedLine = {
    ...{ quantity: 1, priceMinor: 1000, discountPercent: 0, billing: 'once', taxPercent: 20 },
    ...{ isOptional: true, isChosen: false },
  };
  expect(offeredTotals([line]).totalMinor).toBe(0);
  expect(offeredTotals([{ ...line, isChosen: true }]).totalMinor).toBe(1200);
});

test('numbers are of one length as long as there are few', () => {
  expect(sayNumber('Q', 7)).toBe('Q-0007');
  expect(sayNumber('Q', 12_345)).toBe('Q-12345');
});
