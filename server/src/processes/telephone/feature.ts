import type { Feature } from '../../platform/feature';
import { telephoneRoutes } from './telephone.routes';
import type { Services } from '../../platform/services';
import { sendTextKind } from '../../activity/outbox/index';
import { sendTextJob } from './outgoing-texts';

export const telephoneFeature = {
  name: 'telephone',
  routes: telephoneRoutes,
  jobs: (services: Services) => ({ [sendTextKind]: sendTextJob(services) }),
} satisfies Feature;
