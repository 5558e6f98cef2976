export const usersEndpoints = {
  doorstep: 'GET /api/doorstep',
  signIn: 'POST /api/session',
  createFirstAdmin: 'POST /api/first-admin',
  session: 'GET /api/session',
  signOut: 'DELETE /api/session',
  listAbsences: 'GET /api/absences',
  planAbsence: 'POST /api/absences',
  removeAbsence: 'DELETE /api/absences/:id',
  changeMyHours: 'PUT /api/me/hours',
  listColleagues: 'GET /api/colleagues',
} as const;
