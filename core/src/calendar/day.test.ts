import fc from 'fast-check';
import { calendarOf } from '../../testing/calendars';
import { freeGaps, freeMinutesBefore, hoursOf, sumMinutes } from '.';

const at = (time: string) => `2026-11-24T${time}:00.000Z`;
const hours = { start: at('09:00'), end: at('17:30') };
const block = (from: string, to: string, travelMinutes = 0, travelAfterMinutes = 0) => ({
  startsAt: at(from),
  endsAt: at(to),
  travelMinutes,
  travelAfterMinutes,
});

test('gaps lie between meetings, with the way taken before and after them', () => {
  const gaps = freeGaps(hours, [block('13:00', '14:00', 20, 15), block('09:30', '10:00')], at('09:10'));
  expect(gaps.map((gap) => gap.minutes)).toEqual([20, 160, 195]);
});

test('overlapping meetings count once, and what lies outside the hours not at all', () => {
  expect(
    sumMinutes(
      freeGaps(
        hours,
        [block('08:00', '10:00'), block('09:30', '11:00'), block('17:00', '19:00')],
        at('06:00'),
      ),
    ),
  ).toBe(360);
});

test('nothing is free after the day has ended or on a day off', () => {
  expect(freeGaps(hours, [], at('18:00'))).toEqual([]);
  expect(hoursOf('2026-11-28', calendarOf())).toBeNull();
  expect(hoursOf('2026-11-24', calendarOf())).toEqual(hours);
});

test('free minutes before a promise are counted along the gaps', () => {
  const gaps = freeGaps(hours, [block('09:30', '10:00')], at('09:10'));
  expect(freeMinutesBefore(gaps, at('10:15'))).toBe(35);
  expect(freeMinutesBefore(gaps, at('09:00'))).toBe(0);
});

test('free and taken minutes add up to the day', () => {
  const meeting = fc.tuple(fc.integer({ min: 0, max: 500 }), fc.integer({ min: 1, max: 90 }));
  fc.assert(
    fc.property(fc.array(meeting, { maxLength: 8 }), (meetings) => {
      const minute = (n: number) => new Date(Date.parse(hours.start) + n * 60_000).toISOString();
      const blocks = meetings.map(([from, length]) => ({
        startsAt: minute(from),
        endsAt: minute(from + length),
        travelMinutes: 0,
        travelAfterMinutes: 0,
      }));
      const taken = new Set(
        meetings.flatMap(([from, length]) =>
          Array.from({ length }, (_, n) => from + n).filter((n) => n < 510),
        ),
      );
      expect(sumMinutes(freeGaps(hours, blocks, hours.start))).toBe(510 - taken.size);
    }),
  );
});
