export const searchEndpoints = {
  search: 'GET /api/search',
} as const;
