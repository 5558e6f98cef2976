import type { Report, ReportLine } from '@kettle/contract';
import { sayFigure } from '@kettle/core/numbers';
import { sayDate } from '@kettle/core/time';
import type { Content, TableCell } from 'pdfmake/interfaces';
import { ink, lookOfPages, type PdfDocument } from '../../records/documents/index';
import { sayPeriod } from './say-period';

interface Setting {
  readonly currency: string;
  readonly language: string;
  readonly madeAt: string;
}

/** Rows that fit on one page beside its picture. */
const mostRows = 18;
const mostBars = 8;
/** Points: between the margins of an A4 page. */
const width = 493;

/** A report as one page: the question, its picture, its table, how it is counted. What does not fit is said. */
export function pagesOf(report: Report, { currency, language, madeAt }: Setting): PdfDocument {
  const { words, scope, columns, rows, total, figures, notes } = report;
  const today = madeAt.slice(0, 10);
  const shown = rows.slice(0, mostRows);
  const cell = (line: ReportLine, at: number): TableCell => {
    const { type } = columns[at]!;
    const before = line.before?.[at];
    const then =
      before === undefined || before.value === null ? '' : `  (${sayFigure(before, type, currency)})`;
    return {
      text: [sayFigure(line.figures[at]!, type, currency), { text: then, color: ink.soft, fontSize: 7 }],
      alignment: 'right',
    };
  };
  const lineOf = (line: ReportLine): TableCell[] => [line.name, ...columns.map((_, at) => cell(line, at))];
  const content: Content[] = [
    { text: words, style: 'title' },
    { text: `${scope} · ${sayPeriod(report, today)}`, style: 'soft', margin: [0, 2, 0, 8] },
    ...(figures.length === 0 ? [] : [figuresOf(report, currency)]),
    ...pictureOf(report, currency),
    {
      margin: [0, 10, 0, 0],
      table: {
        headerRows: 1,
        widths: ['*', ...columns.map(() => 'auto')],
        body: [
          [
            { text: '', style: 'heads' },
            ...columns.map((column): TableCell => ({
              text: column.words,
              style: 'heads',
              alignment: 'right',
            })),
          ],
          ...shown.map(lineOf),
          ...(total === null
            ? []
            : [lineOf(total).map((each) => (typeof each === 'string' ? { text: each, bold: true } : each))]),
        ],
      },
      layout: 'hairlines',
    },
    ...(rows.length > shown.length
      ? [
          {
            text: $localize`${rows.length - shown.length}:count: more rows are in the file of the table.`,
            style: 'soft',
          },
        ]
      : []),
    ...(report.before === null
      ? []
      : [
          {
            text: $localize`In brackets: the period before, as far as this one has come.`,
            style: 'soft',
            margin: [0, 6, 0, 0],
          } as Content,
        ]),
    ...notes.map((text): Content => ({ text, style: 'soft' })),
    { text: $localize`How it is counted`, style: 'head' },
    ...columns.map((column): Content => ({
      text: [{ text: `${column.words}: `, bold: true }, column.how],
      ...{ fontSize: 8, color: ink.soft },
    })),
  ];
  const foot = $localize`Ash Kettle · ${sayDate(today, today)}:day:`;
  return {
    ...{ title: words, language, madeAt, foot, look: lookOfPages, content },
    pageWords: $localize`page {page} of {pages}`,
  };
}

const figuresOf = ({ figures }: Report, currency: string): Content => ({
  columns: figures.map(({ words, figure, type }) => ({
    stack: [
      { text: sayFigure(figure, type, currency), style: 'figure' },
      { text: words, style: 'soft' },
    ],
  })),
  margin: [0, 0, 0, 8],
});

/** The first column that is drawn, as bars across the page: the picture of the screen in what a printer knows. */
function pictureOf({ columns, rows, drawn }: Report, currency: string): Content[] {
  const at = columns.findIndex(({ key }) => key === drawn.columns[0]);
  const column = columns[at];
  if (column === undefined) return [];
  const bars = rows
    .map((line) => ({ name: line.name, figure: line.figures[at]!, value: line.figures[at]!.value ?? 0 }))
    .filter(({ value }) => value > 0)
    .slice(0, mostBars);
  const most = Math.max(...bars.map(({ value }) => value));
  if (bars.length === 0) return [];
  return [
    { text: column.words, style: 'heads', margin: [0, 4, 0, 2] },
    {
      table: {
        widths: [130, '*', 'auto'],
        body: bars.map(({ name, figure, value }): TableCell[] => [
          { text: name, fontSize: 8 },
          {
            canvas: [
              ...[
                {
                  type: 'rect',
                  x: 0,
                  y: 2,
                  h: 8,
                  w: Math.max(1, ((width - 230) * value) / most),
                  color: ink.link,
                } as const,
              ],
            ],
          },
          { text: sayFigure(figure, column.type, currency), fontSize: 8, alignment: 'right' },
        ]),
      },
      layout: 'noBorders',
    },
  ];
}
