import * as z from 'zod';
import { outsideCalendarId } from '../base/ids';
import { byId, ok, type RouteSpec } from '../base/route';
import {
  addOutsideCalendar,
  calendarServer,
  changeOutsideCalendar,
  foundCalendars,
  outsideCalendar,
  settleOutsideQuestion,
} from './schemas';

const oneCalendar = byId.extend({ id: outsideCalendarId });

export const outsideCalendarRoutes = {
  outsideCalendars: {
    access: 'rep',
    summary: 'My calendars elsewhere, how reading them went, and where both sides differ',
    reply: z.object({ calendars: z.array(outsideCalendar) }),
  },
  addOutsideCalendar: {
    access: 'rep',
    summary: 'Read a calendar elsewhere, or keep mine in step with it; it is read at once',
    body: addOutsideCalendar,
    perHour: 60,
    reply: outsideCalendar,
  },
  findOutsideCalendars: {
    access: 'rep',
    summary: 'The calendars that a server has for a name and password',
    body: calendarServer,
    perHour: 60,
    reply: foundCalendars,
  },
  changeOutsideCalendar: {
    access: 'rep',
    summary: 'Call a calendar elsewhere otherwise, or have it take no time',
    params: oneCalendar,
    body: changeOutsideCalendar,
    reply: outsideCalendar,
  },
  removeOutsideCalendar: {
    access: 'rep',
    summary: 'Read a calendar elsewhere no more',
    params: oneCalendar,
    reply: ok,
  },
  readOutsideCalendar: {
    access: 'rep',
    summary: 'Read a calendar elsewhere now',
    params: oneCalendar,
    perHour: 120,
    reply: outsideCalendar,
  },
  settleOutsideQuestion: {
    access: 'rep',
    summary: 'Say which side counts where an appointment differs',
    params: oneCalendar,
    body: settleOutsideQuestion,
    reply: outsideCalendar,
  },
} as const satisfies Record<string, RouteSpec>;
