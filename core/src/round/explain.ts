import type { Arithmetic } from '@kettle/contract';
import { sayRoughly } from '../money';
import { sayShortDay } from '../time';
import type { Horizon } from './candidate';
import { costOfWaiting } from './cost';
import type { RankedRow } from './rank';

/** The arithmetic of a row with its sentence, such as "Done today £409; left, it gets Thursday and brings £120: …". */
export function explainRow(row: RankedRow, horizon: Horizon, currency: string): Arithmetic {
  const { lead } = row;
  const waiting = costOfWaiting(lead, horizon);
  const today = horizon.days[0]!.on;
  const later = waiting.laterDay === null ? null : horizon.days[waiting.laterDay]!.on;
  const todayMinor = Math.round(lead.stakeMinor * waiting.chanceToday);
  const laterMinor = Math.round(lead.stakeMinor * waiting.chanceLater);
  const costMinor = Math.round(waiting.cost);
  const minutesMinor = laterMinor - (todayMinor - costMinor);
  const left =
    later === null
      ? $localize`left, no later day pays for its minutes`
      : $localize`left, it gets ${sayShortDay(later, today)}:later: and brings ${sayRoughly(laterMinor, currency)}:laterMinor:${paidMinutes(minutesMinor, lead.minutes, currency)}:minutesMinor:`;
  const costs = $localize`waiting costs ${sayRoughly(costMinor, currency)}:costMinor: for ${lead.minutes}:minutes: min`;
  return {
    stakeMinor: lead.stakeMinor,
    chanceToday: waiting.chanceToday,
    laterOn: later,
    chanceLater: waiting.chanceLater,
    priceOfMinuteMinor: horizon.prices[waiting.laterDay ?? 0] ?? 0,
    minutes: lead.minutes,
    costMinor,
    sentence: `${$localize`Done today ${sayRoughly(todayMinor, currency)}:todayMinor:; ${left}:left:: ${costs}:costs:.`}${lead.isUsualValue ? ` ${$localize`Its value is not known: the usual one counts.`}` : ''}`,
  };
}

function paidMinutes(minor: number, minutes: number, currency: string): string {
  return minor > 0
    ? $localize`, minus ${sayRoughly(minor, currency)}:minor:, the value of its ${minutes}:minutes: minutes`
    : '';
}
