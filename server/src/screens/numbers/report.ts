import type {
  AskReport,
  AskReportRecords,
  Report,
  ReportColumn,
  ReportFigure,
  ReportLine,
  ReportRecords,
  UserId,
} from '@kettle/contract';
import { reportLabel } from '@kettle/contract/numbers/labels';
import { hasPeriod, type ReportKind } from '@kettle/contract/numbers/kinds';
import { saidNow } from '../../platform/language/language';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import type { SignedIn } from '../../records/users/index';
import { activityReport, answersReport, readAnswersByTries } from './acts';
import { closeDaysReport, lostReport } from './closed-deals';
import type { Definition } from './definition';
import { readLines, typeOf, type FactColumn, type Facts, type Lines } from './facts';
import { makeItReport } from './make-it';
import { movementReport, paceReport, standstillReport } from './moving-deals';
import { dropOffReport, sourcesReport, standingsReport } from './people-reports';
import { readRecords } from './records';
import { readRetentionRecords, retentionReport } from './retention-report';
import { readRowNames, type RowNames } from './rows';
import { parametersOf, scopeOf, spansOf, type Scope, type Span } from './scope';

/** Questions that are answered by counting facts. */
const definitions: Readonly<Record<Exclude<ReportKind, 'make-it' | 'retention'>, Definition>> = {
  standstill: standstillReport,
  pace: paceReport,
  movement: movementReport,
  lost: lostReport,
  sources: sourcesReport,
  'close-days': closeDaysReport,
  answers: answersReport,
  activity: activityReport,
  'drop-off': dropOffReport,
  standings: standingsReport,
};

/**
 * A question answered with numbers, beside those of the period before.
 * @param owners of whoever set it up, where it is read for somebody else
 * @throws Problem `not-allowed` for a person outside one's team
 */
export async function readReport(
  services: Services,
  who: SignedIn,
  asked: AskReport,
  owners?: readonly UserId[] | null,
): Promise<Report> {
  const scope = await scopeOf(services, who, asked, owners);
  const head = headOf(scope);
  switch (scope.kind) {
    case 'make-it':
      return { ...head, ...(await makeItReport(services, scope)) };
    case 'retention':
      return { ...head, ...(await retentionReport(services, scope)) };
    default:
      return { ...head, ...(await readCounted(services, scope, definitions[scope.kind])) };
  }
}

type Head = 'kind' | 'words' | 'by' | 'scope' | 'period' | 'before';

function headOf(scope: Scope): Pick<Report, Head> {
  const { kind, by, words, period } = scope;
  const { before } = spansOf(scope);
  return {
    ...{ kind, by, words: saidNow(reportLabel[kind]), scope: words },
    // As far as it has come; what is foreseen is foreseen of all of it.
    period: hasPeriod(kind) ? { from: period.from, to: kind === 'make-it' ? period.to : period.until } : null,
    before: hasPeriod(kind) ? { from: before.from, to: before.to } : null,
  };
}

async function readCounted(
  services: Services,
  scope: Scope,
  definition: Definition,
): Promise<Omit<Report, Head>> {
  const { database: db } = services;
  const spans = spansOf(scope);
  const [now, before, names, figures] = await Promise.all([
    readSpan(services, scope, definition, spans.now),
    definition.isOfNow === true ? null : readSpan(services, scope, definition, spans.before),
    readRowNames(db, scope.by),
    definition.figures?.(services, scope) ?? [],
  ]);
  const { columns } = now;
  const beforeOf = (figures: readonly ReportFigure[] | undefined) =>
    before === null
      ? null
      : columns.map(({ key }): ReportFigure => {
          const at = before.columns.findIndex((column) => column.key === key);
          // What is only known of now is not nought then.
          return at === -1 ? { value: null } : (figures?.[at] ?? noneOf(columns, key));
        });
  const keys = inOrder([...new Set([...now.rows.keys(), ...(before?.rows.keys() ?? [])])], names, now);
  const line = (key: string): ReportLine => ({
    ...{ key, name: names.nameOf(key, keys) },
    figures: columns.map((column, at) => now.rows.get(key)?.[at] ?? noneOf(columns, column.key)),
    before: beforeOf(before?.rows.get(key)),
    path: definition.pathOf?.(scope, key) ?? null,
  });
  const opens = now.opens;
  return {
    columns: columns.map((column): ReportColumn => ({
      ...{ key: column.key, words: column.words, type: typeOf(column), how: column.how, opens },
    })),
    rows: keys.map(line),
    total:
      now.total.length === 0
        ? null
        : {
            ...{ key: '', name: $localize`all`, figures: [...now.total], path: null },
            before: before === null ? null : beforeOf(before.total),
          },
    figures: [...figures],
    drawn: {
      as: definition.drawn.as,
      columns: definition.drawn.columns.filter((key) => columns.some((column) => column.key === key)),
    },
    notes: [
      ...(definition.notes?.(scope) ?? []),
      ...(now.unconverted > 0
        ? [$localize`${now.unconverted}:count: in a currency without a rate are in no sum.`]
        : []),
    ],
    listsRecords: definition.wordsOf !== undefined,
  };
}

