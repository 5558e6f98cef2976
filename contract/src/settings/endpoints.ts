export const settingsEndpoints = {
  journalSettings: 'GET /api/journal-settings',
  changeJournalSettings: 'PUT /api/journal-settings',
  organisationSettings: 'GET /api/organisation',
  changeOrganisationSettings: 'PUT /api/organisation',
  roundSettings: 'GET /api/round-settings',
  changeRoundSettings: 'PUT /api/round-settings',
  rightsSettings: 'GET /api/rights-settings',
  changeRightsSettings: 'PUT /api/rights-settings',
  setup: 'GET /api/setup',
  changeSetup: 'PUT /api/setup',
  closeReasons: 'GET /api/close-reasons',
  changeCloseReasons: 'PUT /api/close-reasons',
} as const;
