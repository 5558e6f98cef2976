import type { RequestHandler } from 'express';
import { Problem } from '../problem';

/**
 * Refuses a request that was sent to a name this server does not go by: a page of another site whose name was made to point here (DNS
 * rebinding) cannot read from it.
 * @param hosts names without ports; null lets every name in
 */
export function checkHost(hosts: readonly string[] | null): RequestHandler {
  const known = hosts && new Set(hosts.map((host) => host.toLowerCase()));
  return (request, _response, next) => {
    if (known !== null && !known.has((request.hostname ?? '').toLowerCase())) throw new Problem('wrong-host');
    next();
  };
}
