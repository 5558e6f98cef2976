import { OutsideFailure } from '../../platform/outside/fetch-outside';
import { Problem } from '../../platform/problem';
import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import {
  changeCalendar,
  listCalendars,
  ownCalendar,
  readCalendar,
  removeCalendar,
  writeCalendarRow,
} from './calendars';
import { Dav } from './dav';
import { readOutside } from './read-outside';
import { settleQuestion } from './settle';
import { tryAddress } from './try-address';

type Names =
  | 'outsideCalendars'
  | 'addOutsideCalendar'
  | 'findOutsideCalendars'
  | 'changeOutsideCalendar'
  | 'removeOutsideCalendar'
  | 'readOutsideCalendar'
  | 'settleOutsideQuestion';

export function outsideCalendarRoutes(services: Services): Pick<Handlers, Names> {
  const { database, channels } = services;
  return {
    outsideCalendars: async ({ who }) => ({ calendars: await listCalendars(database, who) }),
    findOutsideCalendars: async ({ body }) => ({
      calendars: await atAddress(() => new Dav(channels.fetchOutside, body).find(body.address)),
    }),
    addOutsideCalendar: async ({ body, who }) => {
      // What cannot be read is not added: the words are still on the screen.
      await atAddress(() => tryAddress(services, body));
      const id = await writeCalendarRow(services, who, body);
      await readOutside(services, id);
      return readCalendar(database, who, id);
    },
    changeOutsideCalendar: ({ params, body, who }) =>
      work(services, who, (w) => changeCalendar(w, params.id, body)),
    removeOutsideCalendar: async ({ params, who }) => {
      await work(services, who, (w) => removeCalendar(w, params.id));
      return { ok: true };
    },
    readOutsideCalendar: async ({ params, who }) => {
      await ownCalendar(database, who, params.id);
      await readOutside(services, params.id);
      return readCalendar(database, who, params.id);
    },
    settleOutsideQuestion: async ({ params, body, who }) => {
      await work(services, who, (w) => settleQuestion(w, params.id, body));
      return readCalendar(database, who, params.id);
    },
  };
}

/** What is wrong with an address stands at it. */
async function atAddress<Result>(read: () => Promise<Result>): Promise<Result> {
  try {
    return await read();
  } catch (error) {
    if (!(error instanceof OutsideFailure)) throw error;
    throw new Problem('invalid-request', {}, { fields: [{ path: 'address', message: error.message }] });
  }
}
