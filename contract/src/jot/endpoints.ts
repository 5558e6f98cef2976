export const jotEndpoints = {
  readJot: 'POST /api/jot',
  saveJot: 'POST /api/jot/save',
} as const;
