import { TestBed } from '@angular/core/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { sayMoney } from '@kettle/core/money';
import { sayDate } from '@kettle/core/time';
import { CurrentUser } from './current-user';

function userAt(now: string, weekdays?: readonly number[]): CurrentUser {
  TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
  const user = TestBed.inject(CurrentUser);
  const hours = weekdays === undefined ? undefined : { weekdays, start: 540, end: 1020 };
  user.enter({ person: { id: 'me', zone: 'Europe/London', hours }, now, currency: 'GBP' } as never);
  return user;
}

test.each([
  ['a Tuesday', '2026-11-24T09:10:00.000Z', undefined, '2026-11-25'],
  ['a Friday', '2026-11-27T09:10:00.000Z', undefined, '2026-11-30'],
  ['a Saturday', '2026-11-28T09:10:00.000Z', undefined, '2026-11-30'],
  ['a Friday of somebody who works Saturdays', '2026-11-27T09:10:00.000Z', [1, 2, 3, 4, 5, 6], '2026-11-28'],
  ['a Monday of somebody who works Mondays alone', '2026-11-23T09:10:00.000Z', [1], '2026-11-30'],
])('the working day after %s', (_, now, weekdays, next) => {
  expect(userAt(now, weekdays).nextWorkday()).toBe(next);
});

test('today is the date where the reader is, not where the server is', () => {
  const user = userAt('2026-06-30T23:30:00.000Z');
  expect([user.today(), user.timeOf('2026-06-30T23:30:00.000Z')]).toEqual(['2026-07-01', '00:30']);
  expect(user.minuteOf('2026-06-30T23:30:00.000Z')).toBe(30);
});

test('what is written is written as in the country of whoever is signed in', () => {
  const user = userAt('2026-11-24T15:05:00.000Z');
  const said = () => [user.timeOf(user.now()), sayDate('2026-11-27', user.today()), sayMoney(440_000, 'GBP')];
  expect(said()).toEqual(['15:05', 'Fri 27 Nov', '£4,400']);
  user.enter({ ...user.session()!, person: { ...user.person()!, country: 'US' } });
  expect(said().map((text) => text.replace('\u202f', ' '))).toEqual(['3:05 PM', 'Fri Nov 27', '£4,400']);
  user.enter({ ...user.session()!, person: { ...user.person()!, country: 'DE' } });
  expect(said().map((text) => text.replace('\u00a0', ' '))).toEqual(['15:05', 'Fri 27 Nov', '4.400 £']);
});

test('a public holiday is a day off, by its name, and nothing is proposed on it', () => {
  const user = userAt('2026-12-24T09:10:00.000Z');
  user.enter({ ...user.session()!, holidays: { '2026-12-25': 'Christmas Day', '2026-12-28': 'Boxing Day' } });
  expect(['2026-12-24', '2026-12-25', '2026-12-26'].map((day) => user.whyOff(day))).toEqual([
    null,
    'Christmas Day',
    'Saturday',
  ]);
  expect(user.nextWorkday()).toBe('2026-12-29');
});
