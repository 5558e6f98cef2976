import type { Feature } from '../../platform/feature';
import { peopleRoutes } from './people.routes';

export const contactsFeature = { name: 'contacts', routes: peopleRoutes } satisfies Feature;
