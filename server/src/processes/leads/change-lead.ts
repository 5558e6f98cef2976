import type { ChangeLead, Lead, LeadStatus, setLeadAside as setting, UserId } from '@kettle/contract';
import { leadStatusLabel } from '@kettle/contract';
import { leadPlain, type LeadPlain } from '@kettle/contract/base/catalogues';
import { differencesOf } from '@kettle/core/fields';
import { isLive } from '@kettle/core/leads';
import { localDate } from '@kettle/core/time';
import type * as z from 'zod';
import { sqlInstant } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { bytesOf } from '../../platform/ids';
import { writeSystemEntry } from '../../records/entries/index';
import { giveTo, readContact } from '../../records/contacts/index';
import { customAt, sayCustom, writeCustomValues } from '../../records/fields/index';
import { readAt } from '../../records/users/index';
import { assertMayChange } from '../../records/rights/index';
import { itemOf, mergeChange, sentOf, type FieldsAt } from '../../platform/work/merge-change';
import { writeLeadTags } from './add-lead';
import { readLead } from './lead-rows';
import type { PersonWork } from '../../platform/work/work';
import type { Work } from '../../platform/work/work';

/** Locks a lead that is about to be changed and adds one to its version. @throws Problem `not-yours` */
export async function lockLead(w: PersonWork, id: string): Promise<Lead> {
  await w.rows('SELECT 1 FROM sales_lead WHERE id = :id FOR UPDATE', { id: bytesOf(id) });
  const lead = await readLead(w, id, readAt(w.services, w.who));
  await assertMayChange(w, w.who, lead.ownerId);
  await w.change('UPDATE sales_lead SET version = version + 1 WHERE id = :id', { id: bytesOf(id) });
  return lead;
}

/** Where a person says a lead stands; what happens from now on takes it further. */
async function sayStatus(w: Work, lead: Lead, status: LeadStatus): Promise<void> {
  await w.change(
    `UPDATE sales_lead SET status = :status, status_since = IF(:status = :was, status_since, :now), hand_status = :status, hand_at = :now
      WHERE id = :id`,
    { id: bytesOf(lead.id), status, was: lead.status, now: sqlInstant(w.now) },
  );
}

const tell = (w: PersonWork, lead: Lead, body: string) => {
  w.say(`${lead.contactName}: ${body}`);
  return writeSystemEntry(w, {
    body,
    contactId: lead.contactId,
    companyId: lead.companyId,
    dealId: lead.dealId,
    userId: w.who.id,
  });
};

/** Where the fields of a change are kept, so that two people's changes meet field by field. */
const fields: FieldsAt<ChangeLead> = {
  ...leadPlain.each((_, { column }) => ({ column })),
  ownerId: { column: 'owner_id' },
  tags: { rows: 'lead_tag', of: 'lead_id', item: itemOf('tag') },
  status: { column: 'hand_status' },
  custom: customAt,
};

/** @throws Problem `lead-decided` when the status of a decided one is to be changed by hand */
export async function changeLead(w: PersonWork, id: string, asked: ChangeLead): Promise<void> {
  const lead = await lockLead(w, id);
  const body = await mergeChange(w, { table: 'sales_lead', id, fields, asked, record: lead });
  const now = { ...lead, ...sentOf(body), custom: { ...lead.custom, ...body.custom } };
  await w.change(`UPDATE sales_lead SET ${leadPlain.sets} WHERE id = :id`, {
    id: bytesOf(id),
    ...leadPlain.write(now),
  });
  await writeCustomValues(w, 'lead', id, body.custom ?? {});
  const sayOwn = await sayCustom(w, 'lead');
  const say = (each: Pick<Lead, keyof LeadPlain | 'custom'>) => [
    ...leadPlain.say(each),
    ...sayOwn(each.custom),
  ];
  const differences = differencesOf(say(lead), say(now));
  if (body.tags !== undefined) differences.push(...(await retag(w, lead, body.tags)));
  if (differences.length > 0) await tell(w, lead, $localize`Lead: ${differences.join('; ')}:join:`);
  if (body.status !== undefined && body.status !== lead.status) {
    if (!isLive(lead.status)) throw decided(lead);
    await sayStatus(w, lead, body.status);
    await tell(
      w,
      lead,
      $localize`Lead: ${leadStatusLabel[lead.status]}:leadStatusLabel: → ${leadStatusLabel[body.status]}:leadStatusLabel2:`,
    );
  }
  if (body.ownerId !== undefined && body.ownerId !== lead.ownerId) await giveLead(w, lead, body.ownerId);
}

