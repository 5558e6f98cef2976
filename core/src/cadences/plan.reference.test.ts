import type { CadenceStep } from '@kettle/contract';
import { calendarOf } from '../../testing/calendars';
import { nothingTaken, plan } from './plan';
import { plainStep } from './run';

/**
 * A step at ten in the morning on the last working day before a clock change and on the first after it. Offsets from UTC
 * as the IANA time zone database has them for 2026 (europe, northamerica, australasia, africa); values from memory.
 */
const changes = [
  // Europe goes back on Sunday 25 October at 01:00 UTC.
  ['Europe/London', '2026-10-23', '2026-10-23T09:00:00.000Z', '2026-10-26', '2026-10-26T10:00:00.000Z'],
  ['Europe/Lisbon', '2026-10-23', '2026-10-23T09:00:00.000Z', '2026-10-26', '2026-10-26T10:00:00.000Z'],
  ['Europe/Amsterdam', '2026-10-23', '2026-10-23T08:00:00.000Z', '2026-10-26', '2026-10-26T09:00:00.000Z'],
  // And forward on Sunday 29 March.
  ['Europe/Dublin', '2026-03-27', '2026-03-27T10:00:00.000Z', '2026-03-30', '2026-03-30T09:00:00.000Z'],
  // The United States a week later in autumn, on 1 November.
  ['America/New_York', '2026-10-30', '2026-10-30T14:00:00.000Z', '2026-11-02', '2026-11-02T15:00:00.000Z'],
  // Newfoundland is half an hour off.
  ['America/St_Johns', '2026-10-30', '2026-10-30T12:30:00.000Z', '2026-11-02', '2026-11-02T13:30:00.000Z'],
  // The south goes forward on Sunday 4 October; its morning is the evening before in UTC.
  ['Australia/Sydney', '2026-10-02', '2026-10-02T00:00:00.000Z', '2026-10-05', '2026-10-04T23:00:00.000Z'],
  // Lord Howe Island moves by half an hour.
  ['Australia/Lord_Howe', '2026-10-02', '2026-10-01T23:30:00.000Z', '2026-10-05', '2026-10-04T23:00:00.000Z'],
  // No change at all.
  ['Africa/Lagos', '2026-10-23', '2026-10-23T09:00:00.000Z', '2026-10-26', '2026-10-26T09:00:00.000Z'],
] as const;

const step: CadenceStep = {
  ...plainStep,
  channel: 'call',
  offsetDays: 0,
  windowStart: 600,
  windowEnd: 720,
  minutes: 6,
  purpose: 'ask',
};

test.each(changes)(
  '%s: ten in the morning before and after the clocks change',
  (zone, before, first, after, second) => {
    const calendar = calendarOf({ zone, place: zone });
    const moments = plan({ steps: [step, { ...step, offsetDays: 1 }], answeredStep: null }, before, {
      contact: { calendar, doNotContact: new Set(), unreachable: new Set() },
      rep: calendarOf({ zone, place: zone }),
      taken: nothingTaken,
      now: `${before}T00:00:00.000Z` < first ? `${before}T00:00:00.000Z` : first,
    });
    expect(moments).toMatchObject([
      { on: before, at: first },
      { on: after, at: second },
    ]);
  },
);
