export const wordingsEndpoints = {
  listWordings: 'GET /api/wordings',
  draftWording: 'POST /api/wordings',
  releaseWording: 'POST /api/wordings/:id/release',
  declineWording: 'POST /api/wordings/:id/decline',
  withdrawWording: 'POST /api/wordings/:id/withdraw',
} as const;
