import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import { dayOwner } from '../../records/rights/index';
import { readPerson, todayOf } from '../../records/users/index';
import { readAppointment } from './appointments';
import { callOffAppointment } from './call-off-appointment';
import { changeAppointment } from './change-appointment';
import { makeFeed, readFeed, removeFeed, sendCalendarFile } from './feed';
import { readFreeTimes } from './free-times';
import { offerTimes } from './offer-times';
import { planAppointment } from './plan-appointment';
import { readCalendar } from './read-calendar';
import { readSpine } from './spine';
import { warningsOf } from './warnings';

type Names =
  | 'spine'
  | 'calendar'
  | 'calendarFile'
  | 'calendarFeed'
  | 'makeCalendarFeed'
  | 'removeCalendarFeed'
  | 'planAppointment'
  | 'appointmentWarnings'
  | 'freeTimes'
  | 'offerTimes'
  | 'getAppointment'
  | 'changeAppointment'
  | 'callOffAppointment';

export function calendarRoutes(services: Services): Pick<Handlers, Names> {
  const { database, clock, calendars, settings } = services;
  return {
    spine: async ({ query, who }) => {
      const userId = dayOwner(who, query.owner);
      const person = await readPerson(database, userId);
      const { organisation } = await settings.read(database);
      const calendar = calendars.of(person, organisation);
      return readSpine(database, {
        userId,
        on: query.on ?? todayOf(services, person),
        calendar,
        now: clock.now(),
      });
    },
    calendar: ({ query, who }) => readCalendar(services, who, query),
    calendarFile: ({ who, response }) => sendCalendarFile(services, who, response),
    calendarFeed: async ({ who }) => ({ feed: await readFeed(database, who.id) }),
    makeCalendarFeed: async ({ who }) => ({ url: await makeFeed(services, who) }),
    removeCalendarFeed: async ({ who }) => {
      await removeFeed(services, who);
      return { ok: true };
    },
    planAppointment: ({ body, who }) => work(services, who, (w) => planAppointment(w, body)),
    appointmentWarnings: async ({ body, who }) => ({ warnings: await warningsOf(services, who, body) }),
    freeTimes: async ({ body, who }) => ({ times: await readFreeTimes(services, who, body) }),
    offerTimes: async ({ body, who }) => {
      await work(services, who, (w) => offerTimes(w, body));
      return { ok: true };
    },
    getAppointment: ({ params }) => readAppointment(database, params.id),
    changeAppointment: ({ params, body, who }) =>
      work(services, who, (w) => changeAppointment(w, params.id, body)),
    callOffAppointment: ({ params, body, who }) =>
      work(services, who, (w) => callOffAppointment(w, params.id, body)),
  };
}
