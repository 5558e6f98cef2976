import { numberFormat } from '@kettle/core/locale';
import { sayToThePenny } from '@kettle/core/money';
import { sayDate } from '@kettle/core/time';
import type { Content, TableCell } from 'pdfmake/interfaces';
import { ink, lookOfPages, type PdfDocument } from '../../records/documents/index';
import type { QuoteContent } from './content';

interface Setting {
  readonly language: string;
  readonly madeAt: string;
}

const figure = (value: number) => numberFormat({ maximumFractionDigits: 2 }).format(value);

/** A quote as pages: who offers what to whom, its lines with their tax, and what they come to. */
export function quoteDocument(content: QuoteContent, { language, madeAt }: Setting): PdfDocument {
  const { seller, customer, lines, totals, currency, number, n, title } = content;
  const money = (minor: number) => sayToThePenny(minor, currency);
  const right = (text: string, more: object = {}): TableCell => ({ text, alignment: 'right', ...more });
  const head = (text: string, isRight = false): TableCell => ({
    ...{ text, style: 'heads' },
    alignment: isRight ? 'right' : 'left',
  });
  const name =
    number === '' ? $localize`Draft` : n > 1 ? $localize`${number}:number:, version ${n}:n:` : number;
  const sums: TableCell[][] = [
    [$localize`net`, right(money(totals.netMinor))],
    ...totals.taxes.map(({ percent, netMinor, taxMinor }): TableCell[] => [
      $localize`tax ${figure(percent)}:percent: % on ${money(netMinor)}:net:`,
      right(money(taxMinor)),
    ]),
    [{ text: $localize`total`, bold: true }, right(money(totals.totalMinor), { bold: true })],
  ];
  const body: Content[] = [
    {
      columns: [
        { stack: customer, width: '*' },
        {
          stack: [
            { text: seller.name, bold: true },
            ...seller.address,
            seller.email,
            ...(seller.vatId === '' ? [] : [$localize`VAT number ${seller.vatId}:id:`]),
          ],
          ...{ width: 'auto', style: 'soft', alignment: 'right' },
        },
      ],
    },
    { text: title, style: 'title', margin: [0, 26, 0, 2] },
    {
      text: [
        $localize`Quote ${name}:name: · ${sayDate(content.sentOn, content.sentOn)}:day: · valid until ${sayDate(content.validUntil, content.sentOn)}:until:`,
      ],
      style: 'soft',
      margin: [0, 0, 0, 10],
    },
    ...(content.intro === '' ? [] : [{ text: content.intro, margin: [0, 0, 0, 10] } as Content]),
    {
      table: {
        headerRows: 1,
        // A line is never torn in two.
        dontBreakRows: true,
        widths: ['*', 'auto', 'auto', 'auto', 'auto', 'auto'],
        body: [
          [
            head($localize`what`),
            head($localize`quantity`, true),
            head($localize`price`, true),
            head($localize`less`, true),
            head($localize`tax`, true),
            head($localize`net`, true),
          ],
          ...lines.map((line): TableCell[] => [
            {
              stack: [
                line.name,
                ...(line.billing === 'yearly' ? [{ text: $localize`each year`, style: 'heads' }] : []),
                ...(line.isOptional
                  ? [
                      {
                        text: line.isChosen ? $localize`chosen` : $localize`optional, not in the total`,
                        style: 'heads',
                      },
                    ]
                  : []),
              ],
            },
            right(figure(line.quantity)),
            right(money(line.priceMinor)),
            right(line.discountPercent === 0 ? '' : `${figure(line.discountPercent)} %`),
            right(`${figure(line.taxPercent)} %`),
            right(money(line.netMinor), line.isOptional && !line.isChosen ? { color: ink.soft } : {}),
          ]),
        ],
      },
      layout: 'hairlines',
    },
    // Sums are read together.
    {
      table: { widths: ['*', 'auto'], body: sums },
      layout: 'hairlines',
      unbreakable: true,
      margin: [230, 10, 0, 10],
    },
    ...(content.closing === '' ? [] : [{ text: content.closing } as Content]),
    ...(seller.payment === ''
      ? []
      : [{ text: seller.payment, style: 'soft', margin: [0, 10, 0, 0] } as Content]),
  ];
  return {
    ...{ title: `${name} ${title}`, language, madeAt, look: lookOfPages, content: body },
    foot: [seller.name, name].filter((part) => part !== '').join(' · '),
    pageWords: $localize`page {page} of {pages}`,
  };
}
