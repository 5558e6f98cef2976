import { offeredTotals } from '../quotes';
import { lineMinor } from '../deals';
import { ublOf, type IssuedInvoice, type Xml } from '.';

/**
 * The structure of UBL 2.1 (OASIS Standard, 4 November 2013) as far as we write it, and what EN 16931-1 asks for (BR and BR-CO rules): all written down
 * from memory, as neither schema nor rules come with a package at hand. Order of elements in UBL is part of their validity.
 */
const order: Readonly<Record<string, readonly string[]>> = {
  Invoice: [
    ...[
      'cbc:UBLVersionID',
      'cbc:CustomizationID',
      'cbc:ProfileID',
      'cbc:ID',
      'cbc:CopyIndicator',
      'cbc:UUID',
    ],
    ...[
      'cbc:IssueDate',
      'cbc:IssueTime',
      'cbc:DueDate',
      'cbc:InvoiceTypeCode',
      'cbc:Note',
      'cbc:TaxPointDate',
    ],
    ...['cbc:DocumentCurrencyCode', 'cbc:TaxCurrencyCode', 'cbc:AccountingCost', 'cbc:BuyerReference'],
    ...['cac:InvoicePeriod', 'cac:OrderReference', 'cac:BillingReference', 'cac:DespatchDocumentReference'],
    ...['cac:AccountingSupplierParty', 'cac:AccountingCustomerParty', 'cac:PayeeParty', 'cac:Delivery'],
    ...[
      'cac:PaymentMeans',
      'cac:PaymentTerms',
      'cac:AllowanceCharge',
      'cac:TaxTotal',
      'cac:LegalMonetaryTotal',
    ],
    'cac:InvoiceLine',
  ],
  CreditNote: [
    ...[
      'cbc:UBLVersionID',
      'cbc:CustomizationID',
      'cbc:ProfileID',
      'cbc:ID',
      'cbc:CopyIndicator',
      'cbc:UUID',
    ],
    ...['cbc:IssueDate', 'cbc:IssueTime', 'cbc:TaxPointDate', 'cbc:CreditNoteTypeCode', 'cbc:Note'],
    ...['cbc:DocumentCurrencyCode', 'cbc:TaxCurrencyCode', 'cbc:AccountingCost', 'cbc:BuyerReference'],
    ...['cac:InvoicePeriod', 'cac:DiscrepancyResponse', 'cac:OrderReference', 'cac:BillingReference'],
    ...['cac:AccountingSupplierParty', 'cac:AccountingCustomerParty', 'cac:PayeeParty', 'cac:Delivery'],
    ...[
      'cac:PaymentMeans',
      'cac:PaymentTerms',
      'cac:AllowanceCharge',
      'cac:TaxTotal',
      'cac:LegalMonetaryTotal',
    ],
    'cac:CreditNoteLine',
  ],
  'cac:BillingReference': ['cac:InvoiceDocumentReference'],
  'cac:InvoiceDocumentReference': ['cbc:ID', 'cbc:CopyIndicator', 'cbc:UUID', 'cbc:IssueDate'],
  'cac:AccountingSupplierParty': ['cac:Party'],
  'cac:AccountingCustomerParty': ['cac:Party'],
  'cac:Party': [
    ...[
      'cbc:EndpointID',
      'cac:PartyIdentification',
      'cac:PartyName',
      'cac:PostalAddress',
      'cac:PartyTaxScheme',
    ],
    ...['cac:PartyLegalEntity', 'cac:Contact'],
  ],
  'cac:PartyName': ['cbc:Name'],
  'cac:PostalAddress': [
    ...[
      'cbc:StreetName',
      'cbc:AdditionalStreetName',
      'cbc:CityName',
      'cbc:PostalZone',
      'cbc:CountrySubentity',
    ],
    ...['cac:AddressLine', 'cac:Country'],
  ],
  'cac:Country': ['cbc:IdentificationCode', 'cbc:Name'],
  'cac:PartyTaxScheme': ['cbc:RegistrationName', 'cbc:CompanyID', 'cac:TaxScheme'],
  'cac:TaxScheme': ['cbc:ID', 'cbc:Name'],
  'cac:PartyLegalEntity': ['cbc:RegistrationName', 'cbc:CompanyID'],
  'cac:Contact': ['cbc:ID', 'cbc:Name', 'cbc:Telephone', 'cbc:ElectronicMail'],
  'cac:PaymentTerms': ['cbc:ID', 'cbc:Note'],
  'cac:TaxTotal': ['cbc:TaxAmount', 'cbc:RoundingAmount', 'cac:TaxSubtotal'],
  'cac:TaxSubtotal': ['cbc:TaxableAmount', 'cbc:TaxAmount', 'cac:TaxCategory'],
  'cac:TaxCategory': ['cbc:ID', 'cbc:Name', 'cbc:Percent', 'cbc:TaxExemptionReasonCode', 'cac:TaxScheme'],
  'cac:LegalMonetaryTotal': [
    ...[
      'cbc:LineExtensionAmount',
      'cbc:TaxExclusiveAmount',
      'cbc:TaxInclusiveAmount',
      'cbc:AllowanceTotalAmount',
    ],
    ...['cbc:ChargeTotalAmount', 'cbc:PrepaidAmount', 'cbc:PayableRoundingAmount', 'cbc:PayableAmount'],
  ],
  'cac:InvoiceLine': [
    ...[
      'cbc:ID',
      'cbc:UUID',
      'cbc:Note',
      'cbc:InvoicedQuantity',
      'cbc:LineExtensionAmount',
      'cac:AllowanceCharge',
    ],
    ...['cac:TaxTotal', 'cac:Item', 'cac:Price'],
  ],
  'cac:CreditNoteLine': [
    ...['cbc:ID', 'cbc:UUID', 'cbc:Note', 'cbc:CreditedQuantity', 'cbc:LineExtensionAmount', 'cac:TaxTotal'],
    ...['cac:AllowanceCharge', 'cac:Item', 'cac:Price'],
  ],
  'cac:AllowanceCharge': [
    ...['cbc:ID', 'cbc:ChargeIndicator', 'cbc:AllowanceChargeReasonCode', 'cbc:AllowanceChargeReason'],
    ...[
      'cbc:MultiplierFactorNumeric',
      'cbc:PrepaidIndicator',
      'cbc:SequenceNumeric',
      'cbc:Amount',
      'cbc:BaseAmount',
    ],
  ],
  'cac:Item': [
    'cbc:Description',
    'cbc:PackQuantity',
    'cbc:PackSizeNumeric',
    'cbc:CatalogueIndicator',
    'cbc:Name',
    'cac:ClassifiedTaxCategory',
  ],
  'cac:ClassifiedTaxCategory': ['cbc:ID', 'cbc:Name', 'cbc:Percent', 'cac:TaxScheme'],
  'cac:Price': ['cbc:PriceAmount', 'cbc:BaseQuantity'],
};

