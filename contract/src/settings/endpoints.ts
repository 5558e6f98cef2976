export const settingsEndpoints = {
  journalSettings: 'GET /api/journal-settings',
  changeJournalSettings: 'PUT /api/journal-settings',
  closeReasons: 'GET /api/close-reasons',
  changeCloseReasons: 'PUT /api/close-reasons',
} as const;
