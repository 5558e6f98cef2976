import type { HomeCard, HomeCardKind, Role } from '@kettle/contract';

/** Kind, columns of three, and whose: what ships for each role. Ids need only differ within one Home. */
const shipped: Readonly<Record<Role, readonly (readonly [HomeCardKind, number, HomeCard['whose']])[]>> = {
  rep: [
    ['today', 2, 'mine'],
    ['month', 1, 'mine'],
    ['lanes', 2, 'mine'],
    ['stirrings', 1, 'mine'],
    ['forecast', 1, 'mine'],
    ['leads', 1, 'mine'],
    ['renewals', 1, 'mine'],
    ['log', 2, 'team'],
    ['standings', 1, 'mine'],
  ],
  manager: [
    ['team', 3, 'team'],
    ['month', 2, 'team'],
    ['forecast', 1, 'team'],
    ['effort', 2, 'team'],
    ['renewals', 1, 'team'],
    ['lanes', 2, 'team'],
    ['leads', 1, 'team'],
    ['log', 3, 'team'],
  ],
  admin: [
    ['team', 3, 'team'],
    ['month', 2, 'team'],
    ['forecast', 1, 'team'],
    ['effort', 2, 'team'],
    ['leads', 1, 'team'],
    ['log', 3, 'team'],
  ],
};

export const shippedHome = (role: Role): HomeCard[] =>
  shipped[role].map(([kind, width, whose], at) => ({
    id: `00000000-0000-7000-8000-${String(at + 1).padStart(12, '0')}`,
    kind,
    width,
    whose,
    viewId: null,
    as: 'list',
  }));
