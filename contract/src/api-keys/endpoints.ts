export const apiKeysEndpoints = {
  apiKeys: 'GET /api/api-keys',
  makeApiKey: 'POST /api/api-keys',
  withdrawApiKey: 'DELETE /api/api-keys/:id',
} as const;
