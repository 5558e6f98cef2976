import * as z from 'zod';
import { companyId } from '../base/ids';
import { byId, type RouteSpec } from '../base/route';
import { contactRow } from '../contacts';
import { dealList } from '../deals';
import { changeCompany, company, companyPage } from './schemas';

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
    query: z.object({
      q: z.string().trim().max(100).default(''),
      /** The archived ones, and only those; left out, those that are not. */
      archived: z.enum(['yes']).optional(),
      limit: z.coerce.number().int().min(1).max(500).default(200),
    }),
    reply: companyPage,
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
