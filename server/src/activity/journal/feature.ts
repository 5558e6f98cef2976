import type { Feature } from '../../platform/feature';
import { journalRoutes } from './journal.routes';

export const journalFeature = { name: 'journal', routes: journalRoutes } satisfies Feature;
