import type { AgreementRow } from '@kettle/contract';
import type { Queryable, SqlParameters } from '../../platform/database/database';
import { instantOrNull, wholeNumber } from '../../platform/database/values';
import type { Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { reachParameters, withinReach } from '../../records/rights/index';
import { todayOf } from '../../records/users/index';
import { writeAgreement } from './write-agreement';
import { work } from '../../platform/work/work';
import type { Row, Tables } from '../../platform/database/schema.generated';

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

/** Soonest notice deadline first. Relies on agreement_owner, agreement_company or agreement_deadline. */
async function readAgreements(
  db: Queryable,
  where: string,
  parameters: SqlParameters,
): Promise<AgreementRow[]> {
  const rows = await db.rows<AgreementColumns>(
    `SELECT a.id, a.name, a.company_id, co.name AS company_name, a.contact_id,
            c.display_name AS contact_name, a.owner_id, u.name AS owner_name, a.starts_on,
            a.ends_on, a.term_months, a.value_minor, a.currency, a.home_minor, a.notice_days, a.lead_days, a.renews_itself,
            a.notice_deadline_on, a.lead_on, a.archived_at, a.version
       FROM agreement a LEFT JOIN company co ON co.id = a.company_id JOIN app_user u ON u.id = a.owner_id
       LEFT JOIN contact c ON c.id = a.contact_id
      WHERE ${where} ORDER BY a.archived_at IS NOT NULL, a.notice_deadline_on, a.id LIMIT 500`,
    parameters,
  );
  return rows.map(agreementOf);
}

export function agreementsRoutes(services: Services): Pick<Handlers, 'listAgreements' | 'createAgreement'> {
  const { database } = services;
  return {
    listAgreements: async ({ query, who }) => {
      // An archived one is listed whether it has ended or not.
      const running = '(a.archived_at IS NULL AND a.ends_on > :today)';
      const where = {
        yes: ['a.archived_at IS NOT NULL'],
        any: [`(a.archived_at IS NOT NULL OR ${running})`],
        no: [running],
      }[query.archived ?? 'no'];
      if (query.owner === 'mine') where.push('a.owner_id = :me');
      if (query.companyId !== undefined) where.push('a.company_id = :company');
      if (query.contactId !== undefined) where.push('a.contact_id = :contact');
      where.push(withinReach(who, 'agreement', 'a'));
      const parameters = {
        ...reachParameters(who),
        me: bytesOf(who.id),
        company: bytesOf(query.companyId),
        contact: bytesOf(query.contactId),
        today: todayOf(services, who),
      };
      return { rows: await readAgreements(database, where.join(' AND '), parameters) };
    },
    createAgreement: async ({ body, who }) => {
      const id = await work(services, who, (w) => writeAgreement(w, body));
      const [made] = await readAgreements(database, 'a.id = :id', { id: bytesOf(id) });
      if (!made) throw new Problem('not-found');
      return made;
    },
  };
}
