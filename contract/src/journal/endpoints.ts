export const journalEndpoints = {
  listJournal: 'GET /api/journal',
  log: 'POST /api/journal/log',
  writeNote: 'POST /api/journal/notes',
  undoLog: 'POST /api/journal/:id/undo',
  editEntry: 'PUT /api/journal/:id',
  removeEntry: 'POST /api/journal/:id/remove',
  restoreEntry: 'POST /api/journal/:id/restore',
  entryHistory: 'GET /api/journal/:id/history',
  giveThanks: 'PUT /api/journal/:id/thanks',
  writeComment: 'POST /api/journal/:id/comments',
} as const;
