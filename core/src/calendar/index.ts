import type { Instant, PlainDate } from '@kettle/contract';
import { addMinutes, isWorkingDay, localMoment, minutesBetween, type WorkingCalendar } from '../time';

export * from './beside';
export * from './common';
export * from './lay-out';

/** Something that takes time out of a day, with the minutes on the way before and after it. */
export interface DayBlock {
  readonly startsAt: Instant;
  readonly endsAt: Instant;
  readonly travelMinutes: number;
  readonly travelAfterMinutes: number;
}

export interface DayGap {
  readonly from: Instant;
  readonly to: Instant;
  readonly minutes: number;
}

/** The working hours of a day as instants, or null on a day off. */
export function hoursOf(on: PlainDate, calendar: WorkingCalendar): { start: Instant; end: Instant } | null {
  if (!isWorkingDay(on, calendar)) return null;
  return {
    start: localMoment(on, calendar.startMinute, calendar.zone),
    end: localMoment(on, calendar.endMinute, calendar.zone),
  };
}

/**
 * Free time between blocks from `notBefore` on, in order; gaps under one minute are left out.
 * Overlapping blocks count once.
 */
export function freeGaps(
  hours: { start: Instant; end: Instant },
  blocks: readonly DayBlock[],
  notBefore: Instant,
): DayGap[] {
  const gaps: DayGap[] = [];
  const inOrder = blocks
    .map((block) => ({
      from: addMinutes(block.startsAt, -block.travelMinutes),
      to: addMinutes(block.endsAt, block.travelAfterMinutes),
    }))
    .sort((a, b) => a.from.localeCompare(b.from));
  let cursor = notBefore > hours.start ? notBefore : hours.start;
  for (const block of [...inOrder, { from: hours.end, to: hours.end }]) {
    const until = block.from < hours.end ? block.from : hours.end;
    const minutes = minutesBetween(cursor, until);
    if (minutes >= 1) gaps.push({ from: cursor, to: until, minutes });
    if (block.to > cursor) cursor = block.to;
  }
  return gaps;
}

export function sumMinutes(gaps: readonly { minutes: number }[]): number {
  return gaps.reduce((sum, gap) => sum + gap.minutes, 0);
}

/** Free minutes that lie before a moment, counted along the gaps. */
export function freeMinutesBefore(gaps: readonly DayGap[], moment: Instant): number {
  return gaps.reduce((sum, gap) => {
    if (gap.from >= moment) return sum;
    return sum + Math.max(0, minutesBetween(gap.from, gap.to < moment ? gap.to : moment));
  }, 0);
}
