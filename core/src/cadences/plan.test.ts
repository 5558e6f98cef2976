import type { CadenceStep, Channel } from '@kettle/contract';
import fc from 'fast-check';
import { calendarOf } from '../../testing/calendars';
import { addDays, isWorkingDay, localDate, localMinute, workingDaysBetween } from '../time';
import { plainStep } from './run';
import { nothingTaken, plan, type PlanSetting } from './plan';

const stepOf = (part: Partial<CadenceStep> = {}): CadenceStep => ({
  channel: 'call',
  offsetDays: 1,
  windowStart: 600,
  windowEnd: 720,
  minutes: 6,
  purpose: 'ask',
  ...plainStep,
  ...part,
});

const settingOf = (part: Partial<PlanSetting> = {}): PlanSetting => ({
  contact: { calendar: calendarOf(), doNotContact: new Set(), unreachable: new Set() },
  rep: calendarOf(),
  taken: nothingTaken,
  now: '2026-11-24T09:00:00.000Z',
  ...part,
});

const daysOf = (steps: CadenceStep[], setting = settingOf(), start = '2026-11-24') =>
  plan({ steps, answeredStep: null }, start, setting).map((moment) =>
    moment.kind === 'planned' ? moment.on : moment.reason,
  );

describe('planning a cadence', () => {
  test('offsets are working days from the step before', () => {
    expect(daysOf([stepOf({ offsetDays: 0 }), stepOf({ offsetDays: 3 }), stepOf({ offsetDays: 1 })])).toEqual(
      ['2026-11-24', '2026-11-27', '2026-11-30'],
    );
  });

  test('a step stands at its local hour, in the zone of the contact', () => {
    const lisbon = calendarOf({ zone: 'America/New_York', place: 'the States' });
    const [moment] = plan(
      { steps: [stepOf()], answeredStep: null },
      '2026-11-24',
      settingOf({ contact: { calendar: lisbon, doNotContact: new Set(), unreachable: new Set() } }),
    );
    expect(moment).toMatchObject({ on: '2026-11-25', at: '2026-11-25T15:00:00.000Z' });
  });

  test('a holiday of theirs moves the step and says why', () => {
    const theirs = calendarOf({ place: 'Portugal' }, ['2026-12-01', 'Restoration of Independence']);
    const [moment] = plan(
      { steps: [stepOf({ offsetDays: 5 })], answeredStep: null },
      '2026-11-24',
      settingOf({ contact: { calendar: theirs, doNotContact: new Set(), unreachable: new Set() } }),
    );
    expect(moment).toMatchObject({
      on: '2026-12-02',
      shifts: ['Tue 1 Dec does not count: Restoration of Independence, a public holiday in Portugal'],
    });
  });

  test('a holiday of ours moves it too', () => {
    const [moment] = plan(
      { steps: [stepOf()], answeredStep: null },
      '2026-11-24',
      settingOf({ rep: calendarOf({}, ['2026-11-25', 'the works outing']) }),
    );
    expect(moment).toMatchObject({
      on: '2026-11-26',
      shifts: ['not Wed 25 Nov: the works outing, a public holiday in Marrowdale on your side'],
    });
  });

  test('two touches to one person never fall on one day', () => {
    expect(daysOf([stepOf({ offsetDays: 0 }), stepOf({ offsetDays: 0 })])).toEqual([
      '2026-11-24',
      '2026-11-25',
    ]);
    expect(
      daysOf([stepOf()], settingOf({ taken: { ...nothingTaken, person: new Set(['2026-11-25']) } })),
    ).toEqual(['2026-11-26']);
  });

  test('a company gets no more touches a day than its limit', () => {
    const taken = { ...nothingTaken, company: new Map([['2026-11-25', 2]]), companyDailyLimit: 2 };
    expect(daysOf([stepOf()], settingOf({ taken }))).toEqual(['2026-11-26']);
  });

  test('a forbidden channel takes its fallback, else the step is skipped with its reason', () => {
    const contact = {
      calendar: calendarOf(),
      doNotContact: new Set<Channel>(['call']),
      unreachable: new Set<Channel>(['text']),
    };
    const [kept, skipped, noNumber] = plan(
      {
        steps: [stepOf({ fallbackChannel: 'email' }), stepOf(), stepOf({ fallbackChannel: 'text' })],
        answeredStep: null,
      },
      '2026-11-24',
      settingOf({ contact }),
    );
    expect(kept).toMatchObject({
      kind: 'planned',
      channel: 'email',
      shifts: ['marked do-not-contact by call: email instead'],
    });
    expect(skipped).toEqual({
      kind: 'skipped',
      step: 1,
      channel: 'call',
      reason: 'marked do-not-contact by call',
    });
    expect(noNumber).toMatchObject({ kind: 'skipped' });
  });

  test('inside the window it may happen now; after the window it waits for the next day', () => {
    const first = stepOf({ offsetDays: 0 });
    const [inside] = plan(
      { steps: [first], answeredStep: null },
      '2026-11-24',
      settingOf({ now: '2026-11-24T10:30:00.000Z' }),
    );
    expect(inside).toMatchObject({ on: '2026-11-24', at: '2026-11-24T10:30:00.000Z' });
    const [after] = plan(
      { steps: [first], answeredStep: null },
      '2026-11-24',
      settingOf({ now: '2026-11-24T12:00:00.000Z' }),
    );
    expect(after).toMatchObject({ on: '2026-11-25', at: '2026-11-25T10:00:00.000Z' });
  });

  describe('both sides’ hours', () => {
    const theirsIn = (zone: string) => ({
      contact: {
        calendar: calendarOf({ zone, place: zone }),
        doNotContact: new Set<Channel>(),
        unreachable: new Set<Channel>(),
      },
    });
    const wide = stepOf({ windowStart: 540, windowEnd: 1020 });
    const one = (step: CadenceStep, part: Partial<PlanSetting>) =>
      plan({ steps: [step], answeredStep: null }, '2026-11-24', settingOf(part))[0]!;

    test('a call waits in their window until the rep is at work by the rep’s own clock', () => {
      // 09:00 in Kolkata is 03:30 in London; the rep begins at 09:00.
      expect(one(wide, theirsIn('Asia/Kolkata'))).toMatchObject({
        on: '2026-11-25',
        at: '2026-11-25T09:00:00.000Z',
        shifts: [],
      });
      // What goes by itself goes when they begin.
      expect(
        one({ ...wide, mode: 'by-itself', templateIds: ['t' as never] }, theirsIn('Asia/Kolkata')),
      ).toMatchObject({
        at: '2026-11-25T03:30:00.000Z',
      });
    });

    test('the rep’s day is that of the moment in the rep’s zone', () => {
      const sunday = stepOf({ offsetDays: 4, mode: 'by-itself', windowStart: 540, windowEnd: 660 });
      const sydney = theirsIn('Australia/Sydney').contact;
      // Monday 09:00 in Sydney is Sunday in London: it goes on Tuesday.
      expect(one(sunday, { contact: sydney, now: '2026-11-25T00:00:00.000Z' })).toMatchObject({
        on: '2026-12-01',
        at: '2026-11-30T22:00:00.000Z',
        shifts: ['not Mon 30 Nov: a weekend on your side'],
      });
    });

    test('hours that never meet are theirs, and it is said what time it is for the rep', () => {
      const morning = stepOf({ windowStart: 540, windowEnd: 660 });
      const moment = one(morning, theirsIn('Australia/Sydney'));
      expect(moment).toMatchObject({ kind: 'planned', on: '2026-11-25' });
      expect(moment.kind === 'planned' && moment.shifts.at(-1)).toBe(
        'outside your hours: it is 22:00 for you',
      );
    });
  });

  test('a start in the past is planned from today on', () => {
    expect(daysOf([stepOf({ offsetDays: 0 })], settingOf(), '2026-11-02')).toEqual(['2026-11-24']);
  });

  test('planned moments are inside window and working day of both, apart, and never before their offset', () => {
    const steps = fc.array(
      fc.record({
        offsetDays: fc.integer({ min: 0, max: 9 }),
        windowStart: fc.integer({ min: 480, max: 900 }),
        length: fc.integer({ min: 30, max: 240 }),
      }),
      { minLength: 1, maxLength: 7 },
    );
    const offs = fc.array(fc.integer({ min: 0, max: 60 }), { maxLength: 8 });
    const zone = fc.constantFrom('Europe/Lisbon', 'Europe/Amsterdam', 'America/New_York', 'Asia/Kolkata');
    fc.assert(
      fc.property(
        steps,
        offs,
        offs,
        zone,
        fc.integer({ min: 0, max: 400 }),
        (drawn, theirOffs, ourOffs, place, ahead) => {
          const start = addDays('2026-01-05', ahead);
          const holiday = (off: number): [string, string] => [addDays(start, off), 'off'];
          const theirs = calendarOf({ zone: place }, ...theirOffs.map(holiday));
          const ours = calendarOf({}, ...ourOffs.map(holiday));
          const now = `${start}T06:00:00.000Z`;
          const moments = plan(
            {
              steps: drawn.map((step) =>
                stepOf({
                  offsetDays: step.offsetDays,
                  windowStart: step.windowStart,
                  windowEnd: step.windowStart + step.length,
                }),
              ),
              answeredStep: null,
            },
            start,
            settingOf({
              contact: { calendar: theirs, doNotContact: new Set(), unreachable: new Set() },
              rep: ours,
              now,
            }),
          );
          let before = start;
          moments.forEach((moment, index) => {
            if (moment.kind !== 'planned') throw new Error(moment.reason);
            const step = drawn[index]!;
            expect(isWorkingDay(moment.on, theirs) && isWorkingDay(moment.on, ours)).toBe(true);
            expect(localDate(moment.at, place)).toBe(moment.on);
            expect(localMinute(moment.at, place)).toBeGreaterThanOrEqual(step.windowStart);
            expect(localMinute(moment.at, place)).toBeLessThan(step.windowStart + step.length);
            expect(workingDaysBetween(before, moment.on, theirs)).toBeGreaterThanOrEqual(
              index === 0 ? 0 : step.offsetDays,
            );
            if (index > 0) expect(moment.on > before).toBe(true);
            before = moment.on;
          });
        },
      ),
    );
  });
});
