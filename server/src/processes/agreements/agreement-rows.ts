import type { AgreementRow, DealId } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import type { Row, Tables } from '../../platform/database/schema.generated';
import { instantOrNull, wholeNumber } from '../../platform/database/values';
import { idOf, idOrNull, type IdBytes } from '../../platform/ids';

interface AgreementColumns extends Row<
  'agreement',
  | 'id'
  | 'name'
  | 'company_id'
  | 'contact_id'
  | 'owner_id'
  | 'state'
  | 'decision'
  | 'starts_on'
  | 'term_n'
  | 'term_starts_on'
  | 'ends_on'
  | 'term_months'
  | 'value_minor'
  | 'currency'
  | 'home_minor'
  | 'yearly_minor'
  | 'yearly_home_minor'
  | 'uplift_kind'
  | 'uplift_by'
  | 'check_in_months'
  | 'signer_id'
  | 'leaves_on'
  | 'notice_on'
  | 'ended_by'
  | 'end_reason'
  | 'notice_days'
  | 'lead_days'
  | 'renews_itself'
  | 'notice_deadline_on'
  | 'lead_on'
  | 'archived_at'
  | 'version'
> {
  contact_name: Tables['contact']['display_name'];
  owner_name: Tables['app_user']['name'];
  company_name: string | null;
  renewal_deal_id: IdBytes<DealId> | null;
}

function agreementOf(row: AgreementColumns): AgreementRow {
  return {
    id: idOf(row.id),
    name: row.name,
    companyId: idOrNull(row.company_id),
    companyName: row.company_name,
    contactId: idOrNull(row.contact_id),
    contactName: row.contact_name,
    ownerId: idOf(row.owner_id),
    ownerName: row.owner_name,
    state: row.state,
    decision: row.decision,
    startsOn: row.starts_on,
    termNumber: row.term_n + 1,
    termStartsOn: row.term_starts_on ?? row.starts_on,
    endsOn: row.ends_on,
    termMonths: row.term_months,
    valueMinor: wholeNumber(row.value_minor),
    currency: row.currency,
    homeMinor: row.home_minor === null ? null : wholeNumber(row.home_minor),
    yearlyMinor: wholeNumber(row.yearly_minor),
    yearlyHomeMinor: row.yearly_home_minor === null ? null : wholeNumber(row.yearly_home_minor),
    upliftKind: row.uplift_kind,
    upliftBy: wholeNumber(row.uplift_by),
    checkInMonths: row.check_in_months,
    signerId: idOrNull(row.signer_id),
    leavesOn: row.leaves_on,
    noticeOn: row.notice_on,
    endedBy: row.ended_by,
    endReason: row.end_reason,
    renewalDealId: idOrNull(row.renewal_deal_id),
    noticeDays: row.notice_days,
    leadDays: row.lead_days,
    renewsItself: row.renews_itself === 1,
    noticeDeadlineOn: row.notice_deadline_on,
    leadOn: row.lead_on,
    archivedAt: instantOrNull(row.archived_at),
    version: row.version,
  };
}

/** Agreements with whom they are with and whose they are. All are joined from the left, so that no list is read owner by owner. */
export const agreementTables = `FROM agreement a LEFT JOIN company co ON co.id = a.company_id LEFT JOIN app_user u ON u.id = a.owner_id
  LEFT JOIN contact c ON c.id = a.contact_id`;

/** Agreements by id, in the order of the ids. */
export async function readAgreements(db: Queryable, ids: readonly IdBytes[]): Promise<AgreementRow[]> {
  if (ids.length === 0) return [];
  const rows = await db.rows<AgreementColumns>(
    `SELECT a.id, a.name, a.company_id, co.name AS company_name, a.contact_id,
            c.display_name AS contact_name, a.owner_id, u.name AS owner_name, a.starts_on, a.state, a.decision, a.term_n, a.term_starts_on, a.yearly_minor,
            a.yearly_home_minor, a.uplift_kind, a.uplift_by, a.check_in_months, a.signer_id, a.leaves_on, a.notice_on, a.ended_by, a.end_reason,
            (SELECT rt.renewal_deal_id FROM agreement_term rt JOIN deal rd ON rd.id = rt.renewal_deal_id
              WHERE rt.agreement_id = a.id AND rt.n = a.term_n AND rd.status IN ('open', 'parked')) AS renewal_deal_id,
            a.ends_on, a.term_months, a.value_minor, a.currency, a.home_minor, a.notice_days, a.lead_days, a.renews_itself,
            a.notice_deadline_on, a.lead_on, a.archived_at, a.version
       ${agreementTables} WHERE a.id IN (:ids)`,
    { ids: [...ids] },
  );
  const found = new Map(rows.map((row) => [row.id.toString('hex'), agreementOf(row)]));
  return ids.flatMap((id) => found.get(id.toString('hex')) ?? []);
}
