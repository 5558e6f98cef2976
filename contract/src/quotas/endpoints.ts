export const quotasEndpoints = {
  readQuotas: 'GET /api/quotas',
  setQuota: 'PUT /api/quotas',
  quotaBoard: 'GET /api/quotas/board',
} as const;
