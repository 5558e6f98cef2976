import { randomUUID } from 'node:crypto';
import type { Deal, Invoice } from '@kettle/contract';
import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal } from '../../../testing/people';
import { readPdf } from '../../../testing/read-pdf';
import { askForDailyWork } from '../../features';

let installation: Installation;
let rep: Caller;
let admin: Caller;
let deal: Deal;
let contact: Awaited<ReturnType<typeof aContact>>;
beforeEach(async () => {
  installation = await install();
  admin = await installation.as('admin', 'Petra Lindholm');
  rep = await installation.as('rep', 'Imogen Thorne');
  await installation.services.database.change("UPDATE session SET expires_at = '2027-12-01'");
  contact = await aContact(rep);
  deal = await aDeal(rep, contact.id, { name: 'Second softener', lines: [softener] });
});
afterEach(() => installation.close());

const softener = {
  ...{ productId: null, name: 'Softener & salt', quantity: 1, priceMinor: 100_000, discountPercent: 10 },
  billing: 'once',
};
const issue = (part: object = {}, who = rep) =>
  who.ok('createInvoice', {
    body: { dealId: deal.id, issuedOn: '2026-11-24', dueOn: '2026-12-24', ...part },
  });
const pay = (invoice: Invoice, minor: number, part: object = {}, changeId?: string) =>
  rep.ok('addPayment', {
    params: { id: invoice.id },
    body: { on: '2026-11-24', minor, ...part },
    ...(changeId !== undefined && { changeId }),
  });
const credit = (invoice: Invoice) =>
  rep.ok('creditInvoice', {
    params: { id: invoice.id },
    body: { reason: 'sent back', issuedOn: '2026-11-24' },
  });
const seen = ({ id }: { id: string }) => rep.ok('getInvoice', { params: { id } });
const steps = async () =>
  (await rep.ok('listTasks', { query: { dealId: deal.id } })).tasks.map(({ purpose }) => purpose);

