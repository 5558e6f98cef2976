import type { LearnedName, LearnedValue, RoundSettingsBody } from '@kettle/contract';
import { minorOf } from '../money';
import { defaultRoundSettings, type RoundSettings } from './decays';

/** From so many cases on what was learned counts. */
export const fewestCases = 30;

const pounds = 100;

/**
 * The usual value of what can be learned; money in minor units of the currency, as many as of pounds.
 * @example usualOf('p0.reply', 'GBP') // 0.62; usualOf('leadMinor', 'JPY') // 120
 */
export function usualOf(name: LearnedName, currency: string): number {
  const value = valueAt(defaultRoundSettings, name)!;
  return name === 'leadMinor' || name === 'promiseMinor' ? minorOf(value / pounds, currency) : value;
}

/** What counts: what somebody set, else what was learned, else the usual value. */
export function countsAs({ name, usual, learned }: LearnedValue, set: RoundSettingsBody): number {
  return valueAt(set, name) ?? learned ?? usual;
}

/** All of it as it counts. */
export function roundSettingsOf(set: RoundSettingsBody, values: readonly LearnedValue[]): RoundSettings {
  const byName = new Map(values.map((value) => [value.name, value]));
  const of = (name: LearnedName) => countsAs(byName.get(name)!, set);
  return {
    p0: {
      reply: of('p0.reply'),
      lead: of('p0.lead'),
      task: of('p0.task'),
      step: of('p0.step'),
      waking: of('p0.waking'),
      stirring: of('p0.stirring'),
    },
    halfDays: {
      reply: of('halfDays.reply'),
      lead: of('halfDays.lead'),
      task: of('halfDays.task'),
      waking: of('halfDays.waking'),
      stirring: of('halfDays.stirring'),
    },
    silenceLossChance: of('silenceLossChance'),
    promiseMinor: of('promiseMinor'),
    leadMinor: of('leadMinor'),
    renewalHalfDays: of('renewalHalfDays'),
    renewalLastDay: of('renewalLastDay'),
    dealFloor: of('dealFloor'),
    reserveMinutes: set.reserveMinutes,
  };
}

/** What stands at a name such as `p0.reply`; null where nothing is set. */
function valueAt(settings: RoundSettings | RoundSettingsBody, name: LearnedName): number | null {
  const [group, kind] = name.split('.') as [string, string | undefined];
  const found = (settings as unknown as Record<string, unknown>)[group];
  const value = kind === undefined ? found : (found as Record<string, unknown>)[kind];
  return typeof value === 'number' ? value : null;
}
