import { findSet } from '../../activity/changes/index';
import { leadPlain, type LeadPlainColumns } from '@kettle/contract/base/catalogues';
import type { Lead, LeadList, LeadRow, listLeads as listing } from '@kettle/contract';
import { tetherStateOf } from '@kettle/core/deals';
import type * as z from 'zod';
import type { Queryable, SqlParameters, SqlValue } from '../../platform/database/database';
import { instantOf, instantOrNull, wholeNumber } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import { readDealRowsOf } from '../deals/index';
import { tetherOf } from '../../records/contacts/index';
import { reachParameters, withinReach } from '../../records/rights/index';
import type { SignedIn } from '../../records/users/index';
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
    >,
    LeadPlainColumns {
  contact_name: string;
  company_name: string | null;
  owner_name: string | null;
  next_step_on: string | null;
  form_name: string | null;
}

// What happens next with a lead is the earliest of its contact's next step and its follow-up.
const select = `SELECT l.id, l.contact_id, c.display_name AS contact_name, c.job_title, c.company_id,
    COALESCE(c.company_name, l.company_name) AS company_name, c.email, c.phone, c.zone, l.owner_id, u.name AS owner_name,
    l.status, ${leadPlain.select('l')}, l.wake_on, l.aside_reason, l.archived_at, l.deal_id,
    l.created_at, l.version, c.last_touch_at, c.last_touch_kind, c.last_touch_counts,
    IF(l.follow_up_on IS NULL OR c.next_step_on < l.follow_up_on, c.next_step_on, l.follow_up_on) AS next_step_on,
    c.next_step_channel, l.consent_words, l.consent_at, l.consent_confirms, l.consent_confirmed_at, f.name AS form_name, l.status_since
  FROM sales_lead l JOIN contact c ON c.id = l.contact_id LEFT JOIN app_user u ON u.id = l.owner_id
  LEFT JOIN web_form f ON f.id = l.form_id`;

function leadRowOf(row: LeadColumns, today: string): LeadRow {
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
export async function readLead(db: Queryable, id: string, today: string): Promise<Lead> {
  const [row] = await db.rows<LeadColumns>(`${select} WHERE l.id = :id`, { id: bytesOf(id) });
  if (!row) throw new Problem('not-found');
  const deals = row.deal_id === null ? [] : await readDealRowsOf(db, [row.deal_id], today);
  const setId =
    row.status === 'qualified' ? await findSet(db, { table: 'sales_lead', id, act: 'qualifyLead' }) : null;
  const consentAt = instantOrNull(row.consent_at);
  return {
    ...leadRowOf(row, today),
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

type Listing = z.output<typeof listing>;

/** Conditions that hold for rows and counts alike; the rest of the query only narrows the rows. */
function ownClauses(
  query: Listing,
  who: SignedIn,
): { where: string[]; parameters: Record<string, SqlValue> } {
  const where = [
    query.archived === 'yes' ? 'l.archived_at IS NOT NULL' : 'l.archived_at IS NULL',
    withinReach(who, 'lead', 'l'),
  ];
  const parameters: Record<string, SqlValue> = { ...reachParameters(who) };
  if (query.owner === 'mine') {
    where.push('l.owner_id = :me');
    parameters.me = bytesOf(who.id);
  }
  if (query.owner === 'unowned') where.push('l.owner_id IS NULL');
  return { where, parameters };
}

const live = "('untried', 'trying', 'in-talks')";

/** Leads of a view, as many as were asked for: the live ones first by status and then the newest; with counts by status. */
export async function listLeads(
  db: Queryable,
  who: SignedIn,
  query: Listing,
  today: string,
): Promise<LeadList> {
  const { where: own, parameters: ownParameters } = ownClauses(query, who);
  const where = [...own];
  const parameters: Record<string, SqlValue> = { ...ownParameters };
  const narrow = (condition: string, name: string, value: SqlValue | undefined) => {
    if (value === undefined) return;
    where.push(condition);
    parameters[name] = value;
  };
  narrow('l.status = :status', 'status', query.status);
  narrow('l.source = :source', 'source', query.source);
  narrow('l.campaign = :campaign', 'campaign', query.campaign);
  narrow('l.warmth = :warmth', 'warmth', query.warmth);
  narrow('l.contact_id = :contact', 'contact', query.contactId && bytesOf(query.contactId));
  narrow('c.company_id = :company', 'company', query.companyId && bytesOf(query.companyId));
  if (query.q !== '')
    narrow(
      '(c.display_name LIKE :words OR c.company_name LIKE :words OR l.company_name LIKE :words OR l.subject LIKE :words OR c.email LIKE :words)',
      'words',
      `%${query.q.replace(/[\\%_]/g, '\\$&')}%`,
    );
  const [rows, [found], counts, [all], sources, campaigns] = await Promise.all([
    db.rows<LeadColumns>(
      `${select} WHERE ${where.join(' AND ')} ORDER BY l.status, l.created_at DESC, l.id LIMIT ${query.limit}`,
      parameters,
    ),
    db.rows<{ count: string }>(
      `SELECT COUNT(*) AS count FROM sales_lead l JOIN contact c ON c.id = l.contact_id WHERE ${where.join(' AND ')}`,
      parameters,
    ),
    countByStatus(db, own.join(' AND '), ownParameters, today),
    db.rows<{ count: string }>(
      `SELECT COUNT(*) AS count FROM sales_lead l
        WHERE l.archived_at IS ${query.archived === 'yes' ? 'NOT ' : ''}NULL AND ${withinReach(who, 'lead', 'l')}`,
      reachParameters(who),
    ),
    db.rows<{ word: string }>(
      `SELECT DISTINCT l.source AS word FROM sales_lead l
        WHERE l.source IS NOT NULL AND ${withinReach(who, 'lead', 'l')} ORDER BY l.source LIMIT 200`,
      reachParameters(who),
    ),
    db.rows<{ word: string }>(
      `SELECT DISTINCT l.campaign AS word FROM sales_lead l
        WHERE l.campaign IS NOT NULL AND ${withinReach(who, 'lead', 'l')} ORDER BY l.campaign LIMIT 200`,
      reachParameters(who),
    ),
  ]);
  return {
    rows: rows.map((row) => leadRowOf(row, today)),
    counts,
    found: wholeNumber(found?.count ?? 0),
    hidden: Math.max(0, wholeNumber(all?.count ?? 0) - wholeNumber(found?.count ?? 0)),
    sources: sources.map(({ word }) => word),
    campaigns: campaigns.map(({ word }) => word),
  };
}

/** Due: nobody has tried it yet, its follow-up has come, it has no next step at all, or it wakes. */
async function countByStatus(
  db: Queryable,
  where: string,
  parameters: SqlParameters,
  today: string,
): Promise<LeadList['counts']> {
  const rows = await db.rows<Row<'sales_lead', 'status'> & { count: string; due: string }>(
    `SELECT l.status, COUNT(*) AS count,
            SUM(CASE WHEN l.status IN ${live} THEN COALESCE(LEAST(COALESCE(l.follow_up_on, c.next_step_on), COALESCE(c.next_step_on, l.follow_up_on)), :today) <= :today
                     WHEN l.status = 'set-aside' THEN COALESCE(l.wake_on <= :today, 0) ELSE 0 END) AS due
       FROM sales_lead l JOIN contact c ON c.id = l.contact_id WHERE ${where} GROUP BY l.status ORDER BY l.status`,
    { ...parameters, today },
  );
  return rows.map((row) => ({
    status: row.status,
    count: wholeNumber(row.count),
    due: wholeNumber(row.due),
  }));
}
