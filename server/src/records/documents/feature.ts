import type { Feature } from '../../platform/feature';
import { documentTasks } from './write';

/** Files that people take with them: pages and sheets. */
export const documentsFeature = { name: 'documents', heavy: documentTasks } satisfies Feature;
