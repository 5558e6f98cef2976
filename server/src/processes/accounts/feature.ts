import type { Feature } from '../../platform/feature';
import { sweptAtOnce } from '../../platform/jobs/sweep';
import { accountsRoutes } from './accounts.routes';
import { myAccountRoutes } from './my-account.routes';

export const accountsFeature = {
  name: 'accounts',
  routes: (services) => ({ ...accountsRoutes(services), ...myAccountRoutes(services) }),
  swept: [`DELETE FROM account_link WHERE expires_at < :now LIMIT ${sweptAtOnce}`],
} satisfies Feature;
