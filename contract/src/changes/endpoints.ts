export const changesEndpoints = {
  listChanges: 'GET /api/changes/sets',
  undoChange: 'POST /api/changes/:id/undo',
} as const;
