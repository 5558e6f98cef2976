export const bulkEndpoints = {
  giveRecords: 'POST /api/records/give',
  planBulk: 'POST /api/bulk/plan',
  startBulk: 'POST /api/bulk',
  getBulk: 'GET /api/bulk/:id',
  retryBulk: 'POST /api/bulk/:id/retry',
  undoBulk: 'POST /api/bulk/:id/undo',
} as const;
