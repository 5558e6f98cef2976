import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { readCalibration } from '../../processes/forecast/index';
import { todayOf } from '../../records/users/index';
import { readForecast } from './forecast';
import { mailReport, readMailings, readReaders, removeMailing } from './mailings';
import { readReport, readReportRecords } from './report';
import { sendReportFile } from './report-file';

type Names =
  | 'forecast'
  | 'calibration'
  | 'report'
  | 'reportRecords'
  | 'reportFile'
  | 'reportReaders'
  | 'listReportMailings'
  | 'mailReport'
  | 'removeReportMailing';

export function numbersRoutes(services: Services): Pick<Handlers, Names> {
  return {
    forecast: ({ who, body }) => readForecast(services, who, body),
    calibration: ({ who, query }) =>
      readCalibration(services.database, todayOf(services, who), query.pipelineId ?? null),
    report: ({ who, query }) => readReport(services, who, query),
    reportRecords: ({ who, query }) => readReportRecords(services, who, query),
    reportFile: ({ who, query, response }) => sendReportFile(services, who, query, response),
    reportReaders: ({ who, query }) => readReaders(services, who, query),
    listReportMailings: ({ who }) => readMailings(services, who),
    mailReport: ({ who, body }) => mailReport(services, who, body),
    removeReportMailing: async ({ who, params }) => {
      await removeMailing(services, who, params.id);
      return { ok: true };
    },
  };
}
