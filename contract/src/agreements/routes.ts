import * as z from 'zod';
import { gridCount, gridExport } from '../base/grid';
import { agreementId, dealId } from '../base/ids';
import { byId, nothing, type RouteSpec } from '../base/route';
import {
  agreementDetail,
  agreementList,
  agreementQuery,
  agreementRow,
  changeAgreement,
  changeTermValue,
  countAgreements,
  createAgreement,
  endAgreement,
  keepAgreement,
  listAgreements,
  openRenewal,
  readRenewals,
  askRetention,
  askRetentionRecords,
  renewalsAhead,
  customerRetention,
  retentionRecords,
  setAgreementLines,
} from './schemas';

const one = byId.extend({ id: agreementId });

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
    summary: 'Agreements of a view as CSV or XLSX: the columns named, in order',
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
    params: one,
    body: changeAgreement,
    reply: agreementRow,
  },
  getAgreement: {
    access: 'rep',
    summary: 'An agreement with its terms, changes, lines and the chance that the customer leaves',
    params: one,
    reply: agreementDetail,
  },
  setAgreementLines: {
    access: 'rep',
    summary: 'Set what was bought, line by line',
    params: one,
    body: setAgreementLines,
    reply: agreementDetail,
  },
  changeTermValue: {
    access: 'rep',
    summary: 'Change what an agreement brings from a day of a term on',
    params: one,
    body: changeTermValue,
    reply: agreementDetail,
  },
  endAgreement: {
    access: 'rep',
    summary: 'End an agreement: a notice that came in or was given, or an end that was agreed on',
    params: one,
    body: endAgreement,
    reply: agreementDetail,
  },
  keepAgreement: {
    access: 'rep',
    summary: 'The customer stays after all: what ended the agreement is taken back',
    params: one,
    body: keepAgreement,
    reply: agreementDetail,
  },
  openRenewal: {
    access: 'rep',
    summary: 'Begin the talk about what follows, ahead of its day: one deal for one or several agreements',
    body: openRenewal,
    reply: z.object({ dealId }),
  },
  readRenewals: {
    access: 'rep',
    summary: 'What is at stake: by window, by month, by owner',
    query: readRenewals,
    reply: renewalsAhead,
  },
  customerRetention: {
    access: 'rep',
    summary: 'Retention by month and by the month in which customers began',
    query: askRetention,
    reply: customerRetention,
  },
  customerRetentionRecords: {
    access: 'rep',
    summary: 'The customers behind one figure of the retention',
    query: askRetentionRecords,
    reply: retentionRecords,
  },
} as const satisfies Record<string, RouteSpec>;
