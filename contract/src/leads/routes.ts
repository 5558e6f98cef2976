import { formId, leadId } from '../base/ids';
import { byId, type RouteSpec } from '../base/route';
import { overVersion } from '../tasks';
import {
  changeLead,
  changeLeadSettings,
  changeWebForm,
  createLead,
  createWebForm,
  lead,
  leadList,
  leadSettings,
  listLeads,
  qualifyLead,
  qualifyPlan,
  reviveLead,
  setLeadAside,
  webForm,
  webFormList,
} from './schemas';

export const leadsRoutes = {
  listLeads: { access: 'rep', summary: 'Leads', query: listLeads, reply: leadList },
  createLead: { access: 'rep', summary: 'Add a lead', body: createLead, reply: lead },
  getLead: { access: 'rep', summary: 'One lead', params: byId.extend({ id: leadId }), reply: lead },
  changeLead: {
    access: 'rep',
    summary: 'Change a lead',
    params: byId.extend({ id: leadId }),
    body: changeLead,
    reply: lead,
  },
  claimLead: {
    access: 'rep',
    summary: 'Take a lead from the pool',
    params: byId.extend({ id: leadId }),
    reply: lead,
  },
  setLeadAside: {
    access: 'rep',
    summary: 'Set a lead aside, with a reason and perhaps a day to come back',
    params: byId.extend({ id: leadId }),
    body: setLeadAside,
    reply: lead,
  },
  reviveLead: {
    access: 'rep',
    summary: 'Take a lead up again that was set aside',
    params: byId.extend({ id: leadId }),
    body: reviveLead,
    reply: lead,
  },
  planQualify: {
    access: 'rep',
    summary: 'Who and what a lead may already be, and what would come along',
    params: byId.extend({ id: leadId }),
    reply: qualifyPlan,
  },
  qualifyLead: {
    access: 'rep',
    summary: 'Make company, contact and deal of a lead',
    params: byId.extend({ id: leadId }),
    body: qualifyLead,
    reply: lead,
  },
  unqualifyLead: {
    access: 'rep',
    summary: 'Take a qualifying back',
    params: byId.extend({ id: leadId }),
    body: overVersion,
    reply: lead,
  },
  leadSettings: { access: 'rep', summary: 'Who gets new leads', reply: leadSettings },
  changeLeadSettings: {
    access: 'admin',
    summary: 'Change who gets new leads',
    body: changeLeadSettings,
    reply: leadSettings,
  },
  listWebForms: { access: 'rep', summary: 'Forms for the web', reply: webFormList },
  createWebForm: { access: 'admin', summary: 'Make a form for the web', body: createWebForm, reply: webForm },
  changeWebForm: {
    access: 'admin',
    summary: 'Change a form for the web',
    params: byId.extend({ id: formId }),
    body: changeWebForm,
    reply: webForm,
  },
} as const satisfies Record<string, RouteSpec>;
