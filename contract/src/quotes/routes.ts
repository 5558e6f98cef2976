import * as z from 'zod';
import { dealId, quoteId } from '../base/ids';
import { byId, nothing, ok, type RouteSpec } from '../base/route';
import { version } from '../base/values';
import {
  changeQuote,
  changeSellingSettings,
  createQuote,
  decideQuote,
  quote,
  quoteSummary,
  sellingSettings,
  sendQuote,
} from './schemas';

const params = byId.extend({ id: quoteId });
const seen = z.object({ version });

export const quotesRoutes = {
  listQuotes: {
    access: 'rep',
    summary: 'The quotes of a deal, the newest first',
    query: z.object({ dealId }),
    reply: z.object({ quotes: z.array(quoteSummary) }),
  },
  createQuote: {
    access: 'rep',
    summary: 'A draft of a quote from a deal’s product lines',
    body: createQuote,
    reply: quote,
  },
  getQuote: {
    access: 'rep',
    summary: 'A quote with its lines and what was said to it',
    params,
    reply: quote,
  },
  changeQuote: { access: 'rep', summary: 'Change a draft', params, body: changeQuote, reply: quote },
  removeQuote: { access: 'rep', summary: 'Delete a draft that was never sent', params, reply: ok },
  sendQuote: {
    access: 'rep',
    summary: 'Send a quote: it gets its number, and a link for the customer',
    params,
    body: sendQuote,
    reply: quote,
  },
  reviseQuote: {
    access: 'rep',
    summary: 'Make a draft again of a quote that is out, for another version of it',
    params,
    body: seen,
    reply: quote,
  },
  withdrawQuote: { access: 'rep', summary: 'Withdraw a quote that is out', params, body: seen, reply: quote },
  decideQuote: {
    access: 'rep',
    summary: 'Say what the customer said to a quote',
    params,
    body: decideQuote,
    reply: quote,
  },
  quotePdf: { access: 'rep', summary: 'A quote as PDF', params, perHour: 300, reply: nothing },
  sellingSettings: {
    access: 'rep',
    summary: 'Who sells, and what quotes begin with',
    reply: sellingSettings,
  },
  changeSellingSettings: {
    access: 'admin',
    summary: 'Change who sells, and what quotes begin with',
    body: changeSellingSettings,
    reply: sellingSettings,
  },
} as const satisfies Record<string, RouteSpec>;