const party = {
  ...{ name: 'Hollin Beck Water Care', street: '4 Mill Lane', postcode: 'MD3 4RT', city: 'Marrow' },
  ...{ country: 'GB', vatId: 'GB123456789', email: 'office@hollinbeck.example' },
};
const lines = [
  {
    name: 'Softener',
    quantity: 1,
    priceMinor: 385_000,
    discountPercent: 12.5,
    taxPercent: 20,
    billing: 'once',
  },
  {
    name: 'Salt & delivery',
    quantity: 2.5,
    priceMinor: 1_999,
    discountPercent: 0,
    taxPercent: 5,
    billing: 'yearly',
  },
  { name: 'Survey', quantity: 1, priceMinor: 0, discountPercent: 0, taxPercent: 0, billing: 'once' },
] as const;

function anInvoice(part: Partial<IssuedInvoice> = {}): IssuedInvoice {
  return {
    ...{
      kind: 'invoice',
      number: 'I-0001',
      title: 'Second softener',
      issuedOn: '2026-11-24',
      dueOn: '2026-12-24',
    },
    currency: 'GBP',
    seller: { ...party, payment: 'Bank of Marrowdale, 12-34-56' },
    customer: { ...party, name: 'Penrow Laundry', vatId: '', email: '', street: '' },
    lines: lines.map((line) => ({ ...line, netMinor: lineMinor(line) })),
    totals: offeredTotals(lines.map((line) => ({ ...line, isOptional: false, isChosen: false }))),
    ...{ creditOf: null, reason: null, ...part },
  };
}
const credit = anInvoice({
  ...{
    kind: 'credit',
    number: 'C-0001',
    reason: 'sent back',
    creditOf: { number: 'I-0001', issuedOn: '2026-11-24' },
  },
});

const childrenOf = ({ content }: Xml) =>
  typeof content === 'string' ? [] : content.filter((each): each is Xml => each !== null);
