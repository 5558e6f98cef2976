import type { AddPayment, InvoiceId } from '@kettle/contract';
import { balanceOf } from '@kettle/core/invoices';
import { sayToThePenny } from '@kettle/core/money';
import { localDate } from '@kettle/core/time';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, newId } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { PersonWork } from '../../platform/work/work';
import { invoiceNumber, sumsOf } from './invoice-rows';
import { lockInvoice } from './issue-invoice';
import { dropAsking } from './overdue';

/** @throws Problem `stale` for a credit note, `invalid-request` for a day that is ahead */
export async function addPayment(
  w: PersonWork,
  id: InvoiceId,
  { on, minor, words }: AddPayment,
): Promise<void> {
  const row = await lockInvoice(w, id);
  if (row.kind === 'credit') throw new Problem('stale', {}, { current: { state: 'credited' } });
  if (on > localDate(w.now, w.who.zone))
    throw new Problem(
      'invalid-request',
      {},
      { fields: [{ path: 'on', message: $localize`must not be ahead` }] },
    );
  await w.change(
    'INSERT INTO payment (id, invoice_id, on_day, minor, words, user_id, created_at) VALUES (:id, :invoice, :on, :minor, :words, :me, :now)',
    {
      ...{
        id: bytesOf(newId()),
        invoice: row.id,
        on,
        minor,
        words,
        me: bytesOf(w.who.id),
        now: sqlInstant(w.now),
      },
    },
  );
  const sums = sumsOf(row);
  if (balanceOf({ ...sums, paidMinor: sums.paidMinor + minor }) <= 0)
    await dropAsking(w, row, $localize`the invoice is paid`);
  w.say($localize`${sayToThePenny(minor, row.currency)}:amount: paid of ${invoiceNumber(row)}:number:`);
}

/** @throws Problem `not-found` */
export async function removePayment(w: PersonWork, id: InvoiceId, paymentId: string): Promise<void> {
  const row = await lockInvoice(w, id);
  const removed = await w.change('DELETE FROM payment WHERE id = :id AND invoice_id = :invoice', {
    id: bytesOf(paymentId),
    invoice: row.id,
  });
  if (removed === 0) throw new Problem('not-found');
  w.say($localize`A payment of ${invoiceNumber(row)}:number: removed`);
}
