export const teamLogEndpoints = {
  teamLog: 'GET /api/team-log',
  teamRanking: 'GET /api/team-log/ranking',
} as const;
