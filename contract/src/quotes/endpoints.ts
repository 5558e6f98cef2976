export const quotesEndpoints = {
  listQuotes: 'GET /api/quotes',
  createQuote: 'POST /api/quotes',
  getQuote: 'GET /api/quotes/:id',
  changeQuote: 'PUT /api/quotes/:id',
  removeQuote: 'DELETE /api/quotes/:id',
  sendQuote: 'POST /api/quotes/:id/send',
  reviseQuote: 'POST /api/quotes/:id/revise',
  withdrawQuote: 'POST /api/quotes/:id/withdraw',
  decideQuote: 'POST /api/quotes/:id/decide',
  quotePdf: 'GET /api/quotes/:id/pdf',
  sellingSettings: 'GET /api/selling-settings',
  changeSellingSettings: 'PUT /api/selling-settings',
} as const;
