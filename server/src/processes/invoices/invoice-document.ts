import { sayDate } from '@kettle/core/time';
import {
  lookOfPages,
  partiesOf,
  pricedLines,
  sumsTable,
  type PdfDocument,
} from '../../records/documents/index';
import type { InvoiceContent } from './content';

interface Setting {
  readonly language: string;
  readonly madeAt: string;
}

/** An invoice or credit note as pages. */
export function invoiceDocument(content: InvoiceContent, { language, madeAt }: Setting): PdfDocument {
  const { seller, customer, person, number, title, issuedOn, dueOn, lines, totals, currency, creditOf } =
    content;
  const name =
    content.kind === 'credit'
      ? $localize`Credit note ${number}:number:`
      : $localize`Invoice ${number}:number:`;
  const said = (day: string) => sayDate(day, issuedOn);
  const place = (postcode: string, city: string) => [postcode, city].filter((part) => part !== '').join(' ');
  const about =
    creditOf === null
      ? $localize`${said(issuedOn)}:day: · to be paid until ${said(dueOn)}:until:`
      : $localize`${said(issuedOn)}:day: · of invoice ${creditOf.number}:number: of ${said(creditOf.issuedOn)}:then:`;
  return {
    ...{ title: name, language, madeAt, look: lookOfPages },
    foot: [seller.name, number].filter((part) => part !== '').join(' · '),
    pageWords: $localize`page {page} of {pages}`,
    content: [
      partiesOf({
        customer: [
          customer.name,
          person === customer.name ? '' : person,
          customer.street,
          place(customer.postcode, customer.city),
        ],
        ...{
          sellerName: seller.name,
          seller: [seller.street, place(seller.postcode, seller.city), seller.email],
        },
        vatId: seller.vatId,
      }),
      { text: name, style: 'title', margin: [0, 26, 0, 2] },
      { text: `${about} · ${title}`, style: 'soft', margin: [0, 0, 0, 10] },
      ...(content.reason === null
        ? []
        : [{ text: content.reason, margin: [0, 0, 0, 10] as [number, number, number, number] }]),
      pricedLines(lines, currency),
      sumsTable(totals, currency),
      ...(seller.payment === '' || creditOf !== null ? [] : [{ text: seller.payment, style: 'soft' }]),
    ],
  };
}
