import { chanceOf, stalledDays, tetherStateOf, weightedMinor } from '.';

test.each([
  [null, 'loose'],
  ['2026-11-23', 'late'],
  ['2026-11-24', 'today'],
  ['2026-11-25', 'held'],
])('a next step on %s is %s', (on, state) => {
  expect(tetherStateOf(on, '2026-11-24')).toBe(state);
});

test('a deal is stalled the day after its patience ends', () => {
  expect(stalledDays('2026-11-10', 14, '2026-11-24')).toBe(0);
  expect(stalledDays('2026-11-09', 14, '2026-11-24')).toBe(1);
});

test('the deal’s own probability goes before the stage’s', () => {
  expect(weightedMinor(12_345, null, 0.5)).toBe(6173);
  expect(weightedMinor(12_345, 0, 0.5)).toBe(0);
  // What was decided is no chance any more.
  const thought = { own: 0.3, stage: 0.8 };
  const chances = (['open', 'parked', 'won', 'lost'] as const).map((status) =>
    chanceOf({ status, ...thought }),
  );
  expect(chances).toEqual([0.3, 0.3, 1, 0]);
});
