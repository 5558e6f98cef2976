import fc from 'fast-check';
import { calendarOf } from '../../testing/calendars';
import { beginningsIn, commonGaps, freeGaps, freeMinutesBefore, hoursOf, sumMinutes } from '.';

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

const gap = (from: string, to: string) => ({
  from: at(from),
  to: at(to),
  minutes: (Date.parse(at(to)) - Date.parse(at(from))) / 60_000,
});

test('what is free for all is what is free for each', () => {
  const common = commonGaps([[gap('09:00', '12:00')], [gap('10:00', '11:00'), gap('11:30', '13:00')]]);
  expect(common).toEqual([gap('10:00', '11:00'), gap('11:30', '12:00')]);
  expect(commonGaps([])).toEqual([]);
  expect(commonGaps([[gap('09:00', '10:00')], []])).toEqual([]);
});

test('a minute is common exactly when it is free for everybody', () => {
  const minute = (n: number) => new Date(Date.parse(hours.start) + n * 60_000).toISOString();
  // Gaps in order and apart, from lengths of what is taken and free in turn.
  const gaps = fc.array(fc.integer({ min: 1, max: 40 }), { maxLength: 8 }).map((lengths) => {
    let from = 0;
    return lengths.flatMap((length, index) => {
      from += length;
      return index % 2 === 0 ? [] : [{ from: minute(from - length), to: minute(from), minutes: length }];
    });
  });
  fc.assert(
    fc.property(fc.array(gaps, { minLength: 1, maxLength: 3 }), (people) => {
      const isIn = (all: readonly { from: string; to: string }[], moment: string) =>
        all.some(({ from, to }) => from <= moment && moment < to);
      const common = commonGaps(people);
      for (let n = 0; n < 200; n += 1)
        expect(isIn(common, minute(n))).toBe(people.every((each) => isIn(each, minute(n))));
    }),
    { numRuns: 60 },
  );
});

test('a beginning is at a quarter, with the way there before it and the way back within the gap', () => {
  const wanted = { minutes: 30, travelMinutes: 20, travelAfterMinutes: 10, most: 2 };
  expect(beginningsIn([gap('09:05', '10:30'), gap('11:00', '11:55'), gap('13:00', '15:00')], wanted)).toEqual(
    [at('09:30'), at('13:30')],
  );
});