/** What a row has that nothing was counted in: nought of what is counted or summed, and nothing known of the rest. */
function noneOf(columns: readonly FactColumn[], key: string): ReportFigure {
  const kind = columns.find((column) => column.key === key)?.as.kind;
  return { value: kind === 'count' || kind === 'money' || kind === 'minutes' ? 0 : null };
}

interface SpanRead {
  readonly columns: readonly FactColumn[];
  readonly rows: ReadonlyMap<string, readonly ReportFigure[]>;
  readonly total: readonly ReportFigure[];
  readonly unconverted: number;
  readonly opens: boolean;
}

async function readSpan(
  services: Services,
  scope: Scope,
  definition: Definition,
  span: Span,
): Promise<SpanRead> {
  const { database: db } = services;
  if (scope.kind === 'answers' && scope.by === 'tries') {
    const { columns, lines } = await readAnswersByTries(db);
    return { ...lines, columns, opens: false };
  }
  const sets = await definition.facts(services, scope, span);
  const parameters = parametersOf(scope, span);
  const read = await Promise.all(sets.map((facts) => readLines(db, facts, parameters)));
  return { ...beside(sets, read), opens: true };
}

/** Facts of several kinds beside each other, row by row. */
function beside(sets: readonly Facts[], read: readonly Lines[]): Omit<SpanRead, 'opens'> {
  const columns = sets.flatMap((facts) => facts.columns);
  const keys = new Set(read.flatMap(({ rows }) => [...rows.keys()]));
  return {
    columns,
    rows: new Map(
      [...keys].map((key) => [
        key,
        read.flatMap(
          ({ rows }, at) => rows.get(key) ?? sets[at]!.columns.map((column) => noneOf(columns, column.key)),
        ),
      ]),
    ),
    total: read.flatMap(({ total }) => total),
    unconverted: Math.max(0, ...read.map(({ unconverted }) => unconverted)),
  };
}

/** Rows in their own order, else the largest first: by the first column, then by name. */
function inOrder(keys: readonly string[], { order, nameOf }: RowNames, { rows }: SpanRead): string[] {
  if (order !== null && order.length > 0)
    return [...keys].sort((one, other) => order.indexOf(one) - order.indexOf(other));
  if (order !== null)
    return [...keys].sort((one, other) => one.localeCompare(other, 'en', { numeric: true }));
  const size = (key: string) => rows.get(key)?.[0]?.value ?? 0;
  return [...keys].sort(
    (one, other) => size(other) - size(one) || nameOf(one, keys).localeCompare(nameOf(other, keys)),
  );
}

/**
 * The records behind a figure of a report.
 * @throws Problem `not-found` for a column that the report has not, or whose figures have no records
 */
export async function readReportRecords(
  services: Services,
  who: SignedIn,
  { row, column: key, when, ...asked }: AskReportRecords,
): Promise<ReportRecords> {
  const scope = await scopeOf(services, who, asked);
  const span = spansOf(scope)[when];
  if (scope.kind === 'retention') return readRetentionRecords(services, scope, { row, column: key, span });
  if (scope.kind === 'make-it') throw new Problem('not-found');
  const definition = definitions[scope.kind];
  const sets = await definition.facts(services, scope, span);
  const facts =
    key === undefined ? sets[0] : sets.find(({ columns }) => columns.some((each) => each.key === key));
  if (facts === undefined) throw new Problem('not-found');
  const column = facts.columns.find((each) => each.key === key);
  const found = await readRecords(services.database, {
    ...{ facts, row, of: column?.of ?? 'TRUE' },
    parameters: parametersOf(scope, span),
  });
  const words = await definition.wordsOf?.(
    services,
    scope,
    span,
    found.records.map(({ id }) => id),
  );
  if (words === undefined) return found;
  return {
    ...found,
    records: found.records.map((each) => ({ ...each, words: words.get(each.id) ?? each.words })),
  };
}
