export const jobsEndpoints = {
  failedJobs: 'GET /api/failed-jobs',
  retryJob: 'POST /api/failed-jobs/:id/retry',
} as const;
