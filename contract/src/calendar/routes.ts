import * as z from 'zod';
import { appointmentId, userId } from '../base/ids';
import { byId, nothing, ok, type RouteSpec } from '../base/route';
import { plainDate } from '../base/values';
import {
  appointment,
  appointmentTime,
  appointmentWarnings,
  calendar,
  calendarFeed,
  calendarQuery,
  callOffAppointment,
  changeAppointment,
  freeTimes,
  freeTimesAsked,
  madeCalendarFeed,
  offerTimes,
  planAppointment,
  spine,
} from './schemas';

const oneAppointment = byId.extend({ id: appointmentId });

export const calendarRoutes = {
  calendarFile: {
    access: 'rep',
    perHour: 60,
    summary: 'One’s own appointments and open tasks as iCalendar (RFC 5545)',
    reply: nothing,
  },
  spine: {
    access: 'rep',
    summary: 'Hours, appointments and gaps of a day',
    query: z.object({ on: plainDate.optional(), owner: userId.optional() }),
    reply: spine,
  },
  calendar: {
    access: 'rep',
    summary:
      'What somebody, or the team, has at its time on some days; of what may not be read only that there is something',
    query: calendarQuery,
    reply: calendar,
  },
  calendarFeed: {
    access: 'rep',
    summary: 'Whether my calendar can be subscribed to, since when, and when it was last read',
    reply: calendarFeed,
  },
  makeCalendarFeed: {
    access: 'rep',
    summary: 'Make a secret address of my calendar; one made before is withdrawn',
    perHour: 30,
    reply: madeCalendarFeed,
  },
  removeCalendarFeed: { access: 'rep', summary: 'Withdraw the address of my calendar', reply: ok },
  planAppointment: {
    access: 'rep',
    summary: 'Plan an appointment; one with a customer is their next step',
    body: planAppointment,
    reply: appointment,
    refersTo: ['body.guestIds'],
  },
  offerTimes: {
    access: 'rep',
    summary: 'Ask somebody by mail to choose among times; what they choose is agreed',
    body: offerTimes,
    reply: ok,
  },
  appointmentWarnings: {
    access: 'rep',
    summary: 'What is in the way of an appointment at a time: others, hours, days off of either side',
    body: appointmentTime,
    reply: appointmentWarnings,
    refersTo: ['body.contactIds', 'body.exceptId'],
  },
  freeTimes: {
    access: 'rep',
    summary: 'The next times at which everybody who comes is free, within the hours of both sides',
    body: freeTimesAsked,
    reply: freeTimes,
    refersTo: ['body.contactIds'],
  },
  getAppointment: {
    access: 'rep',
    summary: 'An appointment in full',
    params: oneAppointment,
    reply: appointment,
  },
  changeAppointment: {
    access: 'rep',
    summary: 'Change an appointment or move it',
    params: oneAppointment,
    body: changeAppointment,
    reply: appointment,
    refersTo: ['body.guestIds'],
  },
  callOffAppointment: {
    access: 'rep',
    summary: 'Call an appointment off: with a new time, a step that finds one, or for good',
    params: oneAppointment,
    body: callOffAppointment,
    reply: appointment,
  },
} as const satisfies Record<string, RouteSpec>;
