export const baseEndpoints = {
  live: 'GET /api/health/live',
  health: 'GET /api/health',
  openApi: 'GET /api/openapi.json',
  changes: 'GET /api/changes',
} as const;
