import type { LeadStatus } from '@kettle/contract';
import fc from 'fast-check';
import { leadStatusAfter, leadWorth, ownerByRule, type Colleague } from '.';

const at = '2026-11-24T09:00:00.000Z';
const entry = (part: object = {}) => ({
  at: '2026-11-24T10:00:00.000Z',
  kind: 'call' as const,
  direction: 'out' as const,
  counts: 'attempt' as const,
  ...part,
});

describe('where a lead stands', () => {
  test.each([
    ['untried', [], 'untried'],
    ['untried', [entry()], 'trying'],
    ['untried', [entry({ at: '2026-11-24T08:59:59.000Z' })], 'untried'],
    ['untried', [entry({ kind: 'note', counts: 'none' })], 'untried'],
    ['untried', [entry({ direction: 'in', kind: 'email' })], 'in-talks'],
    ['untried', [entry({ direction: 'in', kind: 'email', counts: 'none' })], 'untried'],
    ['untried', [entry(), entry({ counts: 'conversation' })], 'in-talks'],
    ['in-talks', [entry()], 'in-talks'],
    ['qualified', [entry()], 'qualified'],
    ['set-aside', [entry({ counts: 'conversation' })], 'set-aside'],
  ] as const)('%s and then %j is %s', (status, entries, expected) => {
    expect(leadStatusAfter({ status, at }, entries)).toBe(expected);
  });

  test('what happens never takes it back, and its order does not matter', () => {
    const order: readonly LeadStatus[] = ['untried', 'trying', 'in-talks'];
    const some = fc.array(
      fc.record({
        at: fc
          .integer({ min: 0, max: 20 })
          .map((hour) => `2026-11-${hour < 10 ? 23 : 24}T${String(hour).padStart(2, '0')}:00:00.000Z`),
        kind: fc.constantFrom('call' as const, 'email' as const, 'note' as const),
        direction: fc.constantFrom('in' as const, 'out' as const),
        counts: fc.constantFrom('attempt' as const, 'conversation' as const, 'none' as const),
      }),
      { maxLength: 8 },
    );
    fc.assert(
      fc.property(fc.constantFrom(...order), some, (status, entries) => {
        const after = leadStatusAfter({ status, at }, entries);
        expect(order.indexOf(after)).toBeGreaterThanOrEqual(order.indexOf(status));
        expect(leadStatusAfter({ status, at }, [...entries].reverse())).toBe(after);
      }),
    );
  });
});

const colleague = (id: string, liveLeads = 0, lastGivenAt: string | null = null): Colleague => ({
  id,
  liveLeads,
  lastGivenAt,
});
const lead = { country: 'GB', postcode: 'MD4 2XY', city: 'Skell' };
const ids = (...names: string[]) => names as never[];

describe('whose a new lead is', () => {
  test('nobody’s from the pool, and nobody’s when those named have gone', () => {
    expect(ownerByRule({ kind: 'pool' }, lead, [colleague('a')])).toBeNull();
    expect(ownerByRule({ kind: 'load', userIds: ids('gone') }, lead, [])).toBeNull();
  });

  test('in turn, all get the same number, one apart at most', () => {
    const names = ['a', 'b', 'c'];
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 30 }), (count) => {
        const last = new Map<string, string>();
        const got: string[] = [];
        for (let n = 0; n < count; n += 1) {
          const colleagues = names.map((name) => colleague(name, 0, last.get(name) ?? null));
          const owner = ownerByRule({ kind: 'in-turn', userIds: ids(...names) }, lead, colleagues)!;
          last.set(owner, new Date(Date.UTC(2026, 0, 1, 0, n)).toISOString());
          got.push(owner);
        }
        const shares = names.map((name) => got.filter((each) => each === name).length);
        expect(Math.max(...shares) - Math.min(...shares)).toBeLessThanOrEqual(1);
      }),
    );
  });

  test('by load the one with the fewest, of equals the first named', () => {
    const rule = { kind: 'load' as const, userIds: ids('a', 'b', 'c') };
    expect(ownerByRule(rule, lead, [colleague('a', 3), colleague('b', 1), colleague('c', 1)])).toBe('b');
  });

  test.each([
    ['a postcode that begins so', { country: 'GB', places: ['md4'] }, 'north'],
    ['a town', { country: 'GB', places: ['SKELL'] }, 'north'],
    ['a whole country', { country: 'GB', places: [] }, 'north'],
    ['another country', { country: 'IE', places: [] }, null],
    ['another place', { country: 'GB', places: ['Ske', 'MD5'] }, null],
    ['an empty place', { country: 'GB', places: [' '] }, null],
  ])('by region: %s', (_, region, owner) => {
    const rule = {
      kind: 'region' as const,
      regions: [{ ...region, userId: 'north' as never }],
      otherwise: { kind: 'pool' as const },
    };
    expect(ownerByRule(rule, lead, [colleague('north')])).toBe(owner);
  });
});

describe('what a lead is worth', () => {
  const history = { qualified: 20, setAside: 20, won: 30, lost: 20, medianWonMinor: 100_000 };
  test('is median won × qualified of decided × won of closed', () => {
    expect(leadWorth(history)).toBe(100_000 * 0.5 * 0.6);
  });
  test.each([{ qualified: 9 }, { won: 9 }])('is not known before thirty are decided: %j', (part) => {
    expect(leadWorth({ ...history, ...part })).toBeNull();
  });
});
