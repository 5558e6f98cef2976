import type { AgreementGridFieldKey, AgreementQuery, AgreementRow, RenewalWindow } from '@kettle/contract';
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
import { changeAgreement, lockAgreement, tellAgreement } from './change-agreement';
import { changeTermValue, endAgreement, keepAgreement } from './end-agreement';
import { writeLines } from './lines';
import { readDetail } from './read-agreement';
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
  yearly: 'a.yearly_home_minor',
  state: 'a.state',
  decision: 'a.decision',
  number: 'a.term_n + 1',
  leaves: 'a.leaves_on',
  reason: 'a.end_reason',
  owner: 'a.owner_id',
};

export const agreementSql: ListSql = {
  fields: agreementGridFields,
  columns,
  sortColumns: { owner: 'u.name' },
  id: 'a.id',
  manyTexts: {},
  nameKeys: ['c.sort_name'],
  goesOn: {},
  from: () => agreementTables,
  sums: { value: 'a.home_minor', yearly: 'a.yearly_home_minor' },
};

/**
 * Where an agreement is on its way to the next term, by its dates alone: what the day's work has not come to yet is in its place all the same.
 * Every agreement that has not ended is in `going-on`, whatever the day.
 */
export const windowSql: Readonly<Record<RenewalWindow | 'all' | 'going-on', string>> = {
  all: 'TRUE',
  'going-on': '(a.leaves_on IS NULL OR a.leaves_on > :today)',
  lead: `(a.decision = 'open' AND a.lead_on <= :today AND a.ends_on > :today AND (a.renews_itself = 0 OR a.notice_deadline_on >= :today))`,
  notice: `(a.decision = 'open' AND a.notice_deadline_on BETWEEN :today AND LAST_DAY(:today))`,
  over: `(a.leaves_on IS NULL AND a.renews_itself = 0 AND a.decision = 'open' AND a.ends_on <= :today)`,
  renewed: `(a.leaves_on IS NULL AND (a.decision = 'renewed' OR a.term_n > 0 AND a.term_starts_on > :today - INTERVAL 12 MONTH))`,
  lost: `(a.leaves_on IS NOT NULL AND a.leaves_on > :today - INTERVAL 12 MONTH)`,
};

/** Relies on agreement_owner, agreement_company or agreement_deadline. */
function agreementClauses(query: AgreementQuery, setting: FilterSetting): Clauses {
  const { who, today } = setting;
  const archived = {
    yes: 'a.archived_at IS NOT NULL',
    any: 'TRUE',
    no: 'a.archived_at IS NULL',
  }[query.archived ?? 'no'];
  const where = [archived, windowSql[query.window ?? (query.archived === undefined ? 'going-on' : 'all')]];
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
  usualColumns:
    'name,company,person,state,decision,notice,lead,starts,ends,term,value,yearly,renews,leaves,reason,owner',
  clauses: agreementClauses,
  whole: ({ archived }, setting) =>
    agreementClauses({ owner: 'all', q: '', archived, window: 'all' }, setting),
  rows: (db, ids) => readAgreements(db, ids),
};

type Names =
  | 'listAgreements'
  | 'countAgreements'
  | 'exportAgreements'
  | 'createAgreement'
  | 'changeAgreement'
  | 'getAgreement'
  | 'setAgreementLines'
  | 'changeTermValue'
  | 'endAgreement'
  | 'keepAgreement';

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
    getAgreement: ({ params: { id } }) => readDetail(services, id),
    setAgreementLines: async ({ params: { id }, body, who }) => {
      await work(services, who, async (w) => {
        const before = await lockAgreement(w, id);
        if (before.version !== body.version) throw new Problem('stale', {}, { current: before });
        await writeLines(w, id, body.lines);
        await w.change('UPDATE agreement SET version = version + 1 WHERE id = :id', { id: bytesOf(id) });
        await tellAgreement(
          w,
          before,
          $localize`Agreement “${before.name}:name:”: what was bought was changed`,
        );
      });
      return readDetail(services, id);
    },
    changeTermValue: async ({ params: { id }, body, who }) => {
      await work(services, who, (w) => changeTermValue(w, id, body));
      return readDetail(services, id);
    },
    endAgreement: async ({ params: { id }, body, who }) => {
      await work(services, who, (w) => endAgreement(w, id, body));
      return readDetail(services, id);
    },
    keepAgreement: async ({ params: { id }, body, who }) => {
      await work(services, who, (w) => keepAgreement(w, id, body));
      return readDetail(services, id);
    },
  };
}
