import type { Handlers } from '../../platform/http/bind-routes';
import { bytesOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { readDealRows } from '../../processes/deals/index';
import { readCompany, readPeopleOf } from '../../records/companies/index';
import { readContactRows } from '../../records/contacts/index';
import { reachParameters, withinReach } from '../../records/rights/index';
import { readAt } from '../../records/users/index';
import { readDossier } from './read-dossier';

/** What the dossiers show that no single record's feature can read. */
export function dossierRoutes(services: Services): Pick<Handlers, 'getCompany' | 'getDossier'> {
  const { database } = services;
  return {
    getDossier: ({ query, who }) => readDossier(services, who, query),
    getCompany: async ({ params, who }) => ({
      company: await readCompany(database, who, params.id),
      people: await readContactRows(database, await readPeopleOf(database, who, params.id)),
      deals: await readDealRows(
        database,
        `d.company_id = :id AND ${withinReach(who, 'deal', 'd')}`,
        { ...reachParameters(who), id: bytesOf(params.id) },
        readAt(services, who),
      ),
    }),
  };
}
