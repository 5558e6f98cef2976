import fc from 'fast-check';
import { daysBetween, localDate } from '../time';
import { chanceOf, stalledBefore, stalledDays, tetherStateOf, weightedMinor } from '.';

test.each([
  [null, 'loose'],
  ['2026-11-23', 'late'],
  ['2026-11-24', 'today'],
  ['2026-11-25', 'held'],
])('a next step on %s is %s', (on, state) => {
  expect(tetherStateOf(on, '2026-11-24')).toBe(state);
});

const patience = { patienceDays: 14, ownerZone: 'Europe/London' };

test('a deal is stalled the day after its patience ends', () => {
  const now = '2026-11-24T09:00:00.000Z';
  expect(stalledDays({ ...patience, movedAt: '2026-11-10T00:10:00.000Z' }, now)).toBe(0);
  expect(stalledDays({ ...patience, movedAt: '2026-11-09T23:50:00.000Z' }, now)).toBe(1);
});

test.each(['Pacific/Auckland', 'America/Los_Angeles', 'Europe/London', 'Asia/Kathmandu'])(
  'it is so by the days of its owner in %s, also over a change of the clocks, and by both ways of asking',
  (ownerZone) => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 400 * 24 * 60 }),
        fc.integer({ min: 0, max: 60 * 24 * 60 }),
        fc.integer({ min: 1, max: 60 }),
        (movedMinutes, later, patienceDays) => {
          const at = (minutes: number) => new Date(Date.UTC(2026, 0, 1, 0, minutes)).toISOString();
          const [movedAt, now] = [at(movedMinutes), at(movedMinutes + later)];
          const days = stalledDays({ movedAt, patienceDays, ownerZone }, now);
          expect(days).toBe(
            daysBetween(localDate(movedAt, ownerZone), localDate(now, ownerZone)) - patienceDays,
          );
          expect(movedAt < stalledBefore({ patienceDays, ownerZone }, now)).toBe(days > 0);
        },
      ),
    );
  },
);

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
