import type { Feature } from '../../platform/feature';
import { dossierRoutes } from './dossier.routes';

export const dossierFeature = { name: 'dossier', routes: dossierRoutes } satisfies Feature;
