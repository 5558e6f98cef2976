/** What the rows of each report may be, the usual first. */
export const reportRows = {
  'make-it': ['figure'],
  standstill: ['stage', 'owner'],
  pace: ['stage'],
  movement: ['owner', 'stage'],
  lost: ['stage', 'reason', 'competitor', 'source', 'owner', 'month'],
  sources: ['source', 'owner'],
  'close-days': ['lateness', 'owner'],
  answers: ['channel', 'weekday', 'hour', 'tries', 'owner'],
  activity: ['owner', 'channel', 'outcome', 'weekday'],
  'drop-off': ['source', 'reason', 'owner', 'month'],
  retention: ['month'],
  standings: ['standing', 'owner'],
} as const satisfies Record<string, readonly [string, ...string[]]>;

/** Questions that are answered by a report. */
export type ReportKind = keyof typeof reportRows;
export const reportKinds = Object.keys(reportRows) as [ReportKind, ...ReportKind[]];

/** What a report's rows are. */
export type ReportRow = (typeof reportRows)[ReportKind][number];
export const reportRowKinds = [...new Set(Object.values(reportRows).flat())] as [ReportRow, ...ReportRow[]];

/** The last: from one day to another, both said. */
export const reportPeriods = [
  'this-month',
  'last-month',
  'this-quarter',
  'last-quarter',
  'this-year',
  'last-year',
  'last-7-days',
  'last-30-days',
  'last-12-months',
  'days',
] as const;
export type ReportPeriod = (typeof reportPeriods)[number];

export const reportFiles = ['csv', 'xlsx', 'pdf'] as const;
export type ReportFile = (typeof reportFiles)[number];

/** Reports of a pipeline's deals: of others a pipeline says nothing. */
const withoutPipelines: readonly ReportKind[] = ['answers', 'activity', 'drop-off', 'retention', 'standings'];
export const hasPipeline = (kind: ReportKind): boolean => !withoutPipelines.includes(kind);

/** Reports of how things are now, of which a period says nothing. */
export const hasPeriod = (kind: ReportKind): boolean => kind !== 'standings';

/** What is foreseen is foreseen of whole months. */
export const periodsOf = (kind: ReportKind): readonly ReportPeriod[] =>
  kind === 'make-it'
    ? ['this-month', 'last-month', 'this-quarter', 'last-quarter', 'this-year', 'last-year']
    : reportPeriods;
