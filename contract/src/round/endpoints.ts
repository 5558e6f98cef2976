export const roundEndpoints = {
  round: 'GET /api/round',
  walkItem: 'GET /api/round/walk',
  whatIsDone: 'GET /api/round/done',
  placeRow: 'POST /api/round/places',
  learnedValues: 'GET /api/round-settings/learned',
  previewRound: 'POST /api/round-settings/preview',
  moveRows: 'POST /api/round/moves',
} as const;
