import type { Channel } from '@kettle/contract';
import { channelKindOf } from '@kettle/contract/base/channels';
import { sayCount, sayPercent } from '../locale';
import { sayIsoWeekday, sayMinute, type WorkingCalendar } from '../time';
import {
  type AnswerRates,
  type BestHour,
  bestHoursOf,
  isOpenAt,
  type KnownRate,
  rateOf,
} from './answer-rates';
import { asksWhetherHeld } from './outcomes';

/**
 * What is known of an hour, to be checked by whoever reads it.
 * @example '43 % are answered, over the week 26 % (100 tries at that hour, 22 on a Tuesday; theirs 1 of 2)'
 */
export function sayBestHour({ rate, usual, cases, weekday, onTheDay, own }: BestHour): string {
  const day = sayIsoWeekday(weekday);
  const theirs = own.tried === 0 ? '' : $localize`; theirs ${own.answered}:answered: of ${own.tried}:tried:`;
  return $localize`${sayPercent(rate)}:rate: are answered, over the week ${sayPercent(usual)}:usual: (${sayCount(cases, 'try|tries')}:cases: at that hour, ${onTheDay}:onTheDay: on a ${day}:day:${theirs}:theirs:)`;
}

/** @example sayHour(10) is '10:00 to 11:00' */
export const sayHour = (hour: number): string =>
  $localize`${sayMinute(hour * 60)}:from: to ${sayMinute(hour * 60 + 60)}:to:`;

/**
 * Of several ways the one that is answered most, the order given deciding between equals; null of none. A meeting or a visit is
 * agreed before, so that its rate says nothing beside a call's: one is named only where no other way is left.
 */
export function bestChannelOf(
  channels: readonly Channel[],
  rates: AnswerRates,
): { readonly channel: Channel; readonly known: KnownRate | null } | null {
  const direct = channels.filter((channel) => !asksWhetherHeld(channel));
  const [best] = (direct.length > 0 ? direct : channels)
    .map((channel) => ({ channel, known: rateOf(channel, rates) }))
    .sort((one, other) => (other.known?.rate ?? -1) - (one.known?.rate ?? -1));
  return best ?? null;
}

/**
 * On which channel and in which hour somebody answers most, in sentences; empty while nothing is known.
 * @param channels the ways they can be reached on
 * @example ['Answered most: call, 31 % (220 tries of such people)', 'Call: Tuesday, 10:00 to 11:00: 43 % are answered, …']
 */
export function sayAnswers(
  channel: Channel,
  channels: readonly Channel[],
  rates: AnswerRates,
  hours: WorkingCalendar,
): string[] {
  const best = bestChannelOf(channels, rates);
  const [hour] = bestHoursOf(channel, rates, isOpenAt(hours));
  const { label } = channelKindOf(channel);
  return [
    ...(best?.known && best.known.cases > 0
      ? [
          $localize`Answered most: ${channelKindOf(best.channel).label.toLowerCase()}:channel:, ${sayPercent(best.known.rate)}:rate: (${sayCount(best.known.cases, 'try|tries')}:cases: of such people)`,
        ]
      : []),
    ...(hour === undefined
      ? []
      : [
          $localize`${label}:channel:: ${sayIsoWeekday(hour.weekday)}:day:, ${sayHour(hour.hour)}:hour:: ${sayBestHour(hour)}:rates:`,
        ]),
  ];
}
