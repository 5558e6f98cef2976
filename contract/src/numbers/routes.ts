import * as z from 'zod';
import { pipelineId, reportMailingId } from '../base/ids';
import { byId, ok, type RouteSpec } from '../base/route';
import {
  askForecast,
  askReport,
  askReportFile,
  askReportRecords,
  calibration,
  forecast,
  mailReport,
  report,
  reportMailing,
  reportReaders,
  reportRecords,
} from './schemas';

export const numbersRoutes = {
  forecast: {
    access: 'rep',
    summary:
      'What a month or a quarter may bring, and what it would if deals came out otherwise; nothing is saved',
    body: askForecast,
    refersTo: ['body.whatIf'],
    perHour: 1200,
    reply: forecast,
  },
  calibration: {
    access: 'rep',
    summary: 'How well the chances of stages foretold what came of deals, and what they should be',
    query: z.object({ pipelineId: pipelineId.optional() }),
    reply: calibration,
  },
  report: {
    access: 'rep',
    summary: 'A question answered with numbers, beside those of the period before',
    query: askReport,
    perHour: 1200,
    reply: report,
  },
  reportRecords: {
    access: 'rep',
    summary: 'The records behind a figure of a report',
    query: askReportRecords,
    perHour: 1200,
    reply: reportRecords,
  },
  reportFile: {
    access: 'rep',
    summary: 'A report as a file: CSV, XLSX, or one page of PDF',
    query: askReportFile,
    perHour: 300,
    reply: z.any(),
  },
  reportReaders: {
    access: 'rep',
    summary: 'Colleagues who may be sent a report, as they may read what it is of',
    query: askReport,
    reply: reportReaders,
  },
  listReportMailings: {
    access: 'rep',
    summary: 'Reports that I have sent each Monday',
    reply: z.object({ mailings: z.array(reportMailing) }),
  },
  mailReport: {
    access: 'rep',
    summary: 'Send a report to colleagues now, or each Monday',
    body: mailReport,
    perHour: 60,
    reply: z.object({ mailing: reportMailing.nullable() }),
  },
  removeReportMailing: {
    access: 'rep',
    summary: 'No longer send a report each Monday',
    params: byId.extend({ id: reportMailingId }),
    reply: ok,
  },
} as const satisfies Record<string, RouteSpec>;