/** Writes the tags a lead has from now on; answers with what that changes, in words. */
async function retag(w: PersonWork, lead: Lead, tags: readonly string[]): Promise<string[]> {
  const said = (list: readonly string[]) =>
    [[$localize`Tags`, [...new Set(list)].sort().join(', ')]] as const;
  const differences = differencesOf(said(lead.tags), said(tags));
  if (differences.length === 0) return [];
  await w.change('DELETE FROM lead_tag WHERE lead_id = :id', { id: bytesOf(lead.id) });
  await writeLeadTags(w, lead.id, tags);
  return differences;
}

const decided = (lead: Lead) =>
  new Problem('lead-decided', { state: leadStatusLabel[lead.status] }, { current: lead });

/** A lead goes to somebody, and with it its contact when that was the same owner's or nobody's. */
async function giveLead(w: PersonWork, lead: Lead, ownerId: UserId | null): Promise<void> {
  const changed = await w.change(
    'UPDATE sales_lead l SET l.owner_id = :owner WHERE l.id = :id AND (:owner IS NULL OR EXISTS (SELECT 1 FROM app_user u WHERE u.id = :owner))',
    { id: bytesOf(lead.id), owner: bytesOf(ownerId) },
  );
  if (changed === 0)
    throw new Problem(
      'invalid-request',
      {},
      { fields: [{ path: 'ownerId', message: $localize`is nobody here` }] },
    );
  const contact = await readContact(w, lead.contactId);
  if (contact.ownerId === ownerId) return;
  if (contact.ownerId === null || contact.ownerId === lead.ownerId) await giveTo(w, contact, ownerId);
}

/** The first who takes it from the pool has it. @throws Problem `already-claimed` */
export async function claimLead(w: PersonWork, id: string): Promise<void> {
  const claimed = await w.change(
    'UPDATE sales_lead SET owner_id = :me, version = version + 1 WHERE id = :id AND owner_id IS NULL',
    { id: bytesOf(id), me: bytesOf(w.who.id) },
  );
  const lead = await readLead(w, id, readAt(w.services, w.who));
  if (claimed === 0 && lead.ownerId !== w.who.id)
    throw new Problem('already-claimed', { owner: lead.ownerName ?? 'Somebody' }, { current: lead });
  if (claimed === 0) return;
  await w.change(
    'UPDATE contact SET owner_id = :me, version = version + 1 WHERE id = :id AND owner_id IS NULL',
    {
      id: bytesOf(lead.contactId),
      me: bytesOf(w.who.id),
    },
  );
  await tell(w, lead, $localize`Lead taken from the pool by ${w.who.name}:name:`);
}

/** Not now, or not at all, with the reason; with a day it comes back into the Round. @throws Problem `lead-decided`, `in-the-past` */
export async function setLeadAside(w: PersonWork, id: string, body: z.output<typeof setting>): Promise<void> {
  const lead = await lockLead(w, id);
  if (!isLive(lead.status)) throw decided(lead);
  if (body.wakeOn !== null && body.wakeOn <= localDate(w.now, w.who.zone))
    throw new Problem(
      'in-the-past',
      {},
      { fields: [{ path: 'wakeOn', message: $localize`must be a day ahead` }] },
    );
  await sayStatus(w, lead, 'set-aside');
  await w.change(
    'UPDATE sales_lead SET aside_reason = :reason, wake_on = :wakeOn, follow_up_on = NULL WHERE id = :id',
    {
      id: bytesOf(id),
      reason: body.reason,
      wakeOn: body.wakeOn,
    },
  );
  const until = body.wakeOn === null ? '' : $localize` until ${body.wakeOn}:wakeOn:`;
  await tell(w, lead, $localize`Lead set aside${until}:until:: ${body.reason}:reason:`);
}

/** Taken up again, out of the archive if it was there. @throws Problem `lead-decided` when it is qualified */
export async function reviveLead(
  w: PersonWork,
  id: string,
  { status }: { readonly status: 'untried' | 'trying' | 'in-talks' },
): Promise<void> {
  const lead = await lockLead(w, id);
  if (lead.status !== 'set-aside') throw decided(lead);
  await sayStatus(w, lead, status);
  await w.change(
    'UPDATE sales_lead SET aside_reason = NULL, wake_on = NULL, archived_at = NULL WHERE id = :id',
    { id: bytesOf(id) },
  );
  await tell(w, lead, $localize`Lead taken up again: ${leadStatusLabel[status]}:leadStatusLabel:`);
}
