export const invoicesEndpoints = {
  listInvoices: 'GET /api/invoices',
  createInvoice: 'POST /api/invoices',
  getInvoice: 'GET /api/invoices/:id',
  creditInvoice: 'POST /api/invoices/:id/credit',
  addPayment: 'POST /api/invoices/:id/payments',
  removePayment: 'DELETE /api/invoices/:id/payments/:paymentId',
  invoicePdf: 'GET /api/invoices/:id/pdf',
  invoiceXml: 'GET /api/invoices/:id/xml',
} as const;
