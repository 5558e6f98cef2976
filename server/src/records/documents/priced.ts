import { numberFormat } from '@kettle/core/locale';
import { sayToThePenny } from '@kettle/core/money';
import type { Content, TableCell } from 'pdfmake/interfaces';
import { ink } from './look';

/** A line with a price, as pages show it. */
interface PricedLine {
  readonly name: string;
  readonly quantity: number;
  readonly priceMinor: number;
  readonly discountPercent: number;
  readonly taxPercent: number;
  readonly billing: 'once' | 'yearly';
  readonly netMinor: number;
  readonly isOptional?: boolean;
  readonly isChosen?: boolean;
}

interface Totals {
  readonly netMinor: number;
  readonly taxes: readonly {
    readonly percent: number;
    readonly netMinor: number;
    readonly taxMinor: number;
  }[];
  readonly totalMinor: number;
}

const figure = (value: number) => numberFormat({ maximumFractionDigits: 2 }).format(value);
const right = (text: string, more: object = {}): TableCell => ({ text, alignment: 'right', ...more });
const filled = (lines: readonly string[]) => lines.filter((line) => line !== '');

/** Whom it is for at the left, who it is from at the right. */
export const partiesOf = (of: {
  readonly customer: readonly string[];
  readonly sellerName: string;
  readonly seller: readonly string[];
  readonly vatId: string;
}): Content => ({
  columns: [
    { stack: filled(of.customer), width: '*' },
    {
      stack: [
        { text: of.sellerName, bold: true },
        ...filled(of.seller),
        ...(of.vatId === '' ? [] : [$localize`VAT number ${of.vatId}:id:`]),
      ],
      ...{ width: 'auto', style: 'soft', alignment: 'right' },
    },
  ],
});

/** Lines with quantity, price, discount, tax and net; none is torn in two, and each page repeats the heads. */
export function pricedLines(lines: readonly PricedLine[], currency: string): Content {
  const money = (minor: number) => sayToThePenny(minor, currency);
  const head = (text: string): TableCell => right(text, { style: 'heads' });
  const under = ({ billing, isOptional = false, isChosen = false }: PricedLine): string[] => [
    ...(billing === 'yearly' ? [$localize`each year`] : []),
    ...(isOptional ? [isChosen ? $localize`chosen` : $localize`optional, not in the total`] : []),
  ];
  const isOut = ({ isOptional = false, isChosen = false }: PricedLine) => isOptional && !isChosen;
  return {
    table: {
      headerRows: 1,
      dontBreakRows: true,
      widths: ['*', 'auto', 'auto', 'auto', 'auto', 'auto'],
      body: [
        [
          { text: $localize`what`, style: 'heads' },
          head($localize`quantity`),
          head($localize`price`),
          head($localize`less`),
          head($localize`tax`),
          head($localize`net`),
        ],
        ...lines.map((line): TableCell[] => [
          { stack: [line.name, ...under(line).map((text) => ({ text, style: 'heads' }))] },
          right(figure(line.quantity)),
          right(money(line.priceMinor)),
          right(line.discountPercent === 0 ? '' : `${figure(line.discountPercent)} %`),
          right(`${figure(line.taxPercent)} %`),
          right(money(line.netMinor), isOut(line) ? { color: ink.soft } : {}),
        ]),
      ],
    },
    layout: 'hairlines',
  };
}

/** What lines come to: net, the tax of each rate, and all of it; read together on one page. */
export function sumsTable({ netMinor, taxes, totalMinor }: Totals, currency: string): Content {
  const money = (minor: number) => sayToThePenny(minor, currency);
  return {
    table: {
      widths: ['*', 'auto'],
      body: [
        [$localize`net`, right(money(netMinor))],
        ...taxes.map((tax): TableCell[] => [
          $localize`tax ${figure(tax.percent)}:percent: % on ${money(tax.netMinor)}:net:`,
          right(money(tax.taxMinor)),
        ]),
        [{ text: $localize`total`, bold: true }, right(money(totalMinor), { bold: true })],
      ],
    },
    ...{ layout: 'hairlines', unbreakable: true, margin: [230, 10, 0, 10] },
  };
}
