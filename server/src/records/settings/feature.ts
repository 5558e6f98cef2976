import type { Feature } from '../../platform/feature';
import type { Services } from '../../platform/services';
import { journalSettingsRoutes } from './journal-settings.routes';
import { closeReasonsRoutes } from './close-reasons.routes';

export const settingsFeature = {
  name: 'settings',
  routes: (services: Services) => ({ ...journalSettingsRoutes(services), ...closeReasonsRoutes(services) }),
} satisfies Feature;
