export const templatesEndpoints = {
  listTemplates: 'GET /api/templates',
  createTemplate: 'POST /api/templates',
  fillText: 'POST /api/templates/fill',
  changeTemplate: 'PUT /api/templates/:id',
  createSnippet: 'POST /api/snippets',
  changeSnippet: 'PUT /api/snippets/:id',
  removeSnippet: 'DELETE /api/snippets/:id',
  changeMySignature: 'PUT /api/me/signature',
} as const;
