export const baseEndpoints = {
  health: 'GET /api/health',
  openApi: 'GET /api/openapi.json',
  changes: 'GET /api/changes',
} as const;
