import type { AskReport } from '@kettle/contract';
import { reportPeriods, type ReportPeriod } from '@kettle/contract/numbers/kinds';
import { isQuestion, type Question } from './questions';

/** The question of an address; without one, whether we make it. */
export const questionIn = (part: string | undefined): Question => (isQuestion(part) ? part : 'make-it');

/** A period by its name. */
export const periodIn = (period: string | undefined): ReportPeriod | undefined =>
  reportPeriods.find((each) => each === period);

/** What an address asks of a report, as `reportAddress` of core writes it; null where it asks for none. */
export function askedInAddress(query: Readonly<Record<string, string | undefined>>): AskReport | null {
  const { part, period, from, to, whose, pipeline, by } = query;
  const kind = questionIn(part);
  if (kind === 'chances') return null;
  return {
    ...{ kind, period: periodIn(period) ?? 'this-quarter', from, to },
    // The server says what of it cannot be.
    whose: (whose ?? 'mine') as AskReport['whose'],
    pipeline: pipeline as AskReport['pipeline'],
    by: by as AskReport['by'],
  };
}
