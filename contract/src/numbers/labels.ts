import type { ReportFile, ReportKind, ReportPeriod, ReportRow } from './kinds';

export const reportLabel: Readonly<Record<ReportKind, string>> = {
  'make-it': $localize`Will we make it?`,
  standstill: $localize`Where do deals stand still?`,
  pace: $localize`How do deals get through?`,
  movement: $localize`How far did each deal move?`,
  lost: $localize`What do we win and lose?`,
  sources: $localize`Which source pays?`,
  'close-days': $localize`Do deals close on their day?`,
  answers: $localize`What earns answers?`,
  activity: $localize`Who does how much?`,
  'drop-off': $localize`Where do leads drop off?`,
  retention: $localize`Do customers stay?`,
  standings: $localize`How do our people stand?`,
};

/** What the rows are, as it is chosen: “by …”. */
export const reportRowLabel: Readonly<Record<ReportRow, string>> = {
  figure: $localize`figure`,
  stage: $localize`stage`,
  owner: $localize`owner`,
  reason: $localize`reason`,
  competitor: $localize`competitor`,
  source: $localize`source`,
  month: $localize`month`,
  lateness: $localize`how late`,
  channel: $localize`channel`,
  weekday: $localize`weekday`,
  hour: $localize`hour`,
  tries: $localize`tries before`,
  outcome: $localize`outcome`,
  standing: $localize`standing`,
};

export const reportPeriodLabel: Readonly<Record<ReportPeriod, string>> = {
  'this-month': $localize`this month`,
  'last-month': $localize`last month`,
  'this-quarter': $localize`this quarter`,
  'last-quarter': $localize`last quarter`,
  'this-year': $localize`this year`,
  'last-year': $localize`last year`,
  'last-7-days': $localize`last 7 days`,
  'last-30-days': $localize`last 30 days`,
  'last-12-months': $localize`last 12 months`,
  days: $localize`from … to …`,
};

export const reportFileLabel: Readonly<Record<ReportFile, string>> = {
  csv: 'CSV',
  xlsx: 'XLSX',
  pdf: 'PDF',
};
