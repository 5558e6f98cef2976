import type { RouteSpec } from '../base/route';
import { journalPage } from '../journal/schemas';
import { ranking, rankingQuery, teamLogQuery } from './schemas';

export const teamLogRoutes = {
  teamLog: {
    access: 'rep',
    summary: 'What colleagues logged, newest first',
    query: teamLogQuery,
    reply: journalPage,
  },
  teamRanking: {
    access: 'rep',
    summary: 'Touches, conversations, meetings held and deals won of colleagues in a period',
    query: rankingQuery,
    reply: ranking,
  },
} as const satisfies Record<string, RouteSpec>;
