export const calendarEndpoints = {
  spine: 'GET /api/spine',
  createMeeting: 'POST /api/meetings',
  removeMeeting: 'DELETE /api/meetings/:id',
} as const;
