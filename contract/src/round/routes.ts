import { ok, type RouteSpec } from '../base/route';
import {
  done,
  doneQuery,
  moveRows,
  movedRows,
  placeRow,
  round,
  roundFilters,
  walkItem,
  walkQuery,
} from './schemas';

export const roundRoutes = {
  round: { access: 'rep', summary: 'The day’s computed queue', query: roundFilters, reply: round },
  walkItem: {
    access: 'rep',
    summary: 'One item of the walk with proposals',
    query: walkQuery,
    reply: walkItem,
  },
  whatIsDone: {
    access: 'rep',
    summary: 'What somebody logged and finished in a period',
    query: doneQuery,
    reply: done,
  },
  placeRow: { access: 'rep', summary: 'Pin a row of today’s round', body: placeRow, reply: ok },
  moveRows: {
    access: 'rep',
    summary: 'Move rows below the cut line',
    body: moveRows,
    refersTo: ['body.rows'],
    reply: movedRows,
  },
} as const satisfies Record<string, RouteSpec>;
