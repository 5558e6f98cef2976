import type { Channel, StandingGroup } from '@kettle/contract';
import { personRate, shrunkRate, type Tally, totalOf, weightOf } from '../stats';

/** Tries and answers of a channel by group of standings and hour of the day, on the clock of whoever was tried. */
export interface RateTally extends Tally {
  readonly channel: Channel;
  readonly group: StandingGroup;
  /** 0 to 23. */
  readonly hour: number;
}

/** What is known of how somebody answers: the organisation's tallies, and their own by channel. */
export interface AnswerRates {
  readonly tallies: readonly RateTally[];
  readonly group: StandingGroup;
  readonly own: ReadonlyMap<Channel, Tally>;
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
 * @example rateOf('call', { tallies: [{ channel: 'call', group: 'prospect', hour: 10, tried: 40, answered: 10 }], group: 'prospect', own: new Map() })
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

/** An hour that is better than the others. */
export interface BestHour extends KnownRate {
  readonly hour: number;
  /** The rate of all hours together. */
  readonly usual: number;
}

/** An hour is spoken of once it was tried so often, and when it is so much better than the rest; common practice, no source. */
const fewestTries = 30;
const leastBetter = 1.15;

/**
 * The hour of the day in which people with such a standing answer a channel most: each hour's tries drawn towards everybody's in that hour,
 * and these towards the channel's. Null while no hour is known to be better than the others.
 * @param isOpen whether an hour may be proposed
 */
export function bestHourOf(
  channel: Channel,
  { tallies, group }: AnswerRates,
  isOpen: (hour: number) => boolean,
): BestHour | null {
  const all = tallies.filter((tally) => tally.channel === channel);
  const usual = shareOf(totalOf(all));
  const hours = [...new Set(all.map(({ hour }) => hour))].map((hour) => ({
    hour,
    everybody: totalOf(all.filter((tally) => tally.hour === hour)),
    segment: totalOf(all.filter((tally) => tally.hour === hour && tally.group === group)),
  }));
  const weights = {
    everybody: weightOf(hours.map(({ everybody }) => everybody)),
    segment: weightOf(hours.map(({ segment }) => segment)),
  };
  const known = hours
    .filter(({ hour, everybody }) => isOpen(hour) && everybody.tried >= fewestTries)
    .map(({ hour, everybody, segment }) => {
      const wider = shrunkRate(everybody, usual, weights.everybody);
      return { hour, usual, cases: everybody.tried, rate: shrunkRate(segment, wider, weights.segment) };
    })
    .filter(({ rate }) => rate >= usual * leastBetter);
  return known.sort((one, other) => other.rate - one.rate || one.hour - other.hour)[0] ?? null;
}
