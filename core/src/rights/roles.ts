import type { Role } from '@kettle/contract';

const rank: Readonly<Record<Role, number>> = { rep: 1, manager: 2, admin: 3 };

/** Whether a role may do what another may. */
export const isAtLeast = (role: Role, least: Role): boolean => rank[role] >= rank[least];
