import type { LeadStatus } from '@kettle/contract';
import { leadStatusAfter } from '@kettle/core/leads';
import type { TouchEntry } from '@kettle/core/touch';
import type { Queryable } from '../../platform/database/database';
import { instantOf, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import { noteChange } from '../../platform/change-feed/feed';

interface FollowedLead {
  id: IdBytes;
  status: LeadStatus;
  hand_status: LeadStatus;
  hand_at: string;
  wake_on: string | null;
}

/**
 * Takes a contact's live leads to where its journal says they are. One that was set aside until a day is taken up again by
 * the first touch from that day on. Relies on lead_contact.
 */
export async function followLeads(
  tx: Queryable,
  contactId: string,
  touches: readonly TouchEntry[],
): Promise<void> {
  const leads = await tx.rows<FollowedLead>(
    `SELECT id, status, hand_status, hand_at, wake_on FROM sales_lead
      WHERE contact_id = :contact AND (status IN ('untried', 'trying', 'in-talks') OR status = 'set-aside' AND wake_on IS NOT NULL)
      ORDER BY created_at, id`,
    { contact: bytesOf(contactId) },
  );
  for (const lead of leads) {
    const byHand = handOf(lead);
    const status = leadStatusAfter(byHand, touches);
    if (status === lead.status || (lead.status === 'set-aside' && status === 'untried')) continue;
    const since = touches.at(-1)?.at ?? byHand.at;
    await tx.change(
      `UPDATE sales_lead SET status = :status, status_since = :since, hand_status = :hand, hand_at = :handAt, wake_on = NULL,
              aside_reason = NULL, version = version + 1
        WHERE id = :id`,
      {
        id: lead.id,
        status,
        since: sqlInstant(since),
        hand: byHand.status,
        handAt: sqlInstant(byHand.at),
      },
    );
    await noteChange(tx, 'lead', idOf(lead.id), null);
  }
}

/** What a person last said of it; who set it aside until a day said that it begins again then. */
function handOf(lead: FollowedLead): { status: LeadStatus; at: string } {
  if (lead.status === 'set-aside') return { status: 'untried', at: `${lead.wake_on ?? ''}T00:00:00.000Z` };
  return { status: lead.hand_status, at: instantOf(lead.hand_at) };
}
