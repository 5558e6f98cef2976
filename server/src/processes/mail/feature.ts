import type { Feature } from '../../platform/feature';
import { mailRoutes } from './mail.routes';
import type { Services } from '../../platform/services';
import { sendMailKind } from '../../activity/outbox/index';
import { readArrivalJob } from './read-arrival';
import { sendMailJob } from './send-mail';
import { readArrivalKind } from './store-arrival';

export const mailFeature = {
  name: 'mail',
  routes: mailRoutes,
  jobs: (services: Services) => ({
    [sendMailKind]: sendMailJob(services),
    [readArrivalKind]: readArrivalJob,
  }),
} satisfies Feature;
