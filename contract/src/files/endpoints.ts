export const filesEndpoints = {
  uploadFile: 'POST /api/files',
  listFiles: 'GET /api/files',
  getFile: 'GET /api/files/:id',
  removeFile: 'DELETE /api/files/:id',
  restoreFile: 'POST /api/files/:id/restore',
} as const;
