import type { PlainDate } from '@kettle/contract';
import { lineMinor } from '../deals';
import { majorOf, placesOf } from '../money';

/** A party to an invoice. */
export interface InvoiceParty {
  readonly name: string;
  readonly street: string;
  readonly postcode: string;
  readonly city: string;
  /** ISO 3166-1 alpha-2. */
  readonly country: string;
  readonly vatId: string;
  readonly email: string;
}

export interface InvoicedLine {
  readonly name: string;
  readonly quantity: number;
  readonly priceMinor: number;
  readonly discountPercent: number;
  readonly taxPercent: number;
  readonly billing: 'once' | 'yearly';
  readonly netMinor: number;
}

/** An invoice, or a credit note, as it was issued. */
export interface IssuedInvoice {
  readonly kind: 'invoice' | 'credit';
  readonly number: string;
  readonly title: string;
  readonly issuedOn: PlainDate;
  readonly dueOn: PlainDate;
  readonly currency: string;
  readonly seller: InvoiceParty & { readonly payment: string };
  readonly customer: InvoiceParty;
  readonly lines: readonly InvoicedLine[];
  readonly totals: {
    readonly netMinor: number;
    readonly taxes: readonly {
      readonly percent: number;
      readonly netMinor: number;
      readonly taxMinor: number;
    }[];
    readonly taxMinor: number;
    readonly totalMinor: number;
  };
  /** Of a credit note: the invoice that it is of, and why. */
  readonly creditOf: { readonly number: string; readonly issuedOn: PlainDate } | null;
  readonly reason: string | null;
}

/** An element: its name with its prefix, its attributes, and a text or what is in it. Null is left out. */
export interface Xml {
  readonly name: string;
  readonly attributes?: Readonly<Record<string, string>>;
  readonly content: string | readonly (Xml | null)[];
}

const basic = (name: string, content: string, attributes?: Xml['attributes']): Xml => ({
  name: `cbc:${name}`,
  content,
  ...(attributes !== undefined && { attributes }),
});
/** One that may be empty is not said at all: UBL has no empty elements. */
const maybe = (name: string, content: string): Xml | null => (content === '' ? null : basic(name, content));
const group = (name: string, ...content: (Xml | null)[]): Xml => ({ name: `cac:${name}`, content });

const namespaces = {
  cac: 'urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2',
  cbc: 'urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2',
} as const;

/**
 * An invoice or credit note in UBL 2.1 (OASIS), in the order of its schema, with what EN 16931 asks for. The structure is written down from memory:
 * no package or distribution at hand carries the schema.
 * Standard rate is category S, none is Z. Codes: 380 invoice, 381 credit note (UNTDID 1001), C62 piece (UN/ECE 20).
 */
export function ublOf(invoice: IssuedInvoice): Xml {
  const { kind, currency, creditOf } = invoice;
  const isCredit = kind === 'credit';
  const root = isCredit ? 'CreditNote' : 'Invoice';
  const money = (minor: number) => majorOf(minor, currency).toFixed(placesOf(currency));
  const amount = (name: string, minor: number) => basic(name, money(minor), { currencyID: currency });
  const { totals } = invoice;
  return {
    name: root,
    attributes: {
      xmlns: `urn:oasis:names:specification:ubl:schema:xsd:${root}-2`,
      'xmlns:cac': namespaces.cac,
      'xmlns:cbc': namespaces.cbc,
    },
    content: [
      basic('CustomizationID', 'urn:cen.eu:en16931:2017'),
      basic('ID', invoice.number),
      basic('IssueDate', invoice.issuedOn),
      isCredit ? null : basic('DueDate', invoice.dueOn),
      isCredit ? basic('CreditNoteTypeCode', '381') : basic('InvoiceTypeCode', '380'),
      maybe('Note', [invoice.title, invoice.reason ?? ''].filter((part) => part !== '').join(': ')),
      basic('DocumentCurrencyCode', currency),
      creditOf === null
        ? null
        : group(
            'BillingReference',
            group(
              'InvoiceDocumentReference',
              basic('ID', creditOf.number),
              basic('IssueDate', creditOf.issuedOn),
            ),
          ),
      group('AccountingSupplierParty', partyOf(invoice.seller)),
      group('AccountingCustomerParty', partyOf(invoice.customer)),
      invoice.seller.payment === '' ? null : group('PaymentTerms', basic('Note', invoice.seller.payment)),
      group(
        'TaxTotal',
        amount('TaxAmount', totals.taxMinor),
        ...totals.taxes.map(({ percent, netMinor, taxMinor }) =>
          group(
            'TaxSubtotal',
            amount('TaxableAmount', netMinor),
            amount('TaxAmount', taxMinor),
            categoryOf('TaxCategory', percent),
          ),
        ),
      ),
      group(
        'LegalMonetaryTotal',
        amount('LineExtensionAmount', totals.netMinor),
        amount('TaxExclusiveAmount', totals.netMinor),
        amount('TaxInclusiveAmount', totals.totalMinor),
        amount('PayableAmount', totals.totalMinor),
      ),
      ...invoice.lines.map((line, at) => lineOf(line, at, { isCredit, amount })),
    ],
  };
}

const partyOf = ({ name, street, postcode, city, country, vatId, email }: InvoiceParty): Xml =>
  group(
    'Party',
    group('PartyName', basic('Name', name)),
    group(
      'PostalAddress',
      maybe('StreetName', street),
      maybe('CityName', city),
      maybe('PostalZone', postcode),
      group('Country', basic('IdentificationCode', country)),
    ),
    vatId === '' ? null : group('PartyTaxScheme', basic('CompanyID', vatId), scheme),
    group('PartyLegalEntity', basic('RegistrationName', name)),
    email === '' ? null : group('Contact', basic('ElectronicMail', email)),
  );

const scheme = group('TaxScheme', basic('ID', 'VAT'));

const categoryOf = (name: string, percent: number): Xml =>
  group(name, basic('ID', percent === 0 ? 'Z' : 'S'), basic('Percent', String(percent)), scheme);

interface LineSetting {
  readonly isCredit: boolean;
  readonly amount: (name: string, minor: number) => Xml;
}

function lineOf(line: InvoicedLine, at: number, { isCredit, amount }: LineSetting): Xml {
  const wholeMinor = lineMinor({ ...line, discountPercent: 0 });
  return group(
    isCredit ? 'CreditNoteLine' : 'InvoiceLine',
    basic('ID', String(at + 1)),
    basic(isCredit ? 'CreditedQuantity' : 'InvoicedQuantity', String(line.quantity), { unitCode: 'C62' }),
    amount('LineExtensionAmount', line.netMinor),
    line.discountPercent === 0
      ? null
      : group(
          'AllowanceCharge',
          basic('ChargeIndicator', 'false'),
          basic('AllowanceChargeReason', 'Discount'),
          basic('MultiplierFactorNumeric', String(line.discountPercent)),
          amount('Amount', wholeMinor - line.netMinor),
          amount('BaseAmount', wholeMinor),
        ),
    group('Item', basic('Name', line.name), categoryOf('ClassifiedTaxCategory', line.taxPercent)),
    group('Price', amount('PriceAmount', line.priceMinor)),
  );
}
