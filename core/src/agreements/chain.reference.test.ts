import fc from 'fast-check';
import { DateTime } from 'luxon';
import { addDays } from '../time';
import { firstTerm, rolledTerms, termAfter, type Chain } from '.';

/*
 * Terms are counted from the first start by months of the calendar, the last day of a shorter month standing for a day it does not have. Held
 * against the registry's luxon, which adds months the same way from a date (its manual: “date math”).
 */
test('each term ends where luxon says that so many months after the first start end', () => {
  const anyTerms = fc.array(fc.integer({ min: 1, max: 60 }), { minLength: 1, maxLength: 12 });
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 20_000 }), anyTerms, (day, lengths) => {
      const startsOn = addDays('2000-01-01', day);
      let chain: Chain = {
        terms: [firstTerm({ startsOn, termMonths: lengths[0]!, valueMinor: 1, renewsItself: true })],
        ...{
          changes: [],
          renewsItself: true,
          noticeDays: 0,
          leadDays: 0,
          uplift: { kind: 'none' },
          leavesOn: null,
        },
      };
      for (const months of lengths.slice(1))
        chain = { ...chain, terms: [...chain.terms, termAfter(chain, { months })] };
      let counted = 0;
      for (const term of chain.terms) {
        counted += term.months!;
        expect(term.endsOn).toBe(DateTime.fromISO(startsOn).plus({ months: counted }).toISODate());
      }
    }),
    { numRuns: 2_000 },
  );
});

test.each([
  ['2024-01-31', 1, ['2024-02-29', '2024-03-31', '2024-04-30']],
  ['2024-02-29', 12, ['2025-02-28', '2026-02-28', '2027-02-28', '2028-02-29']],
  ['2025-08-31', 6, ['2026-02-28', '2026-08-31', '2027-02-28']],
  ['2025-12-30', 2, ['2026-02-28', '2026-04-30', '2026-06-30']],
])('ends of months from %s, every %i months', (startsOn, termMonths, ends) => {
  const chain: Chain = {
    terms: [firstTerm({ startsOn, termMonths, valueMinor: 1, renewsItself: true })],
    ...{
      changes: [],
      renewsItself: true,
      noticeDays: 0,
      leadDays: 0,
      uplift: { kind: 'none' },
      leavesOn: null,
    },
  };
  const all = [...chain.terms, ...rolledTerms(chain, ends.at(-2)!)].map(({ endsOn }) => endsOn);
  expect(all.slice(0, ends.length)).toEqual(ends);
  expect(
    ends.every(
      (end, at) =>
        end ===
        DateTime.fromISO(startsOn)
          .plus({ months: termMonths * (at + 1) })
          .toISODate(),
    ),
  ).toBe(true);
});
