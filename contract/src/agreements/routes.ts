import { gridCount, gridExport } from '../base/grid';
import { agreementId } from '../base/ids';
import { byId, nothing, type RouteSpec } from '../base/route';
import {
  agreementList,
  agreementQuery,
  agreementRow,
  changeAgreement,
  countAgreements,
  createAgreement,
  listAgreements,
} from './schemas';

export const agreementsRoutes = {
  listAgreements: {
    access: 'rep',
    summary: 'Agreements by notice deadline',
    query: listAgreements,
    reply: agreementList,
  },
  countAgreements: {
    access: 'rep',
    summary: 'How many agreements a view finds, whole and by group',
    query: countAgreements,
    reply: gridCount,
  },
  exportAgreements: {
    access: 'rep',
    perHour: 30,
    summary: 'Agreements of a view as CSV: the columns named, in order',
    query: agreementQuery.extend(gridExport(agreementId)),
    reply: nothing,
  },
  createAgreement: {
    access: 'rep',
    summary: 'Give a customer an agreement',
    body: createAgreement,
    reply: agreementRow,
  },
  changeAgreement: {
    access: 'rep',
    summary: 'Change what an agreement says; its dates follow',
    params: byId.extend({ id: agreementId }),
    body: changeAgreement,
    reply: agreementRow,
  },
} as const satisfies Record<string, RouteSpec>;
