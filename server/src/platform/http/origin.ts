import type { Request, RequestHandler } from 'express';
import { Problem } from '../problem';

const readingMethods = new Set(['GET', 'HEAD', 'OPTIONS']);

/**
 * Refuses a change that does not come from our own pages: its Origin must be the address the server is reached at.
 * @param hasKey whether a request proves itself by what no browser adds by itself; such a one comes from a program, which has no Origin
 */
export function checkOrigin(
  publicOrigin: string | undefined,
  hasKey: (request: Request) => boolean = () => false,
): RequestHandler {
  return (request, _response, next) => {
    if (readingMethods.has(request.method) || hasKey(request)) return next();
    const own = publicOrigin ?? `${request.protocol}://${request.get('host') ?? ''}`;
    if (request.get('origin') !== own) throw new Problem('foreign-origin');
    next();
  };
}
