export const fieldDaysEndpoints = {
  fieldDay: 'GET /api/field-days',
  planFieldDay: 'POST /api/field-days/plan',
  locateSite: 'PUT /api/field-days/sites',
  changeMyStart: 'PUT /api/field-days/start',
  roadSettings: 'GET /api/settings/roads',
  changeRoadSettings: 'PUT /api/settings/roads',
} as const;
