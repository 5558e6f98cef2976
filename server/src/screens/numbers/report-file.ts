import type { AskReport, Report, ReportColumn, ReportFigure, ReportLine } from '@kettle/contract';
import type { ReportFile } from '@kettle/contract/numbers/kinds';
import { writeCsv } from '@kettle/core/imports';
import { locale } from '@kettle/core/locale';
import { majorOf, placesOf } from '@kettle/core/money';
import { isAtLeast } from '@kettle/core/rights';
import type { Response } from 'express';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { writingAt } from '../../platform/work/work';
import { writePdf, writeSheet, type SheetCell, type SheetColumn } from '../../records/documents/index';
import { noteSecurity } from '../../records/security/index';
import type { SignedIn } from '../../records/users/index';
import { readReport } from './report';
import { pagesOf } from './report-pages';

const mediaTypes: Readonly<Record<ReportFile, string>> = {
  csv: 'text/csv; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  pdf: 'application/pdf',
};

/**
 * Sends a report as a file.
 * @throws Problem `not-allowed` when the organisation's rule lets others export
 */
export async function sendReportFile(
  services: Services,
  who: SignedIn,
  { as, ...asked }: AskReport & { readonly as: ReportFile },
  response: Response,
): Promise<'answered'> {
  const { database } = services;
  const { rights } = await services.settings.read(database);
  if (!isAtLeast(who.role, rights.exports)) throw new Problem('not-allowed');
  const report = await readReport(services, who, asked);
  const bytes = await fileOf(services, report, as);
  await noteSecurity(writingAt(database, services.clock.now()), {
    kind: 'exported',
    userId: who.id,
    data: { what: `report ${report.kind}`, count: report.rows.length },
  });
  response
    .set('Content-Disposition', `attachment; filename="${report.kind}.${as}"`)
    .set('Cache-Control', 'no-store')
    .type(mediaTypes[as])
    .send(bytes);
  return 'answered';
}

/** A report as the bytes of a file. */
export async function fileOf(services: Services, report: Report, as: ReportFile): Promise<Buffer> {
  const { organisation } = await services.settings.read(services.database);
  const { currency } = organisation;
  if (as === 'pdf')
    return writePdf(
      services,
      pagesOf(report, { currency, language: locale(), madeAt: services.clock.now() }),
    );
  const table = tableOf(report, currency);
  if (as === 'xlsx') return writeSheet(services, { name: report.words, ...table });
  return Buffer.from(
    writeCsv(
      table.columns.map(({ head }) => head),
      table.rows.map((row) => row.map((cell) => (cell === null ? '' : String(cell.value)))),
    ),
  );
}

interface Table {
  readonly columns: readonly SheetColumn[];
  readonly rows: readonly (readonly SheetCell[])[];
}

/** Each column, of a share its bounds, and the same of the period before. Numbers as a machine writes them: money in whole units. */
function tableOf({ columns, rows, total, before }: Report, currency: string): Table {
  const parts = columns.flatMap((column, at) => {
    const own = partsOf(column, at, 'figures', currency);
    return before === null ? own : [...own, ...partsOf(column, at, 'before', currency)];
  });
  const lines = total === null ? rows : [...rows, total];
  return {
    columns: [{ head: $localize`row`, width: 28 }, ...parts.map(({ column }) => column)],
    rows: lines.map((line) => [{ kind: 'text', value: line.name }, ...parts.map(({ cell }) => cell(line))]),
  };
}

interface Part {
  readonly column: SheetColumn;
  cell(line: ReportLine): SheetCell;
}

function partsOf(
  { words, type }: ReportColumn,
  at: number,
  of: 'figures' | 'before',
  currency: string,
): Part[] {
  const places = placesOf(currency);
  const format = { money: `#,##0${places > 0 ? `.${'0'.repeat(places)}` : ''}`, share: '0.0%' }[
    type as string
  ];
  const name = type === 'money' ? `${words} (${currency})` : words;
  const head = of === 'before' ? $localize`${name}:name:, before` : name;
  const part = (title: string, pick: (figure: ReportFigure) => number | null | undefined): Part => ({
    column: { head: title, width: Math.max(12, title.length + 2), ...(format !== undefined && { format }) },
    cell: (line) => {
      const figure = line[of]?.[at];
      const value = figure === undefined ? null : pick(figure);
      if (value === null || value === undefined) return null;
      if (type === 'money')
        return { kind: 'number', value: Number(majorOf(value, currency).toFixed(places)) };
      // Four places of a share, two of days: more says nothing.
      return { kind: 'number', value: Number(value.toFixed(type === 'share' ? 4 : 2)) };
    },
  });
  const value = part(head, (figure) => figure.value);
  if (type !== 'share' || of === 'before') return [value];
  return [
    value,
    part($localize`${head}:name:, at least`, (figure) => figure.low),
    part($localize`${head}:name:, at most`, (figure) => figure.high),
  ];
}
