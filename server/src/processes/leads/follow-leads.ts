import type { LeadStatus } from '@kettle/contract';
import { leadStatusAfter } from '@kettle/core/leads';
import type { TouchEntry } from '@kettle/core/touch';
import { readTouches, touchedContacts } from '../../activity/touch/index';
import { instantOf, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import type { Deriver, Work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

type FollowedLead = Row<
  'sales_lead',
  'id' | 'contact_id' | 'status' | 'status_since' | 'hand_status' | 'hand_at' | 'wake_on'
>;

/** Leads of everybody whose journal a unit of work wrote, and leads it wrote itself, are where their journal says they are. */
export const deriveLeadStatus: Deriver = async (w, written) => {
  const contacts = new Set([
    ...(await touchedContacts(w, written)),
    ...written.ids('sales_lead', 'contact_id', ['hand_status', 'hand_at', 'wake_on', 'contact_id']),
  ]);
  await followLeads(w, [...contacts]);
};

/** Relies on lead_contact. */
async function followLeads(w: Work, contactIds: readonly string[]): Promise<void> {
  if (contactIds.length === 0) return;
  const leads = await w.rows<FollowedLead>(
    `SELECT id, contact_id, status, status_since, hand_status, hand_at, wake_on FROM sales_lead WHERE contact_id IN (:contacts)
      ORDER BY created_at, id`,
    { contacts: contactIds.map((id) => bytesOf(id)) },
  );
  const touches = await readTouches(w, [...new Set(leads.map((lead) => idOf<string>(lead.contact_id)))]);
  for (const lead of leads) {
    const { status, since } = statusOf(lead, touches.get(idOf(lead.contact_id)) ?? []);
    if (status === lead.status && sqlInstant(since) === lead.status_since) continue;
    await w.change(
      'UPDATE sales_lead SET status = :status, status_since = :since, version = version + 1 WHERE id = :id',
      { id: lead.id, status, since: sqlInstant(since) },
    );
    w.note('lead', idOf(lead.id));
  }
}

interface Where {
  readonly status: LeadStatus;
  readonly since: string;
}

/** A lead is where a person last said, or further by what happened since; one set aside until a day begins again with the first touch from that day on. */
function statusOf(lead: FollowedLead, touches: readonly TouchEntry[]): Where {
  const said = { status: lead.hand_status, at: instantOf(lead.hand_at) };
  if (lead.hand_status !== 'set-aside' || lead.wake_on === null) return reached(said, touches);
  const woken = reached({ status: 'untried', at: `${lead.wake_on}T00:00:00.000Z` }, touches);
  return woken.status === 'untried' ? { status: said.status, since: said.at } : woken;
}

function reached(from: { status: LeadStatus; at: string }, touches: readonly TouchEntry[]): Where {
  const status = leadStatusAfter(from, touches);
  const by = touches.find((touch) => leadStatusAfter(from, [touch]) === status);
  return { status, since: status === from.status ? from.at : (by?.at ?? from.at) };
}
