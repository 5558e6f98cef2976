import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { readTeamLog } from '../../activity/journal/index';
import { readRanking } from './ranking';

export function teamLogRoutes(services: Services): Pick<Handlers, 'teamLog' | 'teamRanking'> {
  return {
    teamLog: ({ who, query }) => services.database.together((db) => readTeamLog(db, who, query)),
    teamRanking: ({ who, query }) => services.database.together((db) => readRanking(db, who, query)),
  };
}
