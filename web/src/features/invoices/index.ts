export { DealInvoices } from './deal-invoices';
export { openInvoiceDialog } from './open-invoice-dialog';
