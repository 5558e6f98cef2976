/** Method and path of every route by name. Kept free of schemas so that the browser can carry it cheaply. */
export const endpoints = {
  doorstep: 'GET /api/doorstep',
  signIn: 'POST /api/session',
  createFirstAdmin: 'POST /api/first-admin',
  session: 'GET /api/session',
  signOut: 'DELETE /api/session',
  changeMyHours: 'PUT /api/me/hours',
  listColleagues: 'GET /api/colleagues',
  createUser: 'POST /api/users',
  health: 'GET /api/health',
  openApi: 'GET /api/openapi.json',
  changes: 'GET /api/changes',

  listContacts: 'GET /api/contacts',
  createContact: 'POST /api/contacts',
  getContact: 'GET /api/contacts/:id',
  changeContact: 'PUT /api/contacts/:id',
  listStandings: 'GET /api/standings',
  listCompanies: 'GET /api/companies',
  getCompany: 'GET /api/companies/:id',

  listJournal: 'GET /api/journal',
  log: 'POST /api/journal/log',
  writeNote: 'POST /api/journal/notes',
  undoLog: 'POST /api/journal/:id/undo',

  createTask: 'POST /api/tasks',
  listTasks: 'GET /api/tasks',
  deferTask: 'POST /api/tasks/:id/defer',
  dropTask: 'POST /api/tasks/:id/drop',

  uploadImport: 'POST /api/imports',
  getImport: 'GET /api/imports/:id',
  remapImport: 'PUT /api/imports/:id/mapping',
  confirmImport: 'POST /api/imports/:id/confirm',

  listCadences: 'GET /api/cadences',
  createCadence: 'POST /api/cadences',
  planStart: 'POST /api/cadences/:id/plan',
  startRuns: 'POST /api/cadences/:id/runs',
  listRuns: 'GET /api/runs',
  changeRun: 'POST /api/runs/:id/change',

  listDeals: 'GET /api/deals',
  listPipelines: 'GET /api/pipelines',
  createDeal: 'POST /api/deals',
  getDeal: 'GET /api/deals/:id',
  changeDeal: 'PUT /api/deals/:id',
  closeDeal: 'POST /api/deals/:id/close',
  listAgreements: 'GET /api/agreements',
  createAgreement: 'POST /api/agreements',

  round: 'GET /api/round',
  walkItem: 'GET /api/round/walk',
  placeRow: 'POST /api/round/places',
  moveRows: 'POST /api/round/moves',
  spine: 'GET /api/spine',
  createMeeting: 'POST /api/meetings',
  removeMeeting: 'DELETE /api/meetings/:id',
} as const satisfies Record<string, `${'GET' | 'POST' | 'PUT' | 'DELETE'} /api/${string}`>;

export type EndpointName = keyof typeof endpoints;
