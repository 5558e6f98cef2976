import type { CompanyGridFieldKey, CompanyQuery, CompanyRow } from '@kettle/contract';
import { companyGridFields } from '@kettle/contract';
import type { SqlValue } from '../../platform/database/database';
import { bytesOf } from '../../platform/ids';
import { countedColumns, type Reader } from '../counted/index';
import { archivedSql, matchAll, searchWords } from '../contacts/index';
import { type Clauses, filterSql, type FilterSetting, type ListSql, type RecordList } from '../grid/index';
import { reachParameters, withinReach } from '../rights/index';
import type { SignedIn } from '../users/index';
import { companySums, readCompanyRows } from './companies';

/** Where the fields of companies lie; what is counted of theirs depends on what the reader may read. */
function companySql(reader: Reader): ListSql {
  const sums = companySums(reader.who);
  const columns: Record<CompanyGridFieldKey, string> = {
    ...countedColumns('company', reader),
    name: 'co.name',
    trade: 'co.trade',
    city: 'co.city',
    country: 'co.country',
    owner: 'co.owner_id',
    people: sums.people,
    'open-deals': sums.openDeals,
    'open-value': sums.openValue,
    'last-touch': sums.lastTouch,
    website: 'co.website',
  };
  return {
    fields: companyGridFields,
    columns,
    sortColumns: { owner: '(SELECT o.name FROM app_user o WHERE o.id = co.owner_id)' },
    id: 'co.id',
    manyTexts: {},
    nameKeys: [],
    goesOn: {},
    from: () => 'FROM company co',
    sums: { 'open-value': sums.openValue },
  };
}

const within = ({ archived }: CompanyQuery, who: SignedIn) =>
  `${archivedSql('co', archived)} AND ${withinReach(who, 'company', 'co')}`;

function companyClauses(query: CompanyQuery, setting: FilterSetting): Clauses {
  const { who } = setting;
  const parameters: Record<string, SqlValue> = { ...reachParameters(who), me: bytesOf(who.id) };
  const where = [within(query, who)];
  if (query.owner === 'mine') where.push('co.owner_id = :me');
  const words = searchWords(query.q);
  if (words.length > 0) {
    where.push('MATCH (co.name, co.city) AGAINST (:words IN BOOLEAN MODE)');
    parameters.words = matchAll(words);
  }
  if (query.filter !== undefined) {
    const text = filterSql(companySql(setting), query.filter, setting, parameters);
    if (text !== null) where.push(text);
  }
  return { where: `WHERE ${where.join(' AND ')}`, parameters };
}

export const companiesList: RecordList<CompanyQuery, CompanyRow> = {
  what: 'companies',
  kind: 'company',
  subject: 'company',
  fields: companyGridFields,
  sql: companySql,
  counts: 'company',
  usualSort: [{ field: 'name', order: 'up' }],
  usualColumns: 'name,trade,city,country,owner,people,open-deals,open-value,last-touch',
  clauses: companyClauses,
  whole: (query, { who }) => ({
    where: `WHERE ${within(query, who)}`,
    parameters: { ...reachParameters(who) },
  }),
  rows: (db, ids, { who }) => readCompanyRows(db, who, ids),
};
