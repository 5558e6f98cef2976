import type { AgreementGridFieldKey, AgreementQuery, AgreementRow } from '@kettle/contract';
import { agreementGridFields } from '@kettle/contract';
import type { SqlValue } from '../../platform/database/database';
import type { Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import { bytesOf } from '../../platform/ids';
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
import { agreementTables, readAgreements } from './agreement-rows';
import { changeAgreement } from './change-agreement';
import { writeAgreement } from './write-agreement';
import { work } from '../../platform/work/work';

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
  from: () => agreementTables,
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

type Names =
  'listAgreements' | 'countAgreements' | 'exportAgreements' | 'createAgreement' | 'changeAgreement';

export function agreementsRoutes(services: Services): Pick<Handlers, Names> {
  const { database } = services;
  const list = listRoutes(services, agreementsList);
  const one = async (id: string): Promise<AgreementRow> => {
    const [found] = await readAgreements(database, [bytesOf(id)]);
    if (!found) throw new Problem('not-found');
    return found;
  };
  return {
    listAgreements: list.page,
    countAgreements: list.count,
    exportAgreements: list.export,
    createAgreement: async ({ body, who }) => one(await work(services, who, (w) => writeAgreement(w, body))),
    changeAgreement: async ({ params: { id }, body, who }) => {
      await work(services, who, (w) => changeAgreement(w, id, body));
      return one(id);
    },
  };
}
