import type { Report, ReportFigure, ReportLine, ReportRecords, ValueMove } from '@kettle/contract';
import { addMonths, startOfMonth, sayMonth } from '@kettle/core/time';
import type { Services } from '../../platform/services';
import { retentionRecordsOf, retentionOf } from '../../processes/renewals/index';
import { spansOf, type Scope, type Span } from './scope';

type Month = Awaited<ReturnType<typeof retentionOf>>['months'][number];

const moves = (): readonly {
  readonly kind: ValueMove;
  readonly words: string;
  readonly how: string;
  readonly sign: 1 | -1;
}[] => [
  { kind: 'new', sign: 1, words: $localize`new`, how: $localize`Customers who brought nothing before.` },
  {
    kind: 'back',
    sign: 1,
    words: $localize`back again`,
    how: $localize`Customers who had left and are back.`,
  },
  { kind: 'expansion', sign: 1, words: $localize`more`, how: $localize`What customers took more of.` },
  { kind: 'contraction', sign: -1, words: $localize`less`, how: $localize`What customers took less of.` },
  { kind: 'churn', sign: -1, words: $localize`left`, how: $localize`What customers who left had brought.` },
];

const monthsOf = ({ from, to }: Pick<Span, 'from' | 'to'>): number => {
  const index = (day: string) => Number(day.slice(0, 4)) * 12 + Number(day.slice(5, 7));
  return Math.min(36, index(to) - index(from) + 1);
};

/** How much of what customers bring in a year stays, by calendar month. */
export async function retentionReport(
  services: Services,
  scope: Scope,
): Promise<Pick<Report, 'columns' | 'rows' | 'total' | 'figures' | 'drawn' | 'notes' | 'listsRecords'>> {
  const months = monthsOf({ from: scope.period.from, to: scope.period.until });
  const from = startOfMonth(scope.period.from);
  const asked = { owners: scope.owners, months };
  const [now, before] = await Promise.all([
    retentionOf(services, scope.who, { ...asked, from }),
    retentionOf(services, scope.who, { ...asked, from: addMonths(from, -months) }),
  ]);
  const figures = (month: Omit<Month, 'month'>): ReportFigure[] => [
    { value: month.start },
    ...moves().map(({ kind, sign }) => ({ value: sign * month[kind] })),
    { value: month.end },
    { value: month.gross },
    { value: month.net },
  ];
  const line = (month: Month, then: Month | undefined): ReportLine => ({
    ...{ key: month.month.slice(0, 7), name: `${sayMonth(month.month, 'short')} ${month.month.slice(0, 4)}` },
    ...{ figures: figures(month), before: then === undefined ? null : figures(then), path: null },
  });
  const column = (
    key: string,
    words: string,
    how: string,
    type: 'money' | 'share' = 'money',
    opens = false,
  ) => ({
    ...{ key, words, how, type, opens },
  });
  return {
    columns: [
      column('start', $localize`start`, $localize`What customers brought in a year when the month began.`),
      ...moves().map(({ kind, words, how }) => column(kind, words, how, 'money', true)),
      column(
        'end',
        $localize`end`,
        $localize`What they bring when it ends: the start with all that came and went.`,
      ),
      column(
        'gross',
        $localize`gross`,
        $localize`Of the start what stayed, without what customers took more of.`,
        'share',
      ),
      column(
        'net',
        $localize`net`,
        $localize`Of the start what is there at the end, without new customers.`,
        'share',
      ),
    ],
    rows: now.months.map((month, at) => line(month, before.months[at])),
    total: {
      ...{
        key: '',
        name: $localize`all`,
        figures: figures(now.whole),
        before: figures(before.whole),
        path: null,
      },
    },
    figures: [],
    drawn: { as: 'line', columns: ['gross', 'net'] },
    notes:
      now.unvalued > 0 ? [$localize`${now.unvalued}:count: in a currency without a rate are in no sum.`] : [],
    listsRecords: false,
  };
}

interface Asked {
  readonly row: string | undefined;
  readonly column: string | undefined;
  readonly span: Span;
}

/** The customers behind a move of value. */
export async function readRetentionRecords(
  services: Services,
  scope: Scope,
  { row, column, span }: Asked,
): Promise<ReportRecords> {
  const { now } = spansOf(scope);
  const months = monthsOf(now);
  const first = span.isNow ? startOfMonth(now.from) : addMonths(startOfMonth(now.from), -months);
  // The month of a row of the period before is so many months before it.
  const month =
    row === undefined || row === '' ? first : span.isNow ? `${row}-01` : addMonths(`${row}-01`, -months);
  const kind = moves().find((move) => move.kind === column)?.kind ?? 'churn';
  const { rows } = await retentionRecordsOf(services, scope.who, {
    ...{ owners: scope.owners, from: month, months: row === undefined || row === '' ? months : 1, kind },
  });
  return {
    count: rows.length,
    records: rows.slice(0, 500).map(({ contactId, companyId, name, before, after, agreements }) => ({
      id: companyId ?? contactId ?? agreements[0]?.id ?? '',
      name,
      path:
        companyId !== null ? `/companies/${companyId}` : contactId !== null ? `/people/${contactId}` : null,
      under: agreements.map((each) => each.name).join(', '),
      ...{ on: null, minor: after - before },
      words: agreements.flatMap(({ endReason }) => (endReason === null ? [] : [endReason])).join(', '),
    })),
  };
}
