import type { Report, ReportLine } from '@kettle/contract';
import type { Services } from '../../platform/services';
import { readWon } from '../../processes/forecast/index';
import { readOwners, spansOf, type Scope } from './scope';
import { readForecastOf } from './forecast';

/** What a period may bring, as a report: sums, and the chance of at least each of them. */
export async function makeItReport(
  services: Services,
  scope: Scope,
): Promise<Pick<Report, 'columns' | 'rows' | 'total' | 'figures' | 'drawn' | 'notes' | 'listsRecords'>> {
  const { who, period, pipelineId, owners } = scope;
  const ids = owners ?? (await readOwners(services.database, who));
  const { before } = spansOf(scope);
  const [found, wonBefore] = await Promise.all([
    readForecastOf(services, who, {
      ...{ ids, isTeam: scope.isTeam, from: period.from, months: period.months ?? 1, pipelineId, whatIf: [] },
    }),
    readWon(services.database, ids, { from: before.from, until: before.to }, pipelineId),
  ]);
  const { now, quotaMinor } = found;
  const then = [...wonBefore.values()].reduce((sum, { minor }) => sum + minor, 0);
  const row = (key: string, name: string, minor: number | null, chance: number | null): ReportLine => ({
    ...{ key, name, path: null },
    figures: [{ value: minor }, { value: chance }],
    before: key === 'won' ? [{ value: then }, { value: null }] : null,
  });
  return {
    columns: [
      {
        ...{ key: 'sum', words: $localize`sum`, type: 'money', opens: false },
        how: $localize`In the organisation’s currency; what is won is in all of them.`,
      },
      {
        ...{ key: 'chance', words: $localize`chance of at least that`, type: 'share', opens: false },
        how: $localize`From each open deal’s value, its chance to be won and its chance to close in time, independent of the others.`,
      },
    ],
    rows: [
      row('won', $localize`won so far`, now.wonMinor, 1),
      row('low', $localize`in nine of ten cases more than`, now.lowMinor, 0.9),
      row('middle', $localize`as likely more as less than`, now.middleMinor, 0.5),
      row('expected', $localize`expected`, now.expectedMinor, chanceAt(found.chances, now.expectedMinor)),
      row('high', $localize`in one of ten cases more than`, now.highMinor, 0.1),
      ...(quotaMinor === null ? [] : [row('quota', $localize`quota`, quotaMinor, now.quotaChance)]),
    ],
    total: null,
    figures: [],
    drawn: { as: 'bars', columns: ['sum'] },
    notes: [
      ...(quotaMinor === null ? [$localize`No quota is set for it.`] : []),
      ...(found.unconverted > 0
        ? [$localize`${found.unconverted}:count: in a currency without a rate are in no sum.`]
        : []),
    ],
    listsRecords: false,
  };
}

/** The chance of at least so much, between the points of a curve. */
function chanceAt(
  curve: readonly { readonly minor: number; readonly chance: number }[],
  minor: number,
): number | null {
  const next = curve.findIndex((point) => point.minor >= minor);
  if (next === -1) return null;
  const [to, from] = [curve[next]!, curve[next - 1]];
  if (from === undefined || to.minor === from.minor) return to.chance;
  return from.chance + ((to.chance - from.chance) * (minor - from.minor)) / (to.minor - from.minor);
}
