export const dealsEndpoints = {
  listDeals: 'GET /api/deals',
  pageDeals: 'GET /api/deals/page',
  countDeals: 'GET /api/deals/count',
  createDeal: 'POST /api/deals',
  getDeal: 'GET /api/deals/:id',
  changeDeal: 'PUT /api/deals/:id',
  closeDeal: 'POST /api/deals/:id/close',
  moveDeal: 'POST /api/deals/:id/move',
  reopenDeal: 'POST /api/deals/:id/reopen',
  undoClose: 'POST /api/deals/:id/undo-close',
  tickPrompt: 'POST /api/deals/:id/prompts',
  lettingGo: 'GET /api/deals/:id/letting-go',
} as const;
