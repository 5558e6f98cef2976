import { type RouteSpec } from '../base/route';
import { dossier, getDossier } from './schemas';

export const dossierRoutes = {
  getDossier: {
    access: 'rep',
    summary: 'What a dossier shows first: record, steps, journal',
    query: getDossier,
    reply: dossier,
  },
} as const satisfies Record<string, RouteSpec>;
