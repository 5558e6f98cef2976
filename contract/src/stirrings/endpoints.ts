export const stirringsEndpoints = {
  listStirrings: 'GET /api/stirrings',
  handleStirring: 'POST /api/stirrings/:id/handle',
  fileStirring: 'POST /api/stirrings/:id/file',
} as const;
