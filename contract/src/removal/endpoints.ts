export const removalEndpoints = {
  removeRecord: 'POST /api/records/delete',
} as const;
