import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { readAt, type SignedIn, todayOf } from '../../records/users/index';
import { changeSetting } from '../../records/settings/index';
import { createLead } from './add-lead';
import { changeLead, claimLead, reviveLead, setLeadAside } from './change-lead';
import { readDropOff } from './drop-off';
import { readLead } from './lead-rows';
import { leadsList, readLeadHead } from './list-leads';
import { listRoutes } from '../../records/grid/index';
import { planQualify, qualifyLead, unqualifyLead } from './qualify';
import { work, type PersonWork } from '../../platform/work/work';

type Names =
  | 'listLeads'
  | 'countLeads'
  | 'leadDropOff'
  | 'exportLeads'
  | 'createLead'
  | 'getLead'
  | 'changeLead'
  | 'claimLead'
  | 'setLeadAside'
  | 'reviveLead'
  | 'planQualify'
  | 'qualifyLead'
  | 'unqualifyLead'
  | 'leadSettings'
  | 'changeLeadSettings';

export function leadsRoutes(services: Services): Pick<Handlers, Names> {
  const { database, settings } = services;
  /** Changes a lead, and answers with it as it is then. */
  const changing = async (who: SignedIn, id: string, act: (w: PersonWork) => Promise<void>) => {
    await work(services, who, act);
    return readLead(database, id, readAt(services, who));
  };
  const list = listRoutes(services, leadsList);
  return {
    listLeads: list.page,
    countLeads: async ({ query, who }) => {
      const today = todayOf(services, who);
      const [count, head] = await Promise.all([
        list.count({ query, who }),
        readLeadHead(database, query, { who, today }),
      ]);
      return { ...count, ...head };
    },
    leadDropOff: ({ query, who }) => database.together((db) => readDropOff(db, who, query)),
    exportLeads: list.export,
    getLead: ({ params, who }) => readLead(database, params.id, readAt(services, who)),
    createLead: async ({ body, who }) => {
      const id = await work(services, who, (w) => createLead(w, body));
      return readLead(database, id, readAt(services, who));
    },
    changeLead: ({ params: { id }, body, who }) => changing(who, id, (w) => changeLead(w, id, body)),
    claimLead: ({ params: { id }, who }) => changing(who, id, (w) => claimLead(w, id)),
    setLeadAside: ({ params: { id }, body, who }) => changing(who, id, (w) => setLeadAside(w, id, body)),
    reviveLead: ({ params: { id }, body, who }) => changing(who, id, (w) => reviveLead(w, id, body)),
    planQualify: ({ params, who }) => planQualify(services, who, params.id),
    qualifyLead: ({ params: { id }, body, who }) => changing(who, id, (w) => qualifyLead(w, id, body)),
    unqualifyLead: ({ params, who }) => unqualifyLead(services, who, params.id),
    leadSettings: async () => (await settings.read(database)).leads,
    changeLeadSettings: ({ body, who }) => changeSetting(services, who, { name: 'leads', body }),
  };
}