describe('an invoice', () => {
  test('in one step from a deal’s lines with the usual tax; its balance follows payments, and an undo of them', async () => {
    const invoice = await issue();
    expect(invoice).toMatchObject({
      ...{ number: 'I-0001', kind: 'invoice', state: 'open', customer: contact.companyName },
      ...{ totalMinor: 108_000, paidMinor: 0, balanceMinor: 108_000 },
      totals: { netMinor: 90_000, taxMinor: 18_000 },
    });
    await pay(invoice, 8_000, { words: 'cash' });
    const changeId = randomUUID();
    const paid = await pay(invoice, 100_000, {}, changeId);
    expect(paid).toMatchObject({ state: 'paid', paidMinor: 108_000, balanceMinor: 0 });
    await rep.ok('undoChange', { params: { id: changeId } });
    expect(await seen(invoice)).toMatchObject({ state: 'open', balanceMinor: 100_000 });
    const [cash] = (await seen(invoice)).payments;
    const removed = await rep.ok('removePayment', { params: { id: invoice.id, paymentId: cash!.id } });
    expect(removed).toMatchObject({ balanceMinor: 108_000, payments: [] });
    const over = await pay(invoice, 110_000);
    expect(over).toMatchObject({ state: 'paid', balanceMinor: -2_000 });
  });

  test('of a quote that was accepted, with what was taken of it; once, until it is credited', async () => {
    const option = { ...softener, name: 'Second one', taxPercent: 0, isOptional: true };
    const draft = await rep.ok('createQuote', { body: { dealId: deal.id } });
    const { title, intro, closing, validUntil, version } = draft;
    const lines = [{ ...softener, taxPercent: 20 }, option, { ...option, name: 'Third one' }];
    const changed = await rep.ok('changeQuote', {
      params: { id: draft.id },
      body: { title, intro, closing, validUntil, version, lines },
    });
    const early = await rep.call('createInvoice', {
      body: { dealId: deal.id, quoteId: draft.id, issuedOn: '2026-11-24', dueOn: '2026-12-24' },
    });
    expect(early.body.fields).toEqual([{ path: 'quoteId', message: 'was not accepted' }]);
    const sent = await rep.ok('sendQuote', {
      params: { id: draft.id },
      body: { version: changed.version, mail: null },
    });
    await rep.ok('decideQuote', {
      params: { id: draft.id },
      body: { version: sent.version, as: 'accepted', name: 'Maud', chosen: [1] },
    });
    const invoice = await issue({ quoteId: draft.id });
    expect(invoice.lines.map(({ name }) => name)).toEqual(['Softener & salt', 'Second one']);
    expect(invoice.totalMinor).toBe(108_000 + 90_000);
    const again = await rep.call('createInvoice', {
      body: { dealId: deal.id, quoteId: draft.id, issuedOn: '2026-11-24', dueOn: '2026-12-24' },
    });
    expect(again.body.code).toBe('already-exists');
    await credit(invoice);
    expect((await issue({ quoteId: draft.id })).number).toBe('I-0002');
  });

  test('numbers have no gaps, however many are issued at once; credit notes have their own', async () => {
    const issued = await Promise.all(Array.from({ length: 5 }, () => issue()));
    expect(issued.map(({ number }) => number).sort()).toEqual([
      'I-0001',
      'I-0002',
      'I-0003',
      'I-0004',
      'I-0005',
    ]);
    expect((await credit(issued[0]!)).number).toBe('C-0001');
    expect((await issue()).number).toBe('I-0006');
  });

  test('is taken back by a credit note, once; what the deal becomes later changes neither', async () => {
    const invoice = await issue();
    const note = await credit(invoice);
    expect(note).toMatchObject({
      kind: 'credit',
      creditOf: { number: 'I-0001' },
      reason: 'sent back',
      totalMinor: 108_000,
    });
    expect(await seen(invoice)).toMatchObject({
      state: 'credited',
      balanceMinor: 0,
      credits: [{ number: 'C-0001' }],
    });
    const again = await rep.call('creditInvoice', {
      params: { id: invoice.id },
      body: { reason: 'again', issuedOn: '2026-11-24' },
    });
    expect([again.status, again.body.code]).toEqual([409, 'stale']);
    const late = await rep.call('addPayment', {
      params: { id: note.id },
      body: { on: '2026-11-24', minor: 1 },
    });
    expect(late.body.code).toBe('stale');
  });

  test('refuses what cannot be at its field', async () => {
    const refused = async (body: object) => {
      const reply = await rep.call('createInvoice', {
        body: { dealId: deal.id, issuedOn: '2026-11-24', dueOn: '2026-12-24', ...body },
      });
      return [reply.status, reply.body.fields?.[0]?.path];
    };
    expect(await refused({ issuedOn: '2026-11-25' })).toEqual([400, 'issuedOn']);
    expect(await refused({ dueOn: '2026-11-23' })).toEqual([400, 'dueOn']);
    const empty = await aDeal(rep, contact.id, { amountMinor: 0 });
    expect(await refused({ dealId: empty.id })).toEqual([400, 'dealId']);
    const invoice = await issue();
    const ahead = await rep.call('addPayment', {
      params: { id: invoice.id },
      body: { on: '2026-11-25', minor: 1 },
    });
    expect(ahead.body.fields[0].path).toBe('on');
    const nothing = await rep.call('addPayment', {
      params: { id: invoice.id },
      body: { on: '2026-11-24', minor: 0 },
    });
    expect(nothing.body.fields[0]).toMatchObject({ path: 'minor', message: 'must be more than nothing' });
  });

  test('a colleague’s is not paid or credited by others, nor read where records are one’s own', async () => {
    const invoice = await issue();
    const other = await installation.as('rep', 'Owen Marsh');
    const paid = await other.call('addPayment', {
      params: { id: invoice.id },
      body: { on: '2026-11-24', minor: 1 },
    });
    expect(paid.body.code).toBe('not-yours');
    const settings = await admin.ok('rightsSettings');
    await admin.ok('changeRightsSettings', { body: { ...settings, reading: 'own' } });
    for (const name of ['getInvoice', 'invoicePdf', 'invoiceXml'] as const)
      expect((await other.call(name, { params: { id: invoice.id } })).status).toBe(404);
    expect((await other.ok('listInvoices', { query: { owner: 'all' } })).invoices).toEqual([]);
  });
});

