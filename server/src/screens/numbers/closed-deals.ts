import type { ReportRow } from '@kettle/contract/numbers/kinds';
import type { Definition } from './definition';
import type { FactColumn, Facts } from './facts';
import { latenesses } from './rows';
import { idKey, isAsked, isInPipeline, type Scope } from './scope';

/** Whom a deal was lost to, where that was said, else everybody who was in it. */
const competitors = `LEFT JOIN deal_competitor k ON k.deal_id = d.id AND (d.status = 'won' OR d.lost_to IS NULL)`;

const keys: Partial<Record<ReportRow, string>> = {
  stage: idKey('d.stage_id'),
  owner: idKey('d.owner_id'),
  reason: 'd.close_reason',
  competitor: "COALESCE(IF(d.status = 'lost', d.lost_to, NULL), k.name)",
  source: 'd.source',
  month: "DATE_FORMAT(d.closed_on, '%Y-%m')",
};

/** Days after the day that was agreed for the decision, else of the expected close. */
const late = 'DATEDIFF(d.closed_on, COALESCE(d.decision_on, d.expected_close_on))';

const lateness = `CASE ${latenesses
  .map(({ key, from, to }) => {
    const parts = [from === null ? null : `${late} >= ${from}`, to === null ? null : `${late} <= ${to}`];
    return `WHEN ${parts.filter((part) => part !== null).join(' AND ')} THEN '${key}'`;
  })
  .join(' ')} END`;

/** Deals that were won or lost in the span. Relies on deal_won and deal_closed. */
export function closedDeals(
  scope: Scope,
  by: ReportRow | null,
  columns: readonly FactColumn[],
  and = 'TRUE',
): Facts {
  const select = (key: string, join: string) =>
    `SELECT d.id, ${key} AS row_key, d.status = 'won' AS won, d.status = 'lost' AS lost, d.home_minor AS minor,
            IF(DATE(d.created_at) <= d.closed_on, DATEDIFF(d.closed_on, d.created_at), NULL) AS days, ${late} AS late
       FROM deal d ${join}
      WHERE d.status IN ('won', 'lost') AND d.closed_on BETWEEN :from AND :to AND ${and}
        AND ${isInPipeline(scope, 'd.stage_id')} AND ${isAsked(scope, 'deal', 'd')}`;
  const key = by === 'lateness' ? lateness : by === null ? "''" : (keys[by] ?? "''");
  return {
    record: 'deal',
    sql: select(key, by === 'competitor' ? competitors : ''),
    ...(by === 'competitor' && { whole: select("''", '') }),
    columns,
  };
}

export const wonColumns = (): readonly FactColumn[] => [
  {
    ...{ key: 'won', words: $localize`won`, of: 'f.won', as: { kind: 'count' } },
    how: $localize`Deals that were won in the period.`,
  },
  {
    ...{
      key: 'won-value',
      words: $localize`value won`,
      of: 'f.won',
      as: { kind: 'money', amount: 'f.minor' },
    },
    how: $localize`What they came to, in the organisation’s currency.`,
  },
  {
    ...{ key: 'win-rate', words: $localize`won of closed`, of: 'f.won' },
    as: { kind: 'share', in: 'f.won OR f.lost' },
    how: $localize`Won deals of those won or lost, and between what the true share lies in 19 of 20 cases (Wilson).`,
  },
];

/** What was won and lost: where, why, to whom, and from which source. */
export const lostReport: Definition = {
  facts: (_, scope) => [
    closedDeals(scope, scope.by, [
      {
        ...{ key: 'lost', words: $localize`lost`, of: 'f.lost', as: { kind: 'count' } },
        how: $localize`Deals that were lost in the period.`,
      },
      {
        ...{ key: 'lost-value', words: $localize`value lost`, of: 'f.lost' },
        as: { kind: 'money', amount: 'f.minor' },
        how: $localize`What they were worth when they were lost, in the organisation’s currency.`,
      },
      ...wonColumns(),
      {
        ...{ key: 'days', words: $localize`days to close`, of: 'f.won OR f.lost' },
        as: { kind: 'middle', days: 'f.days' },
        how: $localize`The middle of the days from when a deal was added to when it was won or lost.`,
      },
    ]),
  ],
  drawn: { as: 'bars', columns: ['lost', 'won'] },
  notes: ({ by }) =>
    by === 'competitor'
      ? [$localize`A deal with several competitors is in the row of each, and once in the total.`]
      : [],
};

/** Whether deals close on the day that was agreed or expected. */
export const closeDaysReport: Definition = {
  facts: (_, scope) => [
    closedDeals(
      scope,
      scope.by,
      [
        {
          ...{ key: 'closed', words: $localize`closed`, of: 'TRUE', as: { kind: 'count' } },
          how: $localize`Deals won or lost in the period that had a decision day or an expected close.`,
        },
        ...wonColumns(),
        {
          ...{ key: 'on-time', words: $localize`within 7 days`, of: 'f.late BETWEEN -7 AND 7' },
          as: { kind: 'share', in: 'TRUE' },
          how: $localize`Closed at most 7 days before or after their day.`,
        },
        {
          ...{ key: 'late', words: $localize`days late`, of: 'TRUE', as: { kind: 'middle', days: 'f.late' } },
          how: $localize`The middle of the days after the day of the decision, else of the expected close; below 0 is early.`,
        },
      ],
      `${late} IS NOT NULL`,
    ),
  ],
  drawn: { as: 'bars', columns: ['closed'] },
  notes: () => [
    $localize`The day is the last that was said of a deal: moving it along with the talks makes it look kept.`,
  ],
};
