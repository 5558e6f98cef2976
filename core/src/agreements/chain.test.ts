import fc from 'fast-check';
import { calendarOf } from '../../testing/calendars';
import { addDays, addMonths, isWorkingDay } from '../time';
import {
  chainOn,
  correctedTerms,
  firstTerm,
  noticeEffect,
  noticeOf,
  rolledTerms,
  termAfter,
  uplifted,
  valueSteps,
  yearlyOf,
  type Chain,
  type Uplift,
} from '.';

const none: Uplift = { kind: 'none' };
const chainOf = (
  part: Partial<Chain> & { startsOn?: string; termMonths?: number; valueMinor?: number } = {},
): Chain => {
  const { startsOn = '2026-03-01', termMonths = 12, valueMinor = 120_000, ...rest } = part;
  const renewsItself = rest.renewsItself ?? true;
  return {
    terms: [firstTerm({ startsOn, termMonths, valueMinor, renewsItself })],
    ...{ changes: [], renewsItself, noticeDays: 60, leadDays: 30, uplift: none, leavesOn: null },
    ...rest,
  };
};
const rolledTo = (chain: Chain, day: string): Chain => ({
  ...chain,
  terms: [...chain.terms, ...rolledTerms(chain, day)],
});

test('terms are anchored to the first start: 31 January gives 28 February, then 31 March', () => {
  const chain = rolledTo(chainOf({ startsOn: '2026-01-31', termMonths: 1 }), '2026-03-30');
  expect(chain.terms.map(({ endsOn }) => endsOn)).toEqual(['2026-02-28', '2026-03-31']);
});

test('a notice deadline on a weekend or holiday moves back, and the lead day with it', () => {
  // 2026-12-26 less 30 days is Thursday 26 November; a holiday there moves it to Wednesday.
  const calendar = calendarOf({}, ['2026-11-26', 'off']);
  expect(noticeOf('2026-12-26', { noticeDays: 30, leadDays: 5 }, calendar)).toEqual({
    noticeDeadlineOn: '2026-11-25',
    leadOn: '2026-11-20',
  });
});

test.each([
  ['a year', 120_000, 12, true, 120_000],
  ['three years', 360_000, 36, true, 120_000],
  ['two months that renew themselves', 50_000, 2, true, 300_000],
  ['two months that end by themselves bring what they bring', 50_000, 2, false, 50_000],
])('%s', (_, value, months, renews, yearly) => {
  expect(yearlyOf(value, months, renews)).toBe(yearly);
});

test('an uplift by percent, by amount, and never below nothing', () => {
  expect(uplifted(318_000, { kind: 'percent', hundredths: 350 })).toBe(329_130);
  expect(uplifted(318_000, { kind: 'amount', minor: 2_500 })).toBe(320_500);
  expect(uplifted(1_000, { kind: 'amount', minor: -2_500 })).toBe(0);
});

describe('what it is on a day', () => {
  const on = (chain: Chain, day: string) => chainOn(rolledTo(chain, day), day, calendarOf());

  test('ahead, running, over and ended', () => {
    const once = chainOf({ renewsItself: false });
    expect(on(once, '2026-02-28').state).toBe('ahead');
    expect(on(once, '2026-03-01').state).toBe('running');
    expect(on(once, '2027-02-28').state).toBe('running');
    expect(on(once, '2027-03-01')).toMatchObject({ state: 'over', decision: 'open', nextOn: null });
    expect(on(chainOf(), '2027-03-01')).toMatchObject({ state: 'running', term: { n: 1 } });
    const left = chainOf({ leavesOn: '2026-06-01' });
    expect(on(left, '2026-05-31')).toMatchObject({
      state: 'running',
      decision: 'leaving',
      nextOn: '2026-06-01',
    });
    expect(on(left, '2026-06-01')).toMatchObject({ state: 'ended', decision: 'leaving' });
  });

  test('a next term that is agreed on decides what follows', () => {
    const chain = chainOf();
    const renewed = { ...chain, terms: [...chain.terms, termAfter(chain)] };
    expect(on(renewed, '2026-06-01')).toMatchObject({ decision: 'renewed', term: { n: 0 } });
    expect(on(renewed, '2027-04-01')).toMatchObject({ decision: 'open', term: { n: 1, how: 'renewed' } });
  });

  test('a change holds from its day to the end of the term, and is what the next term starts from', () => {
    const chain = chainOf({
      changes: [{ on: '2026-06-01', valueMinor: 180_000 }],
      uplift: { kind: 'percent', hundredths: 1000 },
    });
    expect(on(chain, '2026-05-31')).toMatchObject({ valueMinor: 120_000, nextOn: '2026-06-01' });
    expect(on(chain, '2026-06-01')).toMatchObject({ valueMinor: 180_000, yearlyMinor: 180_000 });
    expect(on(chain, '2027-03-01').valueMinor).toBe(198_000);
  });
});

