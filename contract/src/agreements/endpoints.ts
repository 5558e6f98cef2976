export const agreementsEndpoints = {
  listAgreements: 'GET /api/agreements',
  createAgreement: 'POST /api/agreements',
} as const;
