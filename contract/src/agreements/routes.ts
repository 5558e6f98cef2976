import { type RouteSpec } from '../base/route';
import { agreementList, agreementRow, createAgreement, listAgreements } from './schemas';

export const agreementsRoutes = {
  listAgreements: {
    access: 'rep',
    summary: 'Agreements by notice deadline',
    query: listAgreements,
    reply: agreementList,
  },
  createAgreement: {
    access: 'rep',
    summary: 'Give a customer an agreement',
    body: createAgreement,
    reply: agreementRow,
  },
} as const satisfies Record<string, RouteSpec>;