describe('a notice', () => {
  const chain = chainOf({ noticeDays: 60 });
  // 60 days before 1 March 2027 is Thursday 31 December.
  test.each([
    ['on the last day', '2026-12-31', true, { leavesOn: '2027-03-01', isLate: false }],
    ['a day late, where it renews itself', '2027-01-01', true, { leavesOn: '2028-03-01', isLate: true }],
    ['a day late, where it ends by itself', '2027-01-01', false, { leavesOn: '2027-03-01', isLate: false }],
  ])('%s', (_, day, renewsItself, effect) => {
    expect(noticeEffect({ ...chain, renewsItself }, day, calendarOf())).toEqual(effect);
  });
});

describe('several that come to one day', () => {
  const chain = chainOf({ startsOn: '2026-03-01', valueMinor: 365_000 });

  test('a stretched or cut term brings in proportion to its days, and the year stays what it was', () => {
    const cut = termAfter(chain, { until: '2027-06-09' });
    expect(cut).toMatchObject({
      startsOn: '2027-03-01',
      months: null,
      valueMinor: 100_000,
      yearlyMinor: 365_000,
    });
    const after = termAfter({ ...chain, terms: [...chain.terms, cut] });
    expect(after).toMatchObject({ startsOn: '2027-06-09', endsOn: '2028-06-09', valueMinor: 365_000 });
  });

  test('one that would end before it begins is refused', () => {
    expect(() => termAfter(chain, { until: '2027-03-01' })).toThrow(RangeError);
  });
});

test('a longer next term brings in proportion, unless another value is said', () => {
  expect(termAfter(chainOf(), { months: 24 })).toMatchObject({ valueMinor: 240_000, yearlyMinor: 120_000 });
  expect(termAfter(chainOf(), { months: 24, valueMinor: 200_000 })).toMatchObject({ yearlyMinor: 100_000 });
});

test('a corrected beginning or length moves every term after it', () => {
  const chain = rolledTo(chainOf({ startsOn: '2025-01-31', termMonths: 1 }), '2025-03-15');
  const moved = correctedTerms(chain, { n: 0, startsOn: '2025-01-15' });
  expect(moved.map(({ endsOn }) => endsOn)).toEqual([
    '2025-02-15',
    '2025-03-15',
    ...(moved.length > 2 ? ['2025-04-15'] : []),
  ]);
  const longer = correctedTerms(rolledTo(chainOf(), '2027-06-01'), { n: 0, months: 24, valueMinor: 1 });
  expect(longer.map(({ startsOn, valueMinor }) => [startsOn, valueMinor])).toEqual([
    ['2026-03-01', 1],
    ['2028-03-01', 120_000],
  ]);
});

test('the yearly value over time', () => {
  const chain = chainOf({
    valueMinor: 100_000,
    changes: [{ on: '2026-06-01', valueMinor: 150_000 }],
    leavesOn: '2026-09-01',
  });
  expect(valueSteps(chain)).toEqual([
    { from: '2026-03-01', yearlyMinor: 100_000 },
    { from: '2026-06-01', yearlyMinor: 150_000 },
    { from: '2026-09-01', yearlyMinor: 0 },
  ]);
  expect(valueSteps(chainOf({ renewsItself: false })).at(-1)).toEqual({ from: '2027-03-01', yearlyMinor: 0 });
  expect(valueSteps(chainOf({ leavesOn: '2026-01-01' }))).toEqual([]);
});

