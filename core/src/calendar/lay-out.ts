import type { Instant, PlainDate } from '@kettle/contract';
import { addDays, daysInMonth, isoWeekday, localMinute, localMoment } from '../time';
import { besideEachOther, type Beside, type Stretch } from './beside';

export interface Timed {
  readonly startsAt: Instant;
  readonly endsAt: Instant;
  readonly travelMinutes: number;
  readonly travelAfterMinutes: number;
}

/** An entry where it is drawn in one day: minutes of the clock from 0 to 1440, and the columns it shares. */
export interface Placed<Entry> extends Stretch, Beside {
  readonly entry: Entry;
  /** The way there and back, as far as it lies in the day. */
  readonly wayFrom: number;
  readonly wayTo: number;
  /** It began the day before, or goes on the day after. */
  readonly isBefore: boolean;
  readonly isAfter: boolean;
}

const day = 1440;
/** However short it is, its title has to be read: it takes the room of so many minutes. */
const leastMinutes = 20;

/**
 * Entries of one local day, side by side where they meet, their ways included. An entry over midnight is in both days. Times stand where the
 * clock shows them, also on the days of 23 and 25 hours: of the hour that comes twice both stand in one place.
 * @param zone in which the day is
 */
export function layOutDay<Entry extends Timed>(
  entries: readonly Entry[],
  on: PlainDate,
  zone: string,
): Placed<Entry>[] {
  const begins = localMoment(on, 0, zone);
  const ends = localMoment(addDays(on, 1), 0, zone);
  const minuteOf = (at: Instant) => (at < begins ? 0 : at >= ends ? day : localMinute(at, zone));
  const within = (minute: number) => Math.min(day, Math.max(0, minute));
  const stretches = entries
    .filter(({ startsAt, endsAt }) => startsAt < ends && endsAt > begins)
    .map((entry) => {
      const from = Math.min(minuteOf(entry.startsAt), day - leastMinutes);
      const to = Math.max(minuteOf(entry.endsAt), from + leastMinutes);
      return {
        entry,
        shown: { from, to },
        from: within(from - entry.travelMinutes),
        to: within(to + entry.travelAfterMinutes),
      };
    });
  const beside = besideEachOther(stretches);
  return stretches.map((stretch) => ({
    entry: stretch.entry,
    ...stretch.shown,
    wayFrom: stretch.from,
    wayTo: stretch.to,
    isBefore: stretch.entry.startsAt < begins,
    isAfter: stretch.entry.endsAt > ends,
    ...beside.get(stretch)!,
  }));
}

/**
 * The hours a day is shown for: those of work with one more at either end, wider where something lies outside.
 * @param hours of work, in minutes of the day
 * @returns whole hours, from 0 to 24
 */
export function hoursShown(
  hours: { readonly start: number; readonly end: number },
  placed: readonly { readonly wayFrom: number; readonly wayTo: number }[],
): { readonly from: number; readonly to: number } {
  const earliest = Math.min(hours.start - 60, ...placed.map(({ wayFrom }) => wayFrom));
  const latest = Math.max(hours.end + 60, ...placed.map(({ wayTo }) => wayTo));
  return { from: Math.max(0, Math.floor(earliest / 60)), to: Math.min(24, Math.ceil(latest / 60)) };
}

/**
 * The weeks a month is shown in, whole ones.
 * @param weekStart 1 for Monday to 7 for Sunday
 * @example weeksOfMonth('2026-02-14', 1) begins on 26 January and has 35 days
 */
export function weeksOfMonth(
  on: PlainDate,
  weekStart: number,
): { readonly from: PlainDate; readonly days: number } {
  const first: PlainDate = `${on.slice(0, 7)}-01`;
  const length = daysInMonth(Number(on.slice(0, 4)), Number(on.slice(5, 7)));
  const before = (isoWeekday(first) - weekStart + 7) % 7;
  return { from: addDays(first, -before), days: Math.ceil((before + length) / 7) * 7 };
}
