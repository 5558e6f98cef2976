export const bulkEndpoints = {
  planBulk: 'POST /api/bulk/plan',
  startBulk: 'POST /api/bulk',
  getBulk: 'GET /api/bulk/:id',
  undoBulk: 'POST /api/bulk/:id/undo',
} as const;
