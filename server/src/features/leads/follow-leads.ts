import type { LeadStatus } from '@kettle/contract';
import { leadStatusAfter } from '@kettle/core/leads';
import type { TouchEntry } from '@kettle/core/touch';
import type { Queryable } from '../../db/database';
import { instantOf, sqlInstant } from '../../db/values';
import { bytesOf, idOf, type IdBytes } from '../../ids';
import { noteChange } from '../changes/feed';

/** Takes a contact's live leads to where its journal says they are. Relies on lead_contact. */
export async function followLeads(
  tx: Queryable,
  contactId: string,
  touches: readonly TouchEntry[],
): Promise<void> {
  const leads = await tx.rows<{ id: IdBytes; status: LeadStatus; hand_status: LeadStatus; hand_at: string }>(
    `SELECT id, status, hand_status, hand_at FROM sales_lead
      WHERE contact_id = :contact AND status IN ('untried', 'trying', 'in-talks') ORDER BY created_at, id`,
    { contact: bytesOf(contactId) },
  );
  for (const lead of leads) {
    const byHand = { status: lead.hand_status, at: instantOf(lead.hand_at) };
    const status = leadStatusAfter(byHand, touches);
    if (status === lead.status) continue;
    const since = touches.at(-1)?.at ?? byHand.at;
    await tx.change(
      'UPDATE sales_lead SET status = :status, status_since = :since, version = version + 1 WHERE id = :id',
      {
        id: lead.id,
        status,
        since: sqlInstant(since),
      },
    );
    await noteChange(tx, 'lead', idOf(lead.id), null);
  }
}
