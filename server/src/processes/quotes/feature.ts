import type { Feature } from '../../platform/feature';
import { quotePageRoutes } from './quote-page';
import { quotesRoutes } from './quotes.routes';

export const quotesFeature = {
  name: 'quotes',
  routes: quotesRoutes,
  outside: { path: '/quotes', router: quotePageRoutes },
} satisfies Feature;
