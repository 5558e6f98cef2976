import type { AgreementGridFieldKey, AgreementQuery, AgreementRow } from '@kettle/contract';
import { agreementGridFields } from '@kettle/contract';
import type { Queryable, SqlValue } from '../../platform/database/database';
import { instantOrNull, wholeNumber } from '../../platform/database/values';
import type { Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf, idOrNull, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { reachParameters, withinReach } from '../../records/rights/index';
import {
  type Clauses,
  filterSql,
  type FilterSetting,
  likeText,
  listRoutes,
  type ListSql,
  type RecordList,
} from '../../records/grid/index';
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

const joined = `FROM agreement a LEFT JOIN company co ON co.id = a.company_id JOIN app_user u ON u.id = a.owner_id
  LEFT JOIN contact c ON c.id = a.contact_id`;

/** Agreements by id, in the order of the ids. */
async function readAgreements(db: Queryable, ids: readonly IdBytes[]): Promise<AgreementRow[]> {
  if (ids.length === 0) return [];
  const rows = await db.rows<AgreementColumns>(
    `SELECT a.id, a.name, a.company_id, co.name AS company_name, a.contact_id,
            c.display_name AS contact_name, a.owner_id, u.name AS owner_name, a.starts_on,
            a.ends_on, a.term_months, a.value_minor, a.currency, a.home_minor, a.notice_days, a.lead_days, a.renews_itself,
            a.notice_deadline_on, a.lead_on, a.archived_at, a.version
       ${joined} WHERE a.id IN (:ids)`,
    { ids: [...ids] },
  );
  const found = new Map(rows.map((row) => [row.id.toString('hex'), agreementOf(row)]));
  return ids.flatMap((id) => found.get(id.toString('hex')) ?? []);
}

const columns: Record<AgreementGridFieldKey, string> = {
  name: 'a.name',
  company: 'co.name',
  person: 'c.sort_name',
  notice: 'a.notice_deadline_on',
  lead: 'a.lead_on',
  ends: 'a.ends_on',
  starts: 'a.starts_on',
  term: 'a.term_months',
  value: 'a.home_minor',
  renews: 'a.renews_itself',
  owner: 'a.owner_id',
};

const agreementSql: ListSql = {
  fields: agreementGridFields,
  columns,
  sortColumns: { owner: 'u.name' },
  id: 'a.id',
  manyTexts: {},
  nameKeys: ['c.sort_name'],
  goesOn: {},
  from: () => joined,
  sums: { value: 'a.home_minor' },
};

/** Relies on agreement_owner, agreement_company or agreement_deadline. */
function agreementClauses(query: AgreementQuery, setting: FilterSetting): Clauses {
  const { who, today } = setting;
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
  if (query.q !== '') where.push('(a.name LIKE :words OR co.name LIKE :words OR c.display_name LIKE :words)');
  where.push(withinReach(who, 'agreement', 'a'));
  const parameters: Record<string, SqlValue> = {
    ...reachParameters(who),
    me: bytesOf(who.id),
    company: bytesOf(query.companyId),
    contact: bytesOf(query.contactId),
    words: likeText(query.q),
    today,
  };
  if (query.filter !== undefined) {
    const text = filterSql(agreementSql, query.filter, setting, parameters);
    if (text !== null) where.push(text);
  }
  return { where: `WHERE ${where.join(' AND ')}`, parameters };
}

const agreementsList: RecordList<AgreementQuery, AgreementRow> = {
  what: 'agreements',
  kind: 'agreement',
  subject: null,
  fields: agreementGridFields,
  sql: () => agreementSql,
  usualSort: [{ field: 'notice', order: 'up' }],
  usualColumns: 'name,company,person,notice,lead,starts,ends,term,value,renews,owner',
  clauses: agreementClauses,
  whole: ({ archived }, setting) => agreementClauses({ owner: 'all', q: '', archived }, setting),
  rows: (db, ids) => readAgreements(db, ids),
};

type Names = 'listAgreements' | 'countAgreements' | 'exportAgreements' | 'createAgreement';

export function agreementsRoutes(services: Services): Pick<Handlers, Names> {
  const { database } = services;
  const list = listRoutes(services, agreementsList);
  return {
    listAgreements: list.page,
    countAgreements: list.count,
    exportAgreements: list.export,
    createAgreement: async ({ body, who }) => {
      const id = await work(services, who, (w) => writeAgreement(w, body));
      const [made] = await readAgreements(database, [bytesOf(id)]);
      if (!made) throw new Problem('not-found');
      return made;
    },
  };
}
