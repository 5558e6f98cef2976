export const contactsEndpoints = {
  listContacts: 'GET /api/contacts',
  createContact: 'POST /api/contacts',
  changeContact: 'PUT /api/contacts/:id',
  countContacts: 'GET /api/contacts/count',
  exportContacts: 'GET /api/contacts/export',
  getContact: 'GET /api/contacts/:id',
  changeCell: 'PUT /api/contacts/:id/cell',
  claimContact: 'POST /api/contacts/:id/claim',
  handOver: 'POST /api/contacts/:id/owner',
  listTags: 'GET /api/tags',
  saveStandings: 'PUT /api/standings',
  listStandings: 'GET /api/standings',
} as const;
