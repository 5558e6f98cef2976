import type { Arithmetic } from '@kettle/contract';
import { majorOf, minorOf, sayMoneyInFull } from '../money';
import { sayShortDay } from '../time';
import type { Horizon } from './candidate';
import { costOfWaiting } from './cost';
import type { RankedRow } from './rank';

/** From so much on, whole units are near enough. */
const wholeFrom = 10;

/**
 * The arithmetic of a row with its sentence, such as "Done today £409; left, it gets Thursday and brings £120: waiting costs £289 for 6 min".
 * All amounts of a sentence are said in one unit, whole ones from a cost of ten up, and add up as they are said.
 */
export function explainRow(row: RankedRow, horizon: Horizon, currency: string): Arithmetic {
  const { lead } = row;
  const waiting = costOfWaiting(lead, horizon);
  const today = horizon.days[0]!.on;
  const later = waiting.laterDay === null ? null : horizon.days[waiting.laterDay]!.on;
  const todayMinor = Math.round(lead.stakeMinor * waiting.chanceToday);
  const laterMinor = Math.round(lead.stakeMinor * waiting.chanceLater);
  const costMinor = Math.round(waiting.cost);
  const isWhole = Math.abs(majorOf(costMinor, currency)) >= wholeFrom;
  const rounded = (minor: number) =>
    isWhole ? minorOf(Math.round(majorOf(minor, currency)), currency) : minor;
  const say = (minor: number) => sayMoneyInFull(minor, currency);
  const [laterSaid, costSaid] = [rounded(laterMinor), rounded(costMinor)];
  const minutesSaid = later === null ? 0 : Math.max(0, rounded(laterMinor - (todayMinor - costMinor)));
  // What is left of the rounding goes into the amount that stands nowhere else.
  const todaySaid = costSaid + (later === null ? 0 : laterSaid - minutesSaid);
  const left =
    later === null
      ? $localize`left, no later day pays for its minutes`
      : $localize`left, it gets ${sayShortDay(later, today)}:later: and brings ${say(laterSaid)}:laterMinor:${paidMinutes(minutesSaid, lead.minutes, currency)}:minutesMinor:`;
  const costs = $localize`waiting costs ${say(costSaid)}:costMinor: for ${lead.minutes}:minutes: min`;
  return {
    stakeMinor: lead.stakeMinor,
    chanceToday: waiting.chanceToday,
    laterOn: later,
    chanceLater: waiting.chanceLater,
    priceOfMinuteMinor: horizon.prices[waiting.laterDay ?? 0] ?? 0,
    minutes: lead.minutes,
    costMinor,
    sentence: `${$localize`Done today ${say(todaySaid)}:todayMinor:; ${left}:left:: ${costs}:costs:.`}${lead.isUsualValue ? ` ${$localize`Its value is not known: the usual one counts.`}` : ''}`,
  };
}

function paidMinutes(minor: number, minutes: number, currency: string): string {
  return minor > 0
    ? $localize`, minus ${sayMoneyInFull(minor, currency)}:minor:, the value of its ${minutes}:minutes: minutes`
    : '';
}
