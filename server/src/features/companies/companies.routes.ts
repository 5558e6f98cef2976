import { wholeNumber } from '../../db/values';
import type { Handlers } from '../../http/bind-routes';
import { bytesOf } from '../../ids';
import type { Services } from '../../services';
import { readDealRows } from '../deals/deal-rows';
import { matchAll, searchWords } from '../people/contact-filter';
import { readContactRows } from '../people/contact-rows';
import { todayOf } from '../session/today';
import { changeCompany } from './change-company';
import { readCompany, readCompanyRows, readPeopleOf } from './companies';

type Names = 'listCompanies' | 'getCompany' | 'changeCompany';

export function companiesRoutes(services: Services): Pick<Handlers, Names> {
  const { database } = services;
  return {
    listCompanies: async ({ query }) => {
      const words = searchWords(query.q);
      const match = words.length > 0 ? 'WHERE MATCH (co.name, co.city) AGAINST (:words IN BOOLEAN MODE)' : '';
      const parameters = { words: matchAll(words) };
      const rows = await readCompanyRows(database, match, parameters, query.limit);
      const [counts] = await database.rows<{ found: string; total: string }>(
        `SELECT (SELECT COUNT(*) FROM company co ${match}) AS found, (SELECT COUNT(*) FROM company) AS total`,
        parameters,
      );
      return { rows, found: wholeNumber(counts?.found ?? 0), total: wholeNumber(counts?.total ?? 0) };
    },
    getCompany: async ({ params, who }) => ({
      company: await readCompany(database, params.id),
      people: await readContactRows(database, await readPeopleOf(database, params.id)),
      deals: await readDealRows(
        database,
        'd.company_id = :id',
        { id: bytesOf(params.id) },
        todayOf(services, who),
      ),
    }),
    changeCompany: async ({ params, who, body }) => {
      await changeCompany(services, who, params.id, body);
      return readCompany(database, params.id);
    },
  };
}
