import { usualMinutes } from '@kettle/contract/base/channels';
import { balanceOf } from '@kettle/core/invoices';
import { sayToThePenny } from '@kettle/core/money';
import { localDate, sayDate } from '@kettle/core/time';
import type { Row } from '../../platform/database/schema.generated';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import type { JobKind } from '../../platform/jobs/worker';
import type { Work } from '../../platform/work/work';
import { insertTask } from '../../activity/tasks/index';
import { credited, invoiceNumber, paid, readInvoiceRow, sumsOf, type InvoiceRow } from './invoice-rows';

export const overdueKind = 'overdue-invoices';
/** Days until one that is still not paid is asked about again. */
const askAgainDays = 14;
const mostAtOnce = 200;

/**
 * A step for the owner of each deal with an invoice that is overdue, so that it stands in their Round: once, and again when it was done and
 * two weeks later nothing is paid.
 */
export const askOverdue: JobKind = {
  words: $localize`asking about invoices that are overdue`,
  effect: 'database',
  run: async (w) => {
    const rows = await w.rows<Row<'invoice', 'id'>>(
      `SELECT i.id FROM invoice i LEFT JOIN task t ON t.id = i.task_id
        WHERE i.kind = 'invoice' AND i.due_on < DATE(:now) AND i.total_minor > ${paid} + ${credited}
          AND (t.id IS NULL OR t.state <> 'open' AND t.finished_at < :now - INTERVAL ${askAgainDays} DAY)
        ORDER BY i.due_on, i.id LIMIT ${mostAtOnce}`,
      { now: sqlInstant(w.now) },
    );
    for (const { id } of rows) await ask(w, await readInvoiceRow(w, idOf<string>(id)));
  },
};

async function ask(w: Work, row: InvoiceRow): Promise<void> {
  const [owner] = await w.rows<Row<'app_user', 'zone'> & Row<'contact', 'phone'>>(
    'SELECT u.zone, c.phone FROM app_user u LEFT JOIN contact c ON c.id = :contact WHERE u.id = :owner',
    { owner: row.owner_id, contact: row.contact_id },
  );
  const today = localDate(w.now, owner!.zone);
  const channel = owner!.phone ? 'call' : 'email';
  const taskId = await insertTask(w, {
    ...{ channel, dueOn: today, promisedAt: null, minutes: usualMinutes[channel] },
    purpose: wordsOf(row, today).slice(0, 200),
    ...{ ownerId: idOf<string>(row.owner_id), contactId: idOrNull<string>(row.contact_id) },
    ...{ companyId: idOrNull<string>(row.company_id), dealId: idOf<string>(row.deal_id), run: null },
  });
  await w.later('UPDATE invoice SET task_id = :task WHERE id = :id', { id: row.id, task: bytesOf(taskId) });
}

const wordsOf = (row: InvoiceRow, today: string): string =>
  $localize`invoice ${invoiceNumber(row)}:number: is overdue: ${sayToThePenny(balanceOf(sumsOf(row)), row.currency)}:amount: since ${sayDate(row.due_on, today)}:day:`;

/** The step that asks about it is of no use any more. */
export async function dropAsking(w: Work, row: InvoiceRow, reason: string): Promise<void> {
  await w.change(
    `UPDATE task SET state = 'dropped', drop_reason = :reason, finished_at = :now, version = version + 1 WHERE id = :id AND state = 'open'`,
    { id: row.task_id, reason, now: sqlInstant(w.now) },
  );
}
