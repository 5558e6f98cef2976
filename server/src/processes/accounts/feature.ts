import type { Feature } from '../../platform/feature';
import { sweptAtOnce } from '../../platform/jobs/sweep';
import { accountNoticeKind } from '../../records/security/index';
import type { Services } from '../../platform/services';
import { accountNoticeJob } from './account-notice';
import { accountsRoutes } from './accounts.routes';
import { myAccountRoutes } from './my-account.routes';

export const accountsFeature = {
  name: 'accounts',
  routes: (services) => ({ ...accountsRoutes(services), ...myAccountRoutes(services) }),
  jobs: (services: Services) => ({ [accountNoticeKind]: accountNoticeJob(services) }),
  swept: [`DELETE FROM account_link WHERE expires_at < :now LIMIT ${sweptAtOnce}`],
} satisfies Feature;
