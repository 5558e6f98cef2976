import type { QuoteId } from '@kettle/contract';
import { locale } from '@kettle/core/locale';
import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { work, type PersonWork } from '../../platform/work/work';
import { writePdf } from '../../records/documents/index';
import { changeSetting } from '../../records/settings/index';
import { todayOf, type SignedIn } from '../../records/users/index';
import { decideQuote } from './decide-quote';
import { makeContent } from './make-content';
import { readQuote, readQuoteRow, readQuotesOf } from './quote-rows';
import { quoteDocument } from './quote-document';
import { reviseQuote, sendQuote, withdrawQuote } from './send-quote';
import { changeQuote, createQuote, removeQuote } from './write-quote';

type Names =
  | 'listQuotes'
  | 'createQuote'
  | 'getQuote'
  | 'changeQuote'
  | 'removeQuote'
  | 'sendQuote'
  | 'reviseQuote'
  | 'withdrawQuote'
  | 'decideQuote'
  | 'quotePdf'
  | 'sellingSettings'
  | 'changeSellingSettings';

export function quotesRoutes(services: Services): Pick<Handlers, Names> {
  const { database, settings, clock } = services;
  /** Changes a quote, and answers with it as it is then. */
  const changing = async (who: SignedIn, id: QuoteId, act: (w: PersonWork) => Promise<void>) => {
    await work(services, who, act);
    return readQuote(services, who, id);
  };
  return {
    listQuotes: async ({ query, who }) => ({ quotes: await readQuotesOf(services, who, query.dealId) }),
    createQuote: async ({ body, who }) =>
      readQuote(services, who, await work(services, who, (w) => createQuote(w, body.dealId))),
    getQuote: ({ params, who }) => readQuote(services, who, params.id),
    changeQuote: ({ params: { id }, body, who }) => changing(who, id, (w) => changeQuote(w, id, body)),
    removeQuote: async ({ params, who }) => {
      await work(services, who, (w) => removeQuote(w, params.id));
      return { ok: true };
    },
    sendQuote: ({ params: { id }, body, who }) => changing(who, id, (w) => sendQuote(w, id, body)),
    reviseQuote: ({ params: { id }, body, who }) =>
      changing(who, id, (w) => reviseQuote(w, id, body.version)),
    withdrawQuote: ({ params: { id }, body, who }) =>
      changing(who, id, (w) => withdrawQuote(w, id, body.version)),
    decideQuote: ({ params: { id }, body, who }) => changing(who, id, (w) => decideQuote(w, id, body)),
    quotePdf: async ({ params, who, response }) => {
      const row = await readQuoteRow(database, params.id);
      const content = await makeContent(database, row, {
        settings: await settings.read(database),
        today: todayOf(services, who),
      });
      const bytes = await writePdf(
        services,
        quoteDocument(content, { language: locale(), madeAt: clock.now() }),
      );
      response
        .set(
          'Content-Disposition',
          `inline; filename="${content.number === '' ? 'quote' : content.number}.pdf"`,
        )
        .set('Cache-Control', 'no-store')
        .type('application/pdf')
        .send(bytes);
      return 'answered';
    },
    sellingSettings: async () => (await settings.read(database)).selling,
    changeSellingSettings: ({ body, who }) => changeSetting(services, who, { name: 'selling', body }),
  };
}
