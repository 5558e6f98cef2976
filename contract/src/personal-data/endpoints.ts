export const personalDataEndpoints = {
  personalData: 'GET /api/contacts/:id/personal-data',
  exportPersonalData: 'GET /api/contacts/:id/personal-data/file',
  erasePerson: 'POST /api/contacts/:id/erase',
  dataPlaces: 'GET /api/data-places',
  retentionSettings: 'GET /api/retention-settings',
  changeRetentionSettings: 'PUT /api/retention-settings',
} as const;
