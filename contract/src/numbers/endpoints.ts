export const numbersEndpoints = {
  forecast: 'POST /api/numbers/forecast',
  calibration: 'GET /api/numbers/calibration',
  report: 'GET /api/numbers/report',
  reportRecords: 'GET /api/numbers/report/records',
  reportFile: 'GET /api/numbers/report/file',
  reportReaders: 'GET /api/numbers/report/readers',
  listReportMailings: 'GET /api/numbers/mailings',
  mailReport: 'POST /api/numbers/mailings',
  removeReportMailing: 'DELETE /api/numbers/mailings/:id',
} as const;
