import { work } from '../../platform/work/work';
import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { listRoutes } from '../grid/index';
import { changeCompany } from './change-company';
import { readCompany } from './companies';
import { companiesList } from './list-companies';

type Names = 'listCompanies' | 'countCompanies' | 'exportCompanies' | 'changeCompany';

export function companiesRoutes(services: Services): Pick<Handlers, Names> {
  const { database } = services;
  const list = listRoutes(services, companiesList);
  return {
    listCompanies: list.page,
    countCompanies: list.count,
    exportCompanies: list.export,
    changeCompany: async ({ params, who, body }) => {
      await work(services, who, (w) => changeCompany(w, params.id, body));
      return readCompany(database, who, params.id);
    },
  };
}
