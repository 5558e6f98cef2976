export const dossierEndpoints = {
  getDossier: 'GET /api/dossier',
} as const;
