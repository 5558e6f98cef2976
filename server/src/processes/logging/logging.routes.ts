import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { logAct } from './log-act';

export function loggingRoutes(services: Services): Pick<Handlers, 'log'> {
  return { log: ({ who, body }) => logAct(services, who, body) };
}
