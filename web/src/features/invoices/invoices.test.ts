import { Router } from '@angular/router';
import type { Invoice } from '@kettle/contract';
import { showPart, type Part } from '../../../testing/part';
import { CreditDialog } from './credit-dialog';
import { DealInvoices } from './deal-invoices';
import { InvoiceDialog } from './invoice-dialog';
import { InvoicePage } from './invoice-page';
import { InvoicesPage } from './invoices-page';
import { PaymentDialog } from './payment-dialog';

const said = (root: Element) => root.textContent.replace(/\s+/g, ' ').trim();
const id = '01938f6c-0000-7000-8000-0000000000f1';
const dealId = '01938f6c-0000-7000-8000-0000000000d1';

const summary = (part: object = {}) => ({
  ...{ id, number: 'I-0007', kind: 'invoice', state: 'overdue', dealId, dealName: 'Second softener' },
  ...{ customer: 'Penrow Laundry', ownerName: 'Imogen Thorne', currency: 'GBP', issuedOn: '2026-10-20' },
  ...{ dueOn: '2026-11-19', totalMinor: 108_000, paidMinor: 8_000, creditedMinor: 0, balanceMinor: 100_000 },
  ...part,
});
const anInvoice = (part: object = {}): Invoice =>
  ({
    ...summary(),
    title: 'Second softener',
    lines: [
      {
        ...{ name: 'Softener', quantity: 1, priceMinor: 100_000, discountPercent: 10, taxPercent: 20 },
        ...{ billing: 'once', netMinor: 90_000 },
      },
    ],
    totals: {
      ...{ netMinor: 90_000, taxMinor: 18_000, totalMinor: 108_000 },
      taxes: [{ percent: 20, netMinor: 90_000, taxMinor: 18_000 }],
    },
    payments: [
      {
        id: dealId,
        on: '2026-11-01',
        minor: 8_000,
        words: 'cash',
        by: 'Imogen Thorne',
        at: '2026-11-01T09:00:00.000Z',
      },
    ],
    ...{ creditOf: null, credits: [], reason: null, mayChange: true, ...part },
  }) as unknown as Invoice;

const submit = async (part: Part<unknown>) => {
  part.root.querySelector('form')!.dispatchEvent(new Event('submit'));
  await part.settle();
};

test('an invoice says what is still to be paid first; a payment is removed with an undo', async () => {
  const part = await showPart(InvoicePage, { inputs: { id } });
  await part.answer(`/api/invoices/${id}`, anInvoice());
  expect(said(part.root.querySelector('.facts')!)).toContain('to be paid£1,000.00');
  expect(said(part.root.querySelector('.page-head')!)).toContain('overdue');
  expect(said(part.root.querySelector('.sums')!)).toBe('net£900.00tax 20 %£180.00total£1,080.00');
  await part.click(part.button('Remove the payment of £80.00'));
  await part.answer(
    `/api/invoices/${id}/payments/${dealId}`,
    anInvoice({ payments: [], paidMinor: 0, balanceMinor: 108_000 }),
  );
  expect(said(part.root.querySelector('.facts')!)).toContain('£1,080.00');
  expect(document.body.textContent).toContain('The payment of £80.00 is removed.');
});

test('a credit note names its invoice and why, and is neither paid nor credited', async () => {
  const part = await showPart(InvoicePage, { inputs: { id } });
  await part.answer(
    `/api/invoices/${id}`,
    anInvoice({
      kind: 'credit',
      state: 'credited',
      creditOf: { id: dealId, number: 'I-0001' },
      reason: 'sent back',
      payments: [],
    }),
  );
  expect(said(part.root.querySelector('.facts')!)).toContain('of invoiceI-0001');
  expect([...part.root.querySelectorAll('button')].map(said)).toEqual([]);
});

test('a payment is of all that is left, unless another amount is typed', async () => {
  const part = await showPart(PaymentDialog, { data: anInvoice() });
  await submit(part);
  const asked = part.asked(`/api/invoices/${id}/payments`);
  expect(asked.request.body).toEqual({ minor: 100_000, on: '2026-11-24', words: '' });
  asked.flush(anInvoice({ balanceMinor: 0 }));
  await part.settle();
  expect(document.body.textContent).toContain('£1,000.00 is paid.');
});

test('a credit note wants its reason', async () => {
  const part = await showPart(CreditDialog, { data: anInvoice() });
  await submit(part);
  expect(part.server.match(() => true)).toHaveLength(0);
  await part.type(part.field('Why'), 'sent back');
  await submit(part);
  expect(part.asked(`/api/invoices/${id}/credit`).request.body).toEqual({
    reason: 'sent back',
    issuedOn: '2026-11-24',
  });
});

test('one is issued in one step, to be paid after the usual days', async () => {
  const part = await showPart(InvoiceDialog, { data: { dealId, quoteId: null } });
  await part.answer('/api/selling-settings', {
    ...{ version: 1, street: '', postcode: '', city: '', vatId: '', email: '', payment: '', taxPercent: 20 },
    ...{ validDays: 30, remindDays: 5, paymentDays: 14, intro: '', closing: '', blocks: [] },
  });
  const navigate = jest
    .spyOn(part.fixture.debugElement.injector.get(Router), 'navigate')
    .mockResolvedValue(true);
  await submit(part);
  const asked = part.asked('/api/invoices');
  expect(asked.request.body).toEqual({ dealId, quoteId: null, issuedOn: '2026-11-24', dueOn: '2026-12-08' });
  asked.flush(anInvoice());
  await part.settle();
  expect(navigate).toHaveBeenCalledWith(['/invoices', id]);
});

test('a won deal has its invoices and is invoiced; an open one is not', async () => {
  const part = await showPart(DealInvoices, {
    inputs: { deal: { id: dealId, status: 'won', ownerId: null } as never },
  });
  await part.answer('/api/invoices', {
    invoices: [summary(), summary({ id: dealId, kind: 'credit', number: 'C-0001' })],
    hidden: 0,
  });
  expect([...part.root.querySelectorAll('li')].map(said)).toEqual([
    'I-0007overdue£1,080',
    'C-0001credit note£1,080',
  ]);
  expect(part.button('Invoice …')).toBeDefined();
  part.fixture.componentRef.setInput('deal', { id: dealId, status: 'open', ownerId: null });
  await part.settle();
  expect(() => part.button('Invoice …')).toThrow();
});

test('the list says what is to be paid by currency, and what it does not show', async () => {
  const part = await showPart(InvoicesPage);
  expect(part.asked('/api/invoices').request.params.get('show')).toBe('open');
  part.fixture.componentRef.setInput('show', 'all');
  await part.settle();
  await part.answer('/api/invoices', {
    invoices: [
      summary(),
      summary({ id: dealId, number: 'I-0008', currency: 'EUR', balanceMinor: 5_000, state: 'open' }),
    ],
    hidden: 3,
  });
  expect(said(part.root.querySelector('[role=status]')!)).toContain('£1,000.00 to be paid €50.00 to be paid');
  expect(said(part.root.querySelector('[role=status]')!)).toContain('3 not shown');
  expect([...part.root.querySelectorAll('tbody tr')].map(said)[0]).toContain('Penrow Laundry');
});
