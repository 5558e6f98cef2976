export const removalEndpoints = {
  archiveRecord: 'POST /api/records/archive',
  archiveLeads: 'POST /api/records/archive-leads',
  removeRecord: 'POST /api/records/delete',
} as const;
