import * as z from 'zod';
import { companyId } from '../base/ids';
import { byId, nothing, type RouteSpec } from '../base/route';
import { contactRow } from '../contacts';
import { dealList } from '../deals';
import { gridCount, gridExport } from '../base/grid';
import { changeCompany, company, companyPage, companyQuery, countCompanies, listCompanies } from './schemas';

export const companiesRoutes = {
  changeCompany: {
    access: 'rep',
    summary: 'Change a company and its sites',
    params: byId.extend({ id: companyId }),
    body: changeCompany,
    reply: company,
  },
  listCompanies: {
    access: 'rep',
    summary: 'Search companies',
    query: listCompanies,
    reply: companyPage,
  },
  countCompanies: {
    access: 'rep',
    summary: 'How many companies a view finds, whole and by group',
    query: countCompanies,
    reply: gridCount,
  },
  exportCompanies: {
    access: 'rep',
    perHour: 30,
    summary: 'Companies of a view as CSV or XLSX: the columns named, in order',
    query: companyQuery.extend(gridExport(companyId)),
    reply: nothing,
  },
  getCompany: {
    access: 'rep',
    summary: 'One company with its people and deals',
    params: byId.extend({ id: companyId }),
    reply: z.object({
      company,
      /** Whoever belongs to it, mainly or beside another company. */
      people: z.array(contactRow),
      deals: dealList.shape.rows,
    }),
  },
} as const satisfies Record<string, RouteSpec>;
