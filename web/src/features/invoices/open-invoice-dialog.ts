import type { MatDialog } from '@angular/material/dialog';
import type { DealId, QuoteId } from '@kettle/contract';

export interface InvoiceAsked {
  readonly dealId: DealId;
  /** Left out, the deal's own lines are invoiced. */
  readonly quoteId: QuoteId | null;
}

/** Asks for the days of an invoice, issues it, and leads to it. */
export async function openInvoiceDialog(dialog: MatDialog, data: InvoiceAsked): Promise<void> {
  const { InvoiceDialog } = await import('./invoice-dialog');
  dialog.open(InvoiceDialog, { data, width: '420px' });
}
