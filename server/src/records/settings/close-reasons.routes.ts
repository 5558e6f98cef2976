import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { changeSetting } from './change-setting';

/** Reasons to choose from when deals close and leads are set aside. */
export function closeReasonsRoutes(
  services: Services,
): Pick<Handlers, 'closeReasons' | 'changeCloseReasons'> {
  return {
    closeReasons: async () => (await services.settings.read(services.database)).closeReasons,
    changeCloseReasons: ({ body, who }) => changeSetting(services, who, { name: 'closeReasons', body }),
  };
}
