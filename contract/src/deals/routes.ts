import { dealId } from '../base/ids';
import { byId, type RouteSpec } from '../base/route';
import { overVersion } from '../tasks';
import {
  changeDeal,
  closeDeal,
  countDeals,
  createDeal,
  deal,
  dealCount,
  dealList,
  dealPage,
  closingSteps,
  lettingGo,
  listDeals,
  moveDeal,
  pageDeals,
  reopenDeal,
  tickPrompt,
} from './schemas';

export const dealsRoutes = {
  listDeals: { access: 'rep', summary: 'Open deals', query: listDeals, reply: dealList },
  pageDeals: { access: 'rep', summary: 'A page of the list of deals', query: pageDeals, reply: dealPage },
  countDeals: {
    access: 'rep',
    summary: 'Count and totals of deals, whole and by group',
    query: countDeals,
    reply: dealCount,
  },
  undoClose: {
    access: 'rep',
    summary: 'Take a closing back: the deal stands where it stood, with its tasks and cadences',
    params: byId.extend({ id: dealId }),
    body: overVersion,
    reply: deal,
  },
  tickPrompt: {
    access: 'rep',
    summary: 'Tick a prompt of the stage brief, or take the tick away',
    params: byId.extend({ id: dealId }),
    body: tickPrompt,
    reply: deal,
  },
  closingSteps: {
    access: 'rep',
    summary: 'Planned steps that closing drops, or that opening again can bring back',
    params: byId.extend({ id: dealId }),
    reply: closingSteps,
  },
  lettingGo: {
    access: 'rep',
    summary: 'Whether to go on: tries, days, the chance of an answer',
    params: byId.extend({ id: dealId }),
    reply: lettingGo,
  },
  createDeal: { access: 'rep', summary: 'Make a deal with its next step', body: createDeal, reply: deal },
  getDeal: { access: 'rep', summary: 'One deal', params: byId.extend({ id: dealId }), reply: deal },
  changeDeal: {
    access: 'rep',
    summary: 'Change a deal',
    params: byId.extend({ id: dealId }),
    body: changeDeal,
    reply: deal,
  },
  moveDeal: {
    access: 'rep',
    summary: 'Put a deal into another stage or month',
    params: byId.extend({ id: dealId }),
    body: moveDeal,
    reply: deal,
  },
  reopenDeal: {
    access: 'rep',
    summary: 'Open a deal again that was won, lost or parked',
    params: byId.extend({ id: dealId }),
    body: reopenDeal,
    reply: deal,
  },
  closeDeal: {
    access: 'rep',
    summary: 'Win, lose or park a deal',
    params: byId.extend({ id: dealId }),
    body: closeDeal,
    reply: deal,
  },
} as const satisfies Record<string, RouteSpec>;
