import { type RouteSpec } from '../base/route';
import { search, searchHits } from './schemas';

export const searchRoutes = {
  search: { access: 'rep', summary: 'Search across everything', query: search, reply: searchHits },
} as const satisfies Record<string, RouteSpec>;