describe('one that is overdue', () => {
  const day = async (on: string) => {
    installation.clock.set(`${on}T09:10:00.000Z`);
    await askForDailyWork(installation.services);
    await installation.work();
  };
  const words = 'invoice I-0001 is overdue: £1,080.00 since Thu 24 Dec';

  test('is a step of the deal’s owner, once; gone when it is paid', async () => {
    const invoice = await issue();
    await day('2026-12-24');
    expect(await steps()).not.toContain(words);
    await day('2026-12-25');
    await day('2026-12-26');
    expect((await steps()).filter((each) => each === words)).toHaveLength(1);
    expect((await rep.ok('listInvoices', { query: { show: 'overdue' } })).invoices).toHaveLength(1);
    await pay(invoice, 108_000, { on: '2026-12-26' });
    expect(await steps()).not.toContain(words);
    expect(await rep.ok('listInvoices', { query: { show: 'overdue' } })).toMatchObject({
      invoices: [],
      hidden: 1,
    });
  });

  test('is asked about again two weeks after the step was done and nothing was paid', async () => {
    await issue();
    await day('2026-12-25');
    const { tasks } = await rep.ok('listTasks', { query: { dealId: deal.id } });
    const step = tasks.find(({ purpose }) => purpose === words)!;
    await rep.ok('dropTask', { params: { id: step.id }, body: { reason: 'asked', version: step.version } });
    await day('2027-01-04');
    expect((await steps()).filter((each) => each === words)).toHaveLength(0);
    await day('2027-01-10');
    expect((await steps()).filter((each) => each.startsWith('invoice I-0001'))).toHaveLength(1);
  });
});

describe('as a file', () => {
  test('UBL is well-formed, read by another library, with what cannot be said in XML left out', async () => {
    const odd = await aDeal(rep, contact.id, { name: 'A\u0000B <&> \u000b end', lines: [softener] });
    const invoice = await issue({ dealId: odd.id });
    const reply = await rep.call('invoiceXml', { params: { id: invoice.id } });
    const text = reply.text ?? (reply.body as Buffer).toString('utf8');
    expect(XMLValidator.validate(text)).toBe(true);
    const read = new XMLParser({ removeNSPrefix: true, parseTagValue: false, ignoreAttributes: false }).parse(
      text,
    ) as {
      Invoice: { ID: string; Note: string; LegalMonetaryTotal: { PayableAmount: { '#text': string } } };
    };
    expect(read.Invoice.ID).toBe('I-0001');
    expect(read.Invoice.LegalMonetaryTotal.PayableAmount['#text']).toBe('1080.00');
    expect(read.Invoice.Note).toBe('AB <&>  end');
  });

  test('PDF has its number, days, sums and where it is paid', async () => {
    await admin.ok('changeSellingSettings', {
      body: { ...(await admin.ok('sellingSettings')), payment: 'Bank of Marrowdale, 12-34-56' },
    });
    const invoice = await issue();
    const { text } = readPdf((await rep.call('invoicePdf', { params: { id: invoice.id } })).body as Buffer);
    for (const words of [
      'Invoice I-0001',
      'Thu 24 Dec',
      'Softener & salt',
      '£1,080.00',
      'Bank of Marrowdale',
    ])
      expect(text).toContain(words);
    const note = await credit(invoice);
    expect(
      readPdf((await rep.call('invoicePdf', { params: { id: note.id } })).body as Buffer).text,
    ).toContain('Credit note C-0001');
  });
});
