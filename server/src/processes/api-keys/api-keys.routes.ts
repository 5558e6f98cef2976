import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { proveOwnPassword } from '../../records/users/index';
import { listKeys, makeKey, withdrawKey } from './api-keys';

export function apiKeysRoutes(
  services: Services,
): Pick<Handlers, 'apiKeys' | 'makeApiKey' | 'withdrawApiKey'> {
  const prove = proveOwnPassword(services);
  return {
    apiKeys: async ({ who }) => ({ keys: await listKeys(services, who) }),
    makeApiKey: async ({ who, body, request }) => {
      await prove(who, body.password);
      return makeKey(services, who, body, request.ip);
    },
    withdrawApiKey: ({ who, params, request }) => withdrawKey(services, who, params.id, request.ip),
  };
}
