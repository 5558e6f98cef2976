import fc from 'fast-check';
import { addDays, addMonths } from '../time';
import { cohorts, retention, riskOf, together, type Customer, type ValueStep } from '.';

/*
 * The worked example: definitions as they are commonly given for recurring revenue (common practice, no source): gross retention counts losses
 * alone, net retention counts what the same customers took more of as well; new customers are in neither.
 * £100,000 a year at the start; one customer of £10,000 leaves, one goes from £20,000 to £15,000, one from £30,000 to £42,000, a new one brings
 * £8,000. Gross (100 - 10 - 5) / 100 = 85 %, net (100 - 10 - 5 + 12) / 100 = 97 %.
 */
const steps = (...pairs: [string, number][]): ValueStep[] =>
  pairs.map(([from, pounds]) => ({ from, yearlyMinor: pounds * 100 }));
const example: Customer[] = [
  { id: 'leaves', steps: steps(['2025-01-01', 10_000], ['2026-03-10', 0]) },
  { id: 'less', steps: steps(['2025-02-01', 20_000], ['2026-03-15', 15_000]) },
  { id: 'more', steps: steps(['2025-03-01', 30_000], ['2026-03-20', 42_000]) },
  { id: 'same', steps: steps(['2025-04-01', 40_000]) },
  { id: 'new', steps: steps(['2026-03-31', 8_000]) },
];

test('the worked example: 85 % gross, 97 % net', () => {
  const [march] = retention(example, '2026-03-01', 1);
  expect(march).toMatchObject({
    ...{ start: 10_000_000, new: 800_000, back: 0, expansion: 1_200_000 },
    ...{ contraction: 500_000, churn: 1_000_000, end: 10_500_000, gross: 0.85, net: 0.97 },
  });
  expect(march!.customers.map(({ customerId, kind }) => [customerId, kind])).toEqual([
    ['leaves', 'churn'],
    ['less', 'contraction'],
    ['more', 'expansion'],
    ['new', 'new'],
  ]);
});

test('a step on the first of a month is of that month, one on the last day too', () => {
  const one: Customer[] = [{ id: 'one', steps: steps(['2026-02-01', 10], ['2026-02-28', 20]) }];
  expect(retention(one, '2026-01-01', 3).map(({ end }) => end)).toEqual([0, 2_000, 2_000]);
});

test('whoever comes again after they had left is back, not new', () => {
  const one: Customer[] = [
    { id: 'one', steps: steps(['2025-01-01', 10], ['2025-06-01', 0], ['2026-01-10', 10]) },
  ];
  expect(retention(one, '2026-01-01', 1)[0]).toMatchObject({ new: 0, back: 1_000 });
});

test('who ends one agreement and begins another in the same month did not leave', () => {
  const customer = together([steps(['2025-01-01', 10], ['2026-01-31', 0]), steps(['2026-01-31', 12])]);
  expect(retention([{ id: 'one', steps: customer }], '2026-01-01', 1)[0]).toMatchObject({
    ...{ churn: 0, new: 0, expansion: 200 },
  });
});

test('customers by the month in which they began, with what they bring at the end of each month since', () => {
  const rows = cohorts(example, '2025-01-01', 15);
  expect(rows.map(({ month, customers }) => [month, customers])).toEqual([
    ['2025-01-01', 1],
    ['2025-02-01', 1],
    ['2025-03-01', 1],
    ['2025-04-01', 1],
    ['2026-03-01', 1],
  ]);
  expect(rows[0]!.values.at(-2)).toBe(1_000_000);
  expect(rows[0]!.values.at(-1)).toBe(0);
});

