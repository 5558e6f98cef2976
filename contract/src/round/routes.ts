import * as z from 'zod';
import { userId } from '../base/ids';
import { ok, type RouteSpec } from '../base/route';
import { learnedValue, roundSettings } from '../settings';
import {
  done,
  doneQuery,
  givePreview,
  previewGive,
  moveRows,
  movedRows,
  placeRow,
  plannedWalk,
  planWalk,
  round,
  roundFilters,
  roundPreview,
  teamRounds,
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
  teamRounds: {
    access: 'manager',
    summary: 'How the days of those I lead stand',
    reply: teamRounds,
  },
  previewGive: {
    access: 'rep',
    summary: 'What giving tasks to somebody does to both their days; nothing is changed',
    body: previewGive,
    refersTo: ['body.ownerId'],
    reply: givePreview,
  },
  planWalk: {
    access: 'rep',
    summary: 'What a walk through chosen tasks, people, deals or leads goes through; nothing is changed',
    body: planWalk,
    refersTo: ['body.ids'],
    reply: plannedWalk,
  },
  whatIsDone: {
    access: 'rep',
    summary: 'What somebody logged and finished in a period',
    query: doneQuery,
    reply: done,
  },
  placeRow: {
    access: 'rep',
    summary: 'Pin a row of today’s round, or put it elsewhere by hand',
    body: placeRow,
    reply: ok,
  },
  learnedValues: {
    access: 'rep',
    summary: 'What the Round reckons with, as usual and as learned',
    reply: z.object({ values: z.array(learnedValue) }),
  },
  previewRound: {
    access: 'admin',
    summary: 'Today’s order as other settings would make it; nothing is changed',
    /** Whose day; left out, one's own. */
    query: z.object({ owner: userId.optional() }),
    body: roundSettings,
    reply: roundPreview,
  },
  moveRows: {
    access: 'rep',
    summary: 'Move rows below the cut line',
    body: moveRows,
    refersTo: ['body.rows'],
    reply: movedRows,
  },
} as const satisfies Record<string, RouteSpec>;
