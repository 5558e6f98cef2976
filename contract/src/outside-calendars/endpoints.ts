export const outsideCalendarEndpoints = {
  outsideCalendars: 'GET /api/outside-calendars',
  addOutsideCalendar: 'POST /api/outside-calendars',
  findOutsideCalendars: 'POST /api/outside-calendars/find',
  changeOutsideCalendar: 'PUT /api/outside-calendars/:id',
  removeOutsideCalendar: 'DELETE /api/outside-calendars/:id',
  readOutsideCalendar: 'POST /api/outside-calendars/:id/read',
  settleOutsideQuestion: 'POST /api/outside-calendars/:id/settle',
} as const;
