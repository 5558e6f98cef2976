export const importsEndpoints = {
  uploadImport: 'POST /api/imports',
  getImport: 'GET /api/imports/:id',
  remapImport: 'PUT /api/imports/:id/mapping',
  chooseImportRows: 'POST /api/imports/:id/choices',
  confirmImport: 'POST /api/imports/:id/confirm',
  retryImport: 'POST /api/imports/:id/retry',
  listImports: 'GET /api/imports',
  undoImport: 'POST /api/imports/:id/undo',
} as const;
