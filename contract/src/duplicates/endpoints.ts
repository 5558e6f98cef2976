export const duplicatesEndpoints = {
  similarContacts: 'POST /api/contacts/similar',
  listPairs: 'GET /api/contacts/pairs',
  dismissPair: 'POST /api/contacts/pairs/dismiss',
  mergeContacts: 'POST /api/contacts/merge',
  listMerges: 'GET /api/merges',
  undoMerge: 'POST /api/merges/:id/undo',
} as const;
