import * as z from 'zod';
import { invoiceId } from '../base/ids';
import { byId, nothing, type RouteSpec } from '../base/route';
import { addPayment, createInvoice, creditInvoice, invoice, invoiceSummary, listInvoices } from './schemas';

const params = byId.extend({ id: invoiceId });

export const invoicesRoutes = {
  listInvoices: {
    access: 'rep',
    summary: 'Invoices and credit notes, the newest first; at most 500',
    query: listInvoices,
    reply: z.object({ invoices: z.array(invoiceSummary), hidden: z.int() }),
  },
  createInvoice: {
    access: 'rep',
    summary: 'An invoice from a quote that was accepted, or from a deal’s lines',
    body: createInvoice,
    reply: invoice,
  },
  getInvoice: { access: 'rep', summary: 'An invoice with its payments', params, reply: invoice },
  creditInvoice: {
    access: 'rep',
    summary: 'A credit note of all of an invoice',
    params,
    body: creditInvoice,
    reply: invoice,
  },
  addPayment: { access: 'rep', summary: 'What was paid', params, body: addPayment, reply: invoice },
  removePayment: {
    access: 'rep',
    summary: 'Remove a payment that was not one',
    params: params.extend({ paymentId: z.uuid() }),
    reply: invoice,
  },
  invoicePdf: { access: 'rep', summary: 'An invoice as PDF', params, perHour: 300, reply: nothing },
  invoiceXml: {
    access: 'rep',
    summary: 'An invoice as UBL 2.1 (EN 16931)',
    params,
    perHour: 300,
    reply: nothing,
  },
} as const satisfies Record<string, RouteSpec>;
