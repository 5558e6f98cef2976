import fc from 'fast-check';
import { clippedDays, sayTether, tetherMarks } from '.';

test('today stands in the middle on both sides', () => {
  expect(tetherMarks(0, 0)).toEqual({ lastTouch: 0.5, nextStep: 0.5, state: 'today' });
});

test('a late step hangs on the left, a held one on the right, none is loose', () => {
  expect(tetherMarks(3, -3)).toMatchObject({ state: 'late' });
  expect(tetherMarks(3, -3).nextStep).toBeCloseTo(tetherMarks(3, 3).lastTouch!);
  expect(tetherMarks(3, 3).nextStep).toBeGreaterThan(0.5);
  expect(tetherMarks(null, null)).toEqual({ lastTouch: null, nextStep: null, state: 'loose' });
});

test('longer ago stands further left, and stays on the strip', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 5000 }), fc.integer({ min: 1, max: 5000 }), (days, more) => {
      const near = tetherMarks(days, days);
      const far = tetherMarks(days + more, days + more);
      expect(far.lastTouch!).toBeLessThanOrEqual(near.lastTouch!);
      expect(far.nextStep!).toBeGreaterThanOrEqual(near.nextStep!);
      expect(far.lastTouch!).toBeGreaterThanOrEqual(-1e-9);
      if (days >= clippedDays) expect(far).toEqual(near);
    }),
  );
});

const words = {
  lastTouchOn: '2026-11-12',
  lastTouchBy: 'call',
  isConversation: true,
  nextStepOn: '2026-11-27',
  nextStepBy: 'call',
  today: '2026-11-24',
};
test.each([
  [words, 'last spoke 12 days ago by phone; next: call in 3 days'],
  [
    { ...words, isConversation: false, lastTouchBy: 'email' },
    'last tried 12 days ago by e-mail; next: call in 3 days',
  ],
  [
    { ...words, nextStepOn: '2026-11-22' },
    'last spoke 12 days ago by phone; next: call 2 days late, since Sun 22 Nov',
  ],
  [{ ...words, nextStepTime: '14:05' }, 'last spoke 12 days ago by phone; next: call in 3 days at 14:05'],
  [{ ...words, nextStepOn: null, lastTouchOn: null }, 'never touched; no next step'],
])('in words: %#', (given, expected) => {
  expect(sayTether(given)).toBe(expected);
});
