import type { AgreementRow } from '@kettle/contract';
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
  | 'starts_on'
  | 'ends_on'
  | 'term_months'
  | 'value_minor'
  | 'currency'
  | 'home_minor'
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
    startsOn: row.starts_on,
    endsOn: row.ends_on,
    termMonths: row.term_months,
    valueMinor: wholeNumber(row.value_minor),
    currency: row.currency,
    homeMinor: row.home_minor === null ? null : wholeNumber(row.home_minor),
    noticeDays: row.notice_days,
    leadDays: row.lead_days,
    renewsItself: row.renews_itself === 1,
    noticeDeadlineOn: row.notice_deadline_on,
    leadOn: row.lead_on,
    archivedAt: instantOrNull(row.archived_at),
    version: row.version,
  };
}

/** Agreements with whom they are with and whose they are. */
export const agreementTables = `FROM agreement a LEFT JOIN company co ON co.id = a.company_id JOIN app_user u ON u.id = a.owner_id
  LEFT JOIN contact c ON c.id = a.contact_id`;

/** Agreements by id, in the order of the ids. */
export async function readAgreements(db: Queryable, ids: readonly IdBytes[]): Promise<AgreementRow[]> {
  if (ids.length === 0) return [];
  const rows = await db.rows<AgreementColumns>(
    `SELECT a.id, a.name, a.company_id, co.name AS company_name, a.contact_id,
            c.display_name AS contact_name, a.owner_id, u.name AS owner_name, a.starts_on,
            a.ends_on, a.term_months, a.value_minor, a.currency, a.home_minor, a.notice_days, a.lead_days, a.renews_itself,
            a.notice_deadline_on, a.lead_on, a.archived_at, a.version
       ${agreementTables} WHERE a.id IN (:ids)`,
    { ids: [...ids] },
  );
  const found = new Map(rows.map((row) => [row.id.toString('hex'), agreementOf(row)]));
  return ids.flatMap((id) => found.get(id.toString('hex')) ?? []);
}
