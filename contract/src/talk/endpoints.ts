export const talkEndpoints = {
  listTalk: 'GET /api/talk',
  writeTalk: 'POST /api/talk',
  removeTalk: 'DELETE /api/talk/:id',
} as const;
