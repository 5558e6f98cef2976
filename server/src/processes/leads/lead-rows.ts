import { findSet } from '../../activity/changes/index';
import { leadPlain, type LeadPlainColumns } from '@kettle/contract/base/catalogues';
import type { CustomValue, Lead, LeadRow } from '@kettle/contract';
import { tetherStateOf } from '@kettle/core/deals';
import type { Queryable } from '../../platform/database/database';
import { instantOf, instantOrNull } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf, idOrNull, type IdBytes } from '../../platform/ids';
import type { ReadAt } from '../../records/users/index';
import { readDealRowsOf } from '../deals/index';
import { tetherOf } from '../../records/contacts/index';
import { readCustomOf, readCustomValues } from '../../records/fields/index';
import type { Row } from '../../platform/database/schema.generated';

interface LeadColumns
  extends
    Row<
      'sales_lead',
      | 'id'
      | 'contact_id'
      | 'owner_id'
      | 'status'
      | 'wake_on'
      | 'aside_reason'
      | 'archived_at'
      | 'deal_id'
      | 'created_at'
      | 'version'
      | 'consent_words'
      | 'consent_at'
      | 'consent_confirms'
      | 'consent_confirmed_at'
      | 'status_since'
    >,
    Row<
      'contact',
      | 'job_title'
      | 'company_id'
      | 'email'
      | 'phone'
      | 'zone'
      | 'last_touch_at'
      | 'last_touch_kind'
      | 'last_touch_counts'
      | 'next_step_channel'
      | 'next_step_at'
    >,
    LeadPlainColumns {
  contact_name: string;
  company_name: string | null;
  owner_name: string | null;
  next_step_on: string | null;
  form_name: string | null;
  tags: string | null;
}

/** What happens next with a lead is the earliest of its contact's next step and its follow-up. */
export const leadNextStep =
  'IF(l.follow_up_on IS NULL OR c.next_step_on < l.follow_up_on, c.next_step_on, l.follow_up_on)';

const select = `SELECT l.id, l.contact_id, c.display_name AS contact_name, c.job_title, c.company_id,
    COALESCE(c.company_name, l.company_name) AS company_name, c.email, c.phone, c.zone, l.owner_id, u.name AS owner_name,
    l.status, ${leadPlain.select('l')}, l.wake_on, l.aside_reason, l.archived_at, l.deal_id,
    (SELECT GROUP_CONCAT(t.tag ORDER BY t.tag) FROM lead_tag t WHERE t.lead_id = l.id) AS tags,
    l.created_at, l.version, c.last_touch_at, c.last_touch_kind, c.last_touch_counts,
    ${leadNextStep} AS next_step_on,
    c.next_step_channel,
    IF(l.follow_up_on IS NULL OR c.next_step_on < l.follow_up_on, c.next_step_at, NULL) AS next_step_at,
    l.consent_words, l.consent_at, l.consent_confirms, l.consent_confirmed_at, f.name AS form_name, l.status_since
  FROM sales_lead l JOIN contact c ON c.id = l.contact_id LEFT JOIN app_user u ON u.id = l.owner_id
  LEFT JOIN web_form f ON f.id = l.form_id`;

function leadRowOf(row: LeadColumns, custom: Record<string, CustomValue>, today: string): LeadRow {
  return {
    id: idOf(row.id),
    contactId: idOf(row.contact_id),
    contactName: row.contact_name,
    jobTitle: row.job_title,
    companyId: idOrNull(row.company_id),
    companyName: row.company_name,
    email: row.email,
    phone: row.phone,
    zone: row.zone,
    ownerId: idOrNull(row.owner_id),
    ownerName: row.owner_name,
    status: row.status,
    warmth: row.warmth,
    subject: row.subject,
    source: row.source,
    campaign: row.campaign,
    followUpOn: row.follow_up_on,
    tags: row.tags === null ? [] : row.tags.split(','),
    custom,
    // Of one that was set aside and goes on since, the reason is history.
    wakeOn: row.status === 'set-aside' ? row.wake_on : null,
    asideReason: row.status === 'set-aside' ? row.aside_reason : null,
    archivedAt: instantOrNull(row.archived_at),
    dealId: idOrNull(row.deal_id),
    tether: tetherOf(row),
    tetherState: tetherStateOf(row.next_step_on, today),
    createdAt: instantOf(row.created_at),
    version: row.version,
  };
}

/** @throws Problem `not-found` */
export async function readLead(db: Queryable, id: string, at: ReadAt): Promise<Lead> {
  const [row] = await db.rows<LeadColumns>(`${select} WHERE l.id = :id`, { id: bytesOf(id) });
  if (!row) throw new Problem('not-found');
  const [deals, custom] = await Promise.all([
    row.deal_id === null ? [] : readDealRowsOf(db, [row.deal_id], at),
    readCustomOf(db, row),
  ]);
  const setId =
    row.status === 'qualified' ? await findSet(db, { table: 'sales_lead', id, act: 'qualifyLead' }) : null;
  const consentAt = instantOrNull(row.consent_at);
  return {
    ...leadRowOf(row, custom, at.today),
    ...leadPlain.read(row),
    consent:
      consentAt === null
        ? null
        : {
            words: row.consent_words ?? '',
            at: consentAt,
            mustBeConfirmed: row.consent_confirms === 1,
            confirmedAt: instantOrNull(row.consent_confirmed_at),
          },
    formName: row.form_name,
    statusSince: instantOf(row.status_since),
    deal: deals[0] ?? null,
    canUnqualify: setId !== null && deals[0]?.status === 'open',
  };
}

/** Leads by id, in the order of the ids. */
export async function readLeadRows(
  db: Queryable,
  ids: readonly IdBytes[],
  today: string,
): Promise<LeadRow[]> {
  if (ids.length === 0) return [];
  const [rows, custom] = await Promise.all([
    db.rows<LeadColumns>(`${select} WHERE l.id IN (:ids)`, { ids: [...ids] }),
    readCustomValues(db, ids),
  ]);
  const found = new Map(
    rows.map((row) => {
      const key = row.id.toString('hex');
      return [key, leadRowOf(row, custom.get(key) ?? {}, today)];
    }),
  );
  return ids.flatMap((id) => found.get(id.toString('hex')) ?? []);
}