describe('whatever the agreement', () => {
  const anyDay = fc.integer({ min: 0, max: 3_700 }).map((days) => addDays('2020-01-01', days));
  const anyUplift: fc.Arbitrary<Uplift> = fc.oneof(
    fc.constant(none),
    fc.integer({ min: -2_000, max: 2_000 }).map((hundredths) => ({ kind: 'percent' as const, hundredths })),
    fc.integer({ min: -50_000, max: 50_000 }).map((minor) => ({ kind: 'amount' as const, minor })),
  );
  const anyChain = fc
    .record({
      startsOn: anyDay,
      termMonths: fc.integer({ min: 1, max: 36 }),
      valueMinor: fc.integer({ min: 0, max: 10_000_000 }),
      renewsItself: fc.boolean(),
      noticeDays: fc.integer({ min: 0, max: 120 }),
      leadDays: fc.integer({ min: 0, max: 90 }),
      uplift: anyUplift,
      leaves: fc.option(fc.integer({ min: 1, max: 4_000 })),
    })
    .map(({ leaves, ...rest }) =>
      chainOf({ ...rest, leavesOn: leaves === null ? null : addDays(rest.startsOn, leaves) }),
    );

  test('terms follow each other without a gap, each counted from the first start', () => {
    fc.assert(
      fc.property(anyChain, anyDay, (chain, day) => {
        const { terms } = rolledTo(chain, day);
        for (const [at, term] of terms.entries()) {
          expect(term.n).toBe(at);
          if (at > 0) expect(term.startsOn).toBe(terms[at - 1]!.endsOn);
          expect(term.endsOn).toBe(addMonths(terms[0]!.startsOn, terms[0]!.months! * (at + 1)));
        }
      }),
    );
  });

  test('one that renews itself and that nobody ended runs on every day from its start, for ever', () => {
    fc.assert(
      fc.property(anyChain, anyDay, (chain, day) => {
        const held = { ...chain, renewsItself: true, leavesOn: null };
        const state = chainOn(rolledTo(held, day), day, calendarOf()).state;
        expect(state).toBe(day < held.terms[0]!.startsOn ? 'ahead' : 'running');
      }),
    );
  });

  test('rolling day by day and rolling at once come to the same', () => {
    fc.assert(
      fc.property(anyChain, fc.array(anyDay, { minLength: 1, maxLength: 6 }), (chain, days) => {
        const inOrder = [...days].sort();
        const stepwise = inOrder.reduce(rolledTo, chain);
        expect(stepwise).toEqual(rolledTo(chain, inOrder.at(-1)!));
      }),
    );
  });

  test('the notice deadline is a working day, never after the days of notice; the lead day is before it', () => {
    fc.assert(
      fc.property(anyChain, anyDay, (chain, day) => {
        const at = chainOn(rolledTo(chain, day), day, calendarOf());
        expect(isWorkingDay(at.noticeDeadlineOn, calendarOf())).toBe(true);
        expect(at.noticeDeadlineOn <= addDays(at.term.endsOn, -chain.noticeDays)).toBe(true);
        expect(at.leadOn).toBe(addDays(at.noticeDeadlineOn, -chain.leadDays));
      }),
    );
  });

  test('nothing of it changes before the next day on which something does', () => {
    fc.assert(
      fc.property(anyChain, anyDay, (chain, day) => {
        const at = chainOn(rolledTo(chain, day), day, calendarOf());
        const last = at.nextOn === null ? addDays(day, 400) : addDays(at.nextOn, -1);
        const later = chainOn(rolledTo(chain, last), last, calendarOf());
        expect({ ...later, nextOn: at.nextOn }).toEqual(at);
      }),
    );
  });

  test('on each day the yearly value is that of its step', () => {
    fc.assert(
      fc.property(anyChain, anyDay, (chain, day) => {
        const rolled = rolledTo(chain, day);
        const at = chainOn(rolled, day, calendarOf());
        const step = valueSteps(rolled).findLast(({ from }) => from <= day);
        expect(step?.yearlyMinor ?? 0).toBe(at.state === 'running' ? at.yearlyMinor : 0);
      }),
    );
  });
});
