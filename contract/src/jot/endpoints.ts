export const jotEndpoints = {
  readJot: 'POST /api/jot',
} as const;
