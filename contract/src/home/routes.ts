import * as z from 'zod';
import { ok, type RouteSpec } from '../base/route';
import { role } from '../base/words';
import { arrangeHome, home, homeCards, monthForecast, monthForecastQuery } from './schemas';

export const homeRoutes = {
  readHome: { access: 'rep', summary: 'The cards of one’s Home, in order', reply: home },
  arrangeHome: {
    access: 'rep',
    summary: 'Arrange one’s own Home',
    body: arrangeHome,
    refersTo: ['body.cards'],
    reply: home,
  },
  resetHome: { access: 'rep', summary: 'Back to the Home that is set for one’s role', reply: home },
  monthForecast: {
    access: 'rep',
    summary: 'What the month may bring: won so far, and open deals by their value and chance',
    query: monthForecastQuery,
    reply: monthForecast,
  },
  arrangeRoleHome: {
    access: 'admin',
    summary: 'Set the Home of a role, for everybody who has not arranged an own one',
    params: z.object({ role }),
    body: z.object({ cards: homeCards }),
    refersTo: ['body.cards'],
    reply: ok,
  },
} as const satisfies Record<string, RouteSpec>;
