import type { Feature } from '../../platform/feature';
import { sweptAtOnce } from '../../platform/jobs/sweep';
import { sendHookKind } from './hear';
import { hooksRoutes } from './hooks.routes';
import { dueHooks, sendHookJob } from './send';

export const hooksFeature = {
  name: 'hooks',
  routes: hooksRoutes,
  jobs: (services) => ({ [sendHookKind]: sendHookJob(services) }),
  daily: dueHooks,
  swept: [
    `DELETE FROM hook_call WHERE made_at < :now - INTERVAL 30 DAY ORDER BY made_at LIMIT ${sweptAtOnce}`,
  ],
} satisfies Feature;