const all = (xml: Xml): Xml[] => [xml, ...childrenOf(xml).flatMap(all)];
const find = (xml: Xml, name: string): Xml[] => all(xml).filter((each) => each.name === name);
const textOf = (xml: Xml, name: string): string => String(find(xml, name)[0]?.content);
const amountsOf = (xml: Xml, name: string) =>
  find(xml, name).map(({ content }) => Math.round(Number(content) * 100));

describe.each([
  ['an invoice', anInvoice()],
  ['a credit note', credit],
])('%s', (_, issued) => {
  const xml = ublOf(issued);
  test('has its elements in the order of the schema, none that it does not know, and none that is empty', () => {
    for (const element of all(xml)) {
      const known = order[element.name];
      if (typeof element.content === 'string')
        expect([element.name, element.content]).not.toEqual([element.name, '']);
      else {
        expect([element.name, known === undefined]).toEqual([element.name, false]);
        const places = childrenOf(element).map(({ name }) => known!.indexOf(name));
        expect([element.name, places.includes(-1)]).toEqual([element.name, false]);
        expect([element.name, ...places]).toEqual([element.name, ...[...places].sort((a, b) => a - b)]);
      }
    }
  });

  test('says its currency with each amount, with the places of it', () => {
    const amounts = all(xml).filter(({ name }) => name.endsWith('Amount'));
    expect(amounts.length).toBeGreaterThan(10);
    for (const { content, attributes } of amounts) {
      expect(attributes).toEqual({ currencyID: 'GBP' });
      expect(content).toMatch(/^\d+\.\d{2}$/);
    }
  });

  test('adds up as BR-CO-10, 13, 14, 15, 16 and 17 have it', () => {
    const [total] = find(xml, 'cac:LegalMonetaryTotal');
    const of = (name: string) => amountsOf(total!, name)[0]!;
    const perLine = find(xml, issued.kind === 'credit' ? 'cac:CreditNoteLine' : 'cac:InvoiceLine');
    const nets = perLine.map(
      (line) => amountsOf({ ...line, content: childrenOf(line) }, 'cbc:LineExtensionAmount')[0]!,
    );
    expect(nets.reduce((sum, net) => sum + net, 0)).toBe(of('cbc:LineExtensionAmount'));
    expect(of('cbc:TaxExclusiveAmount')).toBe(of('cbc:LineExtensionAmount'));
    const subtotals = find(xml, 'cac:TaxSubtotal');
    const taxes = subtotals.map((each) => amountsOf(each, 'cbc:TaxAmount')[0]!);
    expect(amountsOf(find(xml, 'cac:TaxTotal')[0]!, 'cbc:TaxAmount')[0]).toBe(
      taxes.reduce((sum, tax) => sum + tax, 0),
    );
    expect(of('cbc:TaxInclusiveAmount')).toBe(
      of('cbc:TaxExclusiveAmount') + taxes.reduce((sum, tax) => sum + tax, 0),
    );
    expect(of('cbc:PayableAmount')).toBe(of('cbc:TaxInclusiveAmount'));
    for (const each of subtotals) {
      const percent = Number(textOf(each, 'cbc:Percent'));
      expect(amountsOf(each, 'cbc:TaxAmount')[0]).toBe(
        Math.floor((amountsOf(each, 'cbc:TaxableAmount')[0]! * percent) / 100 + 0.5),
      );
    }
  });

  test('has what EN 16931 asks of each (BR-01 to BR-16)', () => {
    for (const name of [
      'cbc:CustomizationID',
      'cbc:ID',
      'cbc:IssueDate',
      'cbc:DocumentCurrencyCode',
      'cbc:RegistrationName',
    ])
      expect([name, find(xml, name).length > 0]).toEqual([name, true]);
    expect(find(xml, 'cac:Country')).toHaveLength(2);
    expect(textOf(xml, issued.kind === 'credit' ? 'cbc:CreditNoteTypeCode' : 'cbc:InvoiceTypeCode')).toBe(
      issued.kind === 'credit' ? '381' : '380',
    );
  });
});

test('a credit note names its invoice (BT-25), and a discount is an allowance of its line', () => {
  expect(textOf(find(ublOf(credit), 'cac:BillingReference')[0]!, 'cbc:ID')).toBe('I-0001');
  const [allowance] = find(ublOf(anInvoice()), 'cac:AllowanceCharge');
  expect([textOf(allowance!, 'cbc:Amount'), textOf(allowance!, 'cbc:BaseAmount')]).toEqual([
    '481.25',
    '3850.00',
  ]);
});