describe('whatever the customers', () => {
  const anySteps = fc
    .uniqueArray(
      fc.record({ day: fc.integer({ min: 0, max: 900 }), pence: fc.integer({ min: 0, max: 1e9 }) }),
      {
        selector: ({ day }) => day,
        maxLength: 8,
      },
    )
    .map((all) =>
      all
        .sort((one, other) => one.day - other.day)
        .map(({ day, pence }) => ({ from: addDays('2024-01-01', day), yearlyMinor: pence })),
    );
  const anyCustomers = fc
    .array(anySteps, { maxLength: 12 })
    .map((all) => all.map((each, at): Customer => ({ id: String(at), steps: each })));

  test('start + new + back + expansion - contraction - churn = end, to the penny, and each month begins where the last ended', () => {
    fc.assert(
      fc.property(anyCustomers, (customers) => {
        const months = retention(customers, '2024-01-01', 30);
        for (const [at, month] of months.entries()) {
          const next = addMonths(month.month, 1);
          const whole = customers.reduce(
            (sum, each) => sum + (each.steps.findLast(({ from }) => from < next)?.yearlyMinor ?? 0),
            0,
          );
          expect(month.end).toBe(whole);
          if (at > 0) expect(month.start).toBe(months[at - 1]!.end);
        }
      }),
    );
  });

  test('net is never below gross, and gross is between nothing and all', () => {
    fc.assert(
      fc.property(anyCustomers, (customers) => {
        for (const { gross, net } of retention(customers, '2024-01-01', 30)) {
          if (gross === null || net === null) continue;
          expect(net).toBeGreaterThanOrEqual(gross);
          expect(gross).toBeGreaterThanOrEqual(0);
          expect(gross).toBeLessThanOrEqual(1);
        }
      }),
    );
  });

  test('what agreements bring together is on each day the sum of what each brings', () => {
    fc.assert(
      fc.property(fc.array(anySteps, { maxLength: 5 }), fc.integer({ min: 0, max: 950 }), (all, at) => {
        const day = addDays('2024-01-01', at);
        const on = (one: readonly ValueStep[]) => one.findLast(({ from }) => from <= day)?.yearlyMinor ?? 0;
        expect(on(together(all))).toBe(all.reduce((sum, one) => sum + on(one), 0));
      }),
    );
  });
});

describe('the chance that a customer leaves', () => {
  const facts = {
    ...{ decided: 0, lost: 0, quietDays: 10, checkInDays: 30, unanswered: 0, complaints: 0 },
    ...{ termsBefore: 1, upliftPercent: 0, hasDecider: true, contractedBefore: false },
  };

  test('is that of the past while nothing is known, one of ten where there is no past', () => {
    expect(riskOf(facts)).toEqual({ chance: 0.1, base: 0.1, factors: [] });
    expect(riskOf({ ...facts, decided: 90, lost: 19 }).chance).toBeCloseTo(0.2, 10);
  });

  test('odds are multiplied: 1/9 times 2 is 2/9, which is 18 %', () => {
    expect(riskOf({ ...facts, quietDays: 60 })).toMatchObject({
      factors: [{ factor: 'quiet', times: 2 }],
      chance: expect.closeTo(2 / 11, 10),
    });
  });

  test('is what its parts make of it, between nothing and certain', () => {
    const anyFacts = fc.record({
      decided: fc.integer({ min: 0, max: 500 }),
      lost: fc.integer({ min: 0, max: 500 }),
      quietDays: fc.option(fc.integer({ min: 0, max: 2_000 })),
      checkInDays: fc.integer({ min: 1, max: 365 }),
      unanswered: fc.integer({ min: 0, max: 20 }),
      complaints: fc.integer({ min: 0, max: 5 }),
      termsBefore: fc.integer({ min: 0, max: 20 }),
      upliftPercent: fc.double({ min: -50, max: 100, noNaN: true }),
      hasDecider: fc.boolean(),
      contractedBefore: fc.boolean(),
    });
    fc.assert(
      fc.property(anyFacts, (drawn) => {
        const risk = riskOf({ ...drawn, lost: Math.min(drawn.lost, drawn.decided) });
        const odds = risk.factors.reduce(
          (product, { times }) => product * times,
          risk.base / (1 - risk.base),
        );
        expect(risk.chance).toBeCloseTo(odds / (1 + odds), 10);
        expect(risk.chance).toBeGreaterThan(0);
        expect(risk.chance).toBeLessThan(1);
      }),
    );
  });
});
