import type { Feature } from '../../platform/feature';
import { talkRoutes } from './talk.routes';

export const talkFeature = { name: 'talk', routes: talkRoutes } satisfies Feature;
