import { createHash } from 'node:crypto';
import type { ArrivedMail } from './mail-in-smtp';
import type { MailboxCursor } from './mail-in-imap';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, newId } from '../../platform/ids';
import { enqueue } from '../../platform/jobs/job-table';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

export const readArrivalKind = 'read-arrival';

/**
 * Keeps what arrived, byte for byte, and asks for it to be read; with a cursor, the mailbox counts as read that far in the
 * same transaction. The same bytes again are kept once.
 * @returns whether it was not here yet
 */
export async function storeArrival(
  services: Services,
  arrived: ArrivedMail,
  mailbox?: { readonly name: string; readonly cursor: MailboxCursor },
): Promise<boolean> {
  const id = newId<string>();
  return work(services, null, async (w) => {
    const added = await w.change(
      `INSERT IGNORE INTO mail_arrival (id, digest, envelope_from, envelope_to, checks, content, arrived_at)
       VALUES (:id, :digest, :from, :to, :checks, :content, :now)`,
      {
        id: bytesOf(id),
        digest: createHash('sha256').update(arrived.content).digest(),
        from: arrived.envelopeFrom?.slice(0, 254) ?? null,
        to: arrived.envelopeTo?.slice(0, 254) ?? null,
        checks: arrived.checks ? JSON.stringify(arrived.checks) : null,
        content: arrived.content,
        now: sqlInstant(w.now),
      },
    );
    if (added === 1)
      await enqueue(w, {
        kind: readArrivalKind,
        dedupeKey: `${readArrivalKind}:${id}`,
        payload: { arrivalId: id },
        dueAt: w.now,
      });
    if (mailbox) await writeCursor(w, mailbox.name, mailbox.cursor);
    return added === 1;
  });
}

async function writeCursor(
  tx: Queryable,
  name: string,
  { uidValidity, lastUid }: MailboxCursor,
): Promise<void> {
  await tx.change(
    `INSERT INTO mailbox_cursor (mailbox, uid_validity, last_uid) VALUES (:name, :uidValidity, :lastUid)
     ON DUPLICATE KEY UPDATE
       last_uid = IF(uid_validity = VALUES(uid_validity), GREATEST(last_uid, VALUES(last_uid)), VALUES(last_uid)),
       uid_validity = VALUES(uid_validity)`,
    { name, uidValidity: String(uidValidity), lastUid },
  );
}

export async function readCursor(db: Queryable, name: string): Promise<MailboxCursor | null> {
  const [row] = await db.rows<Row<'mailbox_cursor', 'uid_validity'> & { last_uid: number }>(
    'SELECT uid_validity, last_uid FROM mailbox_cursor WHERE mailbox = :name',
    { name },
  );
  return row === undefined ? null : { uidValidity: BigInt(row.uid_validity), lastUid: Number(row.last_uid) };
}
