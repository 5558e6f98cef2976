import type { TextId } from '@kettle/contract';
import { isDuplicateKey, type Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, newId } from '../../platform/ids';
import { enqueue } from '../../platform/jobs/job-table';

export interface NewText {
  readonly idempotencyKey: string;
  readonly userId: string;
  readonly contactId: string;
  readonly to: string;
  readonly text: string;
  readonly templateId: string | null;
  readonly run: { readonly id: string; readonly step: number } | null;
  readonly entryId: string | null;
  readonly dueAt: string;
}

export const sendTextKind = 'send-text';
/** Puts a text into the outbox. The same key again is the same text. */
export async function queueText(tx: Queryable, text: NewText): Promise<void> {
  const id = newId<TextId>();
  try {
    await tx.change(
      `INSERT INTO text_message (id, direction, state, number, body, gateway_id, user_id, contact_id, run_id, run_step, template_id,
          entry_id, at)
       VALUES (:id, 'out', 'waiting', :to, :text, :key, :user, :contact, :run, :step, :template, :entry, :at)`,
      {
        id: bytesOf(id),
        to: text.to,
        text: text.text,
        // Until the gateway has given its own id, ours holds the place: it is unique too.
        key: text.idempotencyKey,
        user: bytesOf(text.userId),
        contact: bytesOf(text.contactId),
        run: bytesOf(text.run?.id),
        step: text.run?.step ?? null,
        template: bytesOf(text.templateId),
        entry: bytesOf(text.entryId),
        at: sqlInstant(text.dueAt),
      },
    );
  } catch (error) {
    if (isDuplicateKey(error)) return;
    throw error;
  }
  await enqueue(tx, {
    kind: sendTextKind,
    dedupeKey: `${sendTextKind}:${id}:0`,
    payload: { textId: id },
    dueAt: text.dueAt,
  });
}
