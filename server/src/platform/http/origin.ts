import type { RequestHandler } from 'express';
import { Problem } from '../problem';

const readingMethods = new Set(['GET', 'HEAD', 'OPTIONS']);

/** Refuses a change that does not come from our own pages: its Origin must be the address the server is reached at. */
export function checkOrigin(publicOrigin: string | undefined): RequestHandler {
  return (request, _response, next) => {
    if (readingMethods.has(request.method)) return next();
    const own = publicOrigin ?? `${request.protocol}://${request.get('host') ?? ''}`;
    if (request.get('origin') !== own) throw new Problem('foreign-origin');
    next();
  };
}
