import type { Feature } from '../../platform/feature';
import { contactsRoutes } from './contacts.routes';

export const contactsFeature = { name: 'contacts', routes: contactsRoutes } satisfies Feature;
