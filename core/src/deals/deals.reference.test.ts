import fc from 'fast-check';
import { lineMinor, lineTotals, suggestPatience, totalsOf, weightedMinor, type StageStay } from '.';

/*
 * Freireich et al., Blood 21 (1963), 699-716: weeks of remission, as printed in textbooks of survival analysis (Cox and
 * Oakes 1984, table 1.1). A plus sign marks a case that was still in remission.
 */
const treated = '6 6 6 6+ 7 9+ 10 10+ 11+ 13 16 17+ 19+ 20+ 22 23 25+ 32+ 32+ 34+ 35+';
const placebo = '1 1 2 2 3 4 4 5 5 8 8 8 8 11 11 12 12 15 17 22 23';
const stays = (text: string): StageStay[] =>
  text.split(' ').map((word) => ({ days: parseInt(word, 10), wentOn: !word.endsWith('+') }));

describe('suggested patience is a quantile of the product-limit estimate', () => {
  test.each([
    // Medians as published: 23 weeks under treatment, 8 under placebo.
    [placebo, 0.5, 8],
    // 21 finished cases: the 80th percentile is the 17th in order, 12.
    [placebo, 0.8, 12],
    [placebo, 1, 23],
  ])('%s at %d is %d', (text, share, days) => {
    expect(suggestPatience(stays(text), share).days).toBe(days);
  });

  test('with nine finished cases it says nothing, with more the published median', () => {
    expect(suggestPatience(stays(treated), 0.5)).toEqual({ days: null, wentOn: 9, stillThere: 12 });
    // Every case twice leaves the estimate as it is and brings enough of them.
    expect(suggestPatience([...stays(treated), ...stays(treated)], 0.5).days).toBe(23);
    expect(suggestPatience([...stays(treated), ...stays(treated)]).days).toBeNull();
  });

  test('leaving out those still there makes it too short, never too long', () => {
    const some = fc.array(fc.record({ days: fc.integer({ min: 0, max: 90 }), wentOn: fc.boolean() }), {
      minLength: 10,
      maxLength: 60,
    });
    fc.assert(
      fc.property(some, (all) => {
        const whole = suggestPatience(all).days;
        const finished = suggestPatience(all.filter((stay) => stay.wentOn)).days;
        if (whole !== null && finished !== null) expect(finished).toBeLessThanOrEqual(whole);
      }),
    );
  });
});

/** The mean of what a handful of deals bring over every way they can end: counted out, not computed. */
function meanOfAllEnds(deals: readonly { amountMinor: number; probability: number }[]): number {
  let mean = 0;
  for (let ends = 0; ends < 2 ** deals.length; ends += 1) {
    let chance = 1;
    let brings = 0;
    deals.forEach(({ amountMinor, probability }, index) => {
      const isWon = (ends >> index) % 2 === 1;
      chance *= isWon ? probability : 1 - probability;
      if (isWon) brings += amountMinor;
    });
    mean += chance * brings;
  }
  return mean;
}

test('the weighted total is the mean over every way the deals can end, but for the rounding of each to a penny', () => {
  const deal = fc.record({
    amountMinor: fc.integer({ min: 0, max: 5_000_000 }),
    probability: fc.integer({ min: 0, max: 10_000 }).map((parts) => parts / 10_000),
  });
  fc.assert(
    fc.property(fc.array(deal, { maxLength: 9 }), (deals) => {
      const rows = deals.map(({ amountMinor, probability }) => ({
        homeMinor: amountMinor,
        weightedMinor: weightedMinor(amountMinor, probability, 0),
      }));
      const { weightedMinor: total } = totalsOf(
        rows.map((row, index) => ({
          ...row,
          id: String(index),
          stageId: 'a',
          expectedCloseOn: null,
          nextStepOn: null,
        })),
      );
      expect(Math.abs(total - meanOfAllEnds(deals))).toBeLessThanOrEqual(0.5 * deals.length + 1e-3);
    }),
  );
});

test.each([
  // 35 % of 90 is 31.5 in decimal, and less than that as a product of doubles. Arithmetic, no source needed.
  [90, 0.35, 32],
  [145, 0.3, 44],
  [1_000_000_000, 0.9999, 999_900_000],
  [1, 0.5, 1],
])('%d at %d weighs %d', (amountMinor, probability, weighed) => {
  expect(weightedMinor(amountMinor, null, probability)).toBe(weighed);
});

describe('product lines, against fractions counted in whole numbers', () => {
  const line = fc.record({
    quantity: fc.integer({ min: 1, max: 50_000 }).map((parts) => parts / 100),
    priceMinor: fc.integer({ min: 0, max: 2_000_000 }),
    discountPercent: fc.integer({ min: 0, max: 10_000 }).map((parts) => parts / 100),
    billing: fc.constantFrom('once' as const, 'yearly' as const),
  });

  test('a line is rounded once, half up', () => {
    fc.assert(
      fc.property(line, (each) => {
        const parts =
          BigInt(Math.round(each.quantity * 100)) *
          BigInt(each.priceMinor) *
          BigInt(10_000 - Math.round(each.discountPercent * 100));
        const halfUp = (parts * 2n + 1_000_000n) / 2_000_000n;
        expect(lineMinor(each)).toBe(Number(halfUp));
      }),
    );
  });

  test('the total is what the lines that are shown add up to', () => {
    fc.assert(
      fc.property(fc.array(line, { maxLength: 12 }), (lines) => {
        const { onceMinor, yearlyMinor, totalMinor } = lineTotals(lines);
        expect(onceMinor + yearlyMinor).toBe(totalMinor);
        expect(totalMinor).toBe(lines.reduce((sum, each) => sum + lineMinor(each), 0));
      }),
    );
  });
});
