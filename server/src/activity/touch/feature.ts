import type { Feature } from '../../platform/feature';
import { touchFactsKind } from '../../records/settings/index';
import { touchFactsJob } from './touch-facts-job';

export const touchFeature = {
  name: 'touch',
  jobs: () => ({ [touchFactsKind]: touchFactsJob }),
} satisfies Feature;
