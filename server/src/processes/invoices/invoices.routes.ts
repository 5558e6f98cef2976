import { locale } from '@kettle/core/locale';
import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import { writePdf } from '../../records/documents/index';
import { invoiceDocument } from './invoice-document';
import { contentOf, readInvoice, readInvoiceRow, readInvoices } from './invoice-rows';
import { creditInvoice, createInvoice } from './issue-invoice';
import { addPayment, removePayment } from './payments';
import { writeUbl } from './write-ubl';

type Names =
  | 'listInvoices'
  | 'createInvoice'
  | 'getInvoice'
  | 'creditInvoice'
  | 'addPayment'
  | 'removePayment'
  | 'invoicePdf'
  | 'invoiceXml';

export function invoicesRoutes(services: Services): Pick<Handlers, Names> {
  const { database, clock } = services;
  return {
    listInvoices: ({ query, who }) => readInvoices(services, who, query),
    createInvoice: async ({ body, who }) =>
      readInvoice(services, who, await work(services, who, (w) => createInvoice(w, body))),
    getInvoice: ({ params, who }) => readInvoice(services, who, params.id),
    creditInvoice: async ({ params, body, who }) =>
      readInvoice(services, who, await work(services, who, (w) => creditInvoice(w, params.id, body))),
    addPayment: async ({ params, body, who }) => {
      await work(services, who, (w) => addPayment(w, params.id, body));
      return readInvoice(services, who, params.id);
    },
    removePayment: async ({ params, who }) => {
      await work(services, who, (w) => removePayment(w, params.id, params.paymentId));
      return readInvoice(services, who, params.id);
    },
    invoicePdf: async ({ params, response }) => {
      const content = contentOf(await readInvoiceRow(database, params.id));
      const bytes = await writePdf(
        services,
        invoiceDocument(content, { language: locale(), madeAt: clock.now() }),
      );
      response
        .set('Content-Disposition', `inline; filename="${content.number}.pdf"`)
        .set('Cache-Control', 'no-store')
        .type('application/pdf')
        .send(bytes);
      return 'answered';
    },
    invoiceXml: async ({ params, response }) => {
      const content = contentOf(await readInvoiceRow(database, params.id));
      response
        .set('Content-Disposition', `attachment; filename="${content.number}.xml"`)
        .set('Cache-Control', 'no-store')
        .type('application/xml; charset=utf-8')
        .send(writeUbl(content));
      return 'answered';
    },
  };
}
