export const calendarEndpoints = {
  spine: 'GET /api/spine',
  calendar: 'GET /api/calendar',
  calendarFeed: 'GET /api/calendar/feed',
  makeCalendarFeed: 'POST /api/calendar/feed',
  removeCalendarFeed: 'DELETE /api/calendar/feed',
  planAppointment: 'POST /api/appointments',
  appointmentWarnings: 'POST /api/appointments/warnings',
  offerTimes: 'POST /api/appointments/offers',
  freeTimes: 'POST /api/appointments/free-times',
  getAppointment: 'GET /api/appointments/:id',
  changeAppointment: 'PUT /api/appointments/:id',
  callOffAppointment: 'POST /api/appointments/:id/call-off',
} as const;
