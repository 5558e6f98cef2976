import { work } from '../../platform/work/work';
import { wholeNumber } from '../../platform/database/values';
import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { reachParameters, withinReach } from '../rights/index';
import { archivedSql, matchAll, searchWords } from '../contacts/index';
import { changeCompany } from './change-company';
import { readCompany, readCompanyRows } from './companies';

type Names = 'listCompanies' | 'changeCompany';

export function companiesRoutes(services: Services): Pick<Handlers, Names> {
  const { database } = services;
  return {
    listCompanies: async ({ query, who }) => {
      const words = searchWords(query.q);
      const all = `WHERE ${archivedSql('co', query.archived)} AND ${withinReach(who, 'company', 'co')}`;
      const match =
        words.length > 0 ? `${all} AND MATCH (co.name, co.city) AGAINST (:words IN BOOLEAN MODE)` : all;
      const parameters = { ...reachParameters(who), words: matchAll(words) };
      const rows = await readCompanyRows(database, who, { where: match, parameters, limit: query.limit });
      const [counts] = await database.rows<{ found: string; total: string }>(
        `SELECT (SELECT COUNT(*) FROM company co ${match}) AS found, (SELECT COUNT(*) FROM company co ${all}) AS total`,
        parameters,
      );
      return { rows, found: wholeNumber(counts?.found ?? 0), total: wholeNumber(counts?.total ?? 0) };
    },
    changeCompany: async ({ params, who, body }) => {
      await work(services, who, (w) => changeCompany(w, params.id, body));
      return readCompany(database, who, params.id);
    },
  };
}
