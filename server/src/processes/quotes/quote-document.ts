import { sayDate } from '@kettle/core/time';
import type { Content } from 'pdfmake/interfaces';
import {
  lookOfPages,
  partiesOf,
  pricedLines,
  sumsTable,
  type PdfDocument,
} from '../../records/documents/index';
import type { QuoteContent } from './content';

interface Setting {
  readonly language: string;
  readonly madeAt: string;
}

/** A quote as pages: who offers what to whom, its lines with their tax, and what they come to. */
export function quoteDocument(content: QuoteContent, { language, madeAt }: Setting): PdfDocument {
  const { seller, customer, lines, totals, currency, number, n, title } = content;
  const name =
    number === '' ? $localize`Draft` : n > 1 ? $localize`${number}:number:, version ${n}:n:` : number;
  const until = sayDate(content.validUntil, content.sentOn);
  const about = $localize`Quote ${name}:name: · ${sayDate(content.sentOn, content.sentOn)}:day: · valid until ${until}:until:`;
  const paragraph = (text: string, more: object = {}): Content[] => (text === '' ? [] : [{ text, ...more }]);
  return {
    ...{ title: `${name} ${title}`, language, madeAt, look: lookOfPages },
    foot: [seller.name, name].filter((part) => part !== '').join(' · '),
    pageWords: $localize`page {page} of {pages}`,
    content: [
      partiesOf({
        ...{ customer, sellerName: seller.name, seller: [...seller.address, seller.email] },
        vatId: seller.vatId,
      }),
      { text: title, style: 'title', margin: [0, 26, 0, 2] },
      { text: about, style: 'soft', margin: [0, 0, 0, 10] },
      ...paragraph(content.intro, { margin: [0, 0, 0, 10] }),
      pricedLines(lines, currency),
      sumsTable(totals, currency),
      ...paragraph(content.closing),
      ...paragraph(seller.payment, { style: 'soft', margin: [0, 10, 0, 0] }),
    ],
  };
}
