export const removalEndpoints = {
  archiveRecord: 'POST /api/records/archive',
  removeRecord: 'POST /api/records/delete',
} as const;
