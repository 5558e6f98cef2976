export const roundEndpoints = {
  round: 'GET /api/round',
  walkItem: 'GET /api/round/walk',
  teamRounds: 'GET /api/round/team',
  previewGive: 'POST /api/round/give-preview',
  planWalk: 'POST /api/round/walks',
  whatIsDone: 'GET /api/round/done',
  placeRow: 'POST /api/round/places',
  learnedValues: 'GET /api/round-settings/learned',
  previewRound: 'POST /api/round-settings/preview',
  moveRows: 'POST /api/round/moves',
} as const;
