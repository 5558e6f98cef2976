/** Cards of a Home. */
export const homeCardKinds = [
  'today',
  'team',
  'month',
  'forecast',
  'lanes',
  'standings',
  'leads',
  'renewals',
  'effort',
  'stirrings',
  'log',
  'view',
] as const;

export type HomeCardKind = (typeof homeCardKinds)[number];

/** Kinds that can show one's own or the team's. */
export const cardsOfTeams = [
  'month',
  'forecast',
  'lanes',
  'leads',
  'renewals',
  'log',
] as const satisfies HomeCardKind[];
