import { startOfMonth } from '@kettle/core/time';
import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import { todayOf } from '../../records/users/index';
import { arrangeHome, arrangeRoleHome, readHome, resetHome } from './arrange-home';
import { readForecast } from './forecast';
import { readBoard } from './quota-board';

type Names = 'readHome' | 'arrangeHome' | 'resetHome' | 'arrangeRoleHome' | 'quotaBoard' | 'monthForecast';

export function homeRoutes(services: Services): Pick<Handlers, Names> {
  const { database } = services;
  return {
    readHome: ({ who }) => readHome(database, who),
    arrangeHome: async ({ who, body }) => {
      await work(services, who, (w) => arrangeHome(w, body));
      return readHome(database, who);
    },
    resetHome: async ({ who }) => {
      await work(services, who, (w) => resetHome(w));
      return readHome(database, who);
    },
    arrangeRoleHome: async ({ who, params, body }) => {
      await work(services, who, (w) => arrangeRoleHome(w, params.role, body.cards));
      return { ok: true };
    },
    quotaBoard: ({ who, query }) => readBoard(services, who, query),
    monthForecast: ({ who, query }) =>
      readForecast(services, who, { ...query, month: startOfMonth(todayOf(services, who)) }),
  };
}
