import type { Channel, Instant, StandingGroup } from '@kettle/contract';
import { personRate, shrunkRate, type Tally, totalOf, weightOf } from '../stats';
import { isoWeekday, localDatesOf, localMoment, minutesBetween, type WorkingCalendar } from '../time';

/** Tries in one hour of one weekday, on the clock of whoever was tried. */
export interface HourTally extends Tally {
  readonly channel: Channel;
  /** 1 for Monday to 7. */
  readonly weekday: number;
  /** 0 to 23. */
  readonly hour: number;
}

/** The same by group of standings. */
export interface RateTally extends HourTally {
  readonly group: StandingGroup;
}

/** What is known of how somebody answers: the organisation's tallies, their own by channel, and their own by hour of the week. */
export interface AnswerRates {
  readonly tallies: readonly RateTally[];
  readonly group: StandingGroup;
  readonly own: ReadonlyMap<Channel, Tally>;
  readonly ownHours: readonly HourTally[];
}

/** A rate, 0 to 1, with the tries it rests on: those of people with such a standing. */
export interface KnownRate {
  readonly rate: number;
  readonly cases: number;
}

const nothing: Tally = { tried: 0, answered: 0 };
const shareOf = ({ tried, answered }: Tally) => (tried === 0 ? 0 : answered / tried);

/**
 * How often somebody answers on a channel: their own tries drawn towards those of people with such a standing, and these towards
 * everybody's (beta-binomial, see `weightOf`). Null while nobody was ever tried on it.
 * @example rateOf('call', { tallies: [{ channel: 'call', group: 'prospect', weekday: 2, hour: 10, tried: 40, answered: 10 }],
 *   group: 'prospect', own: new Map(), ownHours: [] })
 * // { rate: 0.25, cases: 40 }
 */
export function rateOf(channel: Channel, { tallies, group, own }: AnswerRates): KnownRate | null {
  const all = tallies.filter((tally) => tally.channel === channel);
  const segments = [...new Set(all.map((tally) => tally.group))].map((each) =>
    totalOf(all.filter((tally) => tally.group === each)),
  );
  if (all.length === 0) return null;
  const segment = totalOf(all.filter((tally) => tally.group === group));
  const weight = weightOf(segments);
  const weights = { person: weight, segment: weight };
  return {
    rate: personRate(own.get(channel) ?? nothing, segment, totalOf(all), weights),
    cases: segment.tried,
  };
}

/** An hour of the week in which more is answered than in the others. */
export interface BestHour extends KnownRate {
  readonly weekday: number;
  readonly hour: number;
  /** The rate of all hours of the week together. */
  readonly usual: number;
  /** Of the cases, which are of that hour on all days, those of that weekday. */
  readonly onTheDay: number;
  /** How somebody themselves was tried in that hour of the week. */
  readonly own: Tally;
}

/** An hour is spoken of once it was tried so often, and when it is so much better than the rest; common practice, no source. */
const fewestTries = 30;
export const leastBetter = 1.15;

/**
 * The hours of the week in which somebody answers a channel more than over the whole week, best first: everybody's tries in that hour
 * of the day drawn towards the channel's, those on that weekday towards these, those of people with such a standing towards these, and
 * their own towards these (beta-binomial, see `weightOf`). Empty while no hour is known to be better than the others.
 * @param isOpen whether an hour of the week may be proposed
 */
export function bestHoursOf(
  channel: Channel,
  { tallies, group, ownHours }: AnswerRates,
  isOpen: (weekday: number, hour: number) => boolean,
): BestHour[] {
  const all = tallies.filter((tally) => tally.channel === channel);
  const usual = shareOf(totalOf(all));
  const hours = byKey(all, ({ hour }) => hour);
  const slots = byKey(all, slotOf);
  const segments = byKey(
    all.filter((tally) => tally.group === group),
    slotOf,
  );
  const own = byKey(
    ownHours.filter((tally) => tally.channel === channel),
    slotOf,
  );
  const weights = {
    hour: weightOf([...hours.values()]),
    slot: weightOf([...slots.values()]),
    segment: weightOf([...segments.values()]),
    // One person has too few tries to tell how people differ.
    own: weightOf([]),
  };
  return [...slots.keys()]
    .map((slot) => ({ slot, weekday: Math.floor(slot / 24), hour: slot % 24 }))
    .filter(({ weekday, hour }) => isOpen(weekday, hour) && hours.get(hour)!.tried >= fewestTries)
    .map(({ slot, weekday, hour }): BestHour => {
      const theirs = own.get(slot) ?? nothing;
      const ofHour = shrunkRate(hours.get(hour)!, usual, weights.hour);
      const ofSlot = shrunkRate(slots.get(slot)!, ofHour, weights.slot);
      const ofSegment = shrunkRate(segments.get(slot) ?? nothing, ofSlot, weights.segment);
      const rate = shrunkRate(theirs, ofSegment, weights.own);
      const [cases, onTheDay] = [hours.get(hour)!.tried, slots.get(slot)!.tried];
      return { weekday, hour, usual, cases, onTheDay, own: theirs, rate };
    })
    .filter(({ rate }) => rate >= usual * leastBetter)
    .sort((one, other) => other.rate - one.rate || slotOf(one) - slotOf(other));
}

const slotOf = ({ weekday, hour }: Pick<HourTally, 'weekday' | 'hour'>) => weekday * 24 + hour;

/** Tries and answers together of all tallies with the same key. */
function byKey<Key>(tallies: readonly HourTally[], keyOf: (tally: HourTally) => Key): Map<Key, Tally> {
  const totals = new Map<Key, Tally>();
  for (const tally of tallies) {
    const key = keyOf(tally);
    totals.set(key, totalOf([totals.get(key) ?? nothing, tally]));
  }
  return totals;
}

/** Whether an hour of the week lies wholly within somebody's hours. */
export const isOpenAt =
  ({ weekdays, startMinute, endMinute }: WorkingCalendar) =>
  (weekday: number, hour: number): boolean =>
    weekdays.includes(weekday) && hour * 60 >= startMinute && hour * 60 + 60 <= endMinute;

/** The hour of the week that a wall clock shows: counted from the zone's midnight, which is looked up once a day. */
export function hourOfWeek(at: Instant, zone: string): { readonly weekday: number; readonly hour: number } {
  const date = localDatesOf(zone)(at);
  const hour = Math.min(23, Math.floor(minutesBetween(localMoment(date, 0, zone), at) / 60));
  return { weekday: isoWeekday(date), hour };
}
